import { emailsOf } from '../../core/followups/step.ts'
import { pagesOf } from '../../core/funnels/funnel.ts'
import type { Doing, Drafts } from '../blocks/drafts.ts'
import { formDrafts } from '../capture/formDrafts.ts'
import { popUpDrafts } from '../capture/popUps.ts'
import { productDrafts } from '../commerce/productDrafts.ts'
import type { Queries } from '../database/connect.ts'
import { followupDrafts } from '../followups/followupDrafts.ts'
import { goLiveIn } from '../followups/goingLive.ts'
import { junctionDrafts } from '../junctions/junctionDrafts.ts'
import { quizDrafts } from '../quizzes/quizDrafts.ts'
import { soldOn } from './soldProducts.ts'
import { sorterIds } from './sortersOn.ts'
import { Problem } from '../http/problems.ts'
import { pageDrafts } from '../pages/drafts.ts'
import { queueJobs } from '../work/jobs.ts'
import { refuseFaulty } from './checking.ts'
import { funnelById, tell } from './funnels.ts'
import { gatherOwn } from './gathering.ts'

/** What of a funnel is still a draft goes live with it; what was published before stays as it is published. */
async function publishDrafts(q: Queries, id: number, doing: Doing): Promise<void> {
  const publish = async <C>(drafts: Drafts<C>, ids: readonly number[]): Promise<void> => {
    for (const each of ids) {
      const { publishedVersion } = await drafts.thing(q, each)
      if (publishedVersion !== null) continue
      const { number, revision } = await drafts.newest(q, each)
      await drafts.publish(q, each, { version: number, revision }, doing)
    }
  }
  const { line } = await funnelById(q, id)
  const { forms, popUps, followups } = await gatherOwn(q, id)
  await publish(
    formDrafts,
    forms.map((each) => each.id),
  )
  await publish(
    popUpDrafts,
    popUps.map((each) => each.id),
  )
  const pages = line.flatMap(pagesOf)
  const sold = await soldOn(q, pages)
  // What products bring may be a page of the line, and what order pages sell is on sale by then.
  await publish(
    pageDrafts,
    pages.filter((page) => !sold.has(page)),
  )
  await publish(productDrafts, [...new Set([...sold.values()].flat())])
  await publish(
    pageDrafts,
    pages.filter((page) => sold.has(page)),
  )
  await publish(quizDrafts, sorterIds(line, 'quiz'))
  // What they lead to is live by now.
  await publish(junctionDrafts(null), sorterIds(line, 'junction'))
  for (const { id: followup, content } of followups) {
    const { publishedVersion } = await followupDrafts.thing(q, followup)
    if (publishedVersion !== null) continue
    const { number: version, revision } = await followupDrafts.newest(q, followup)
    await goLiveIn(q, followup, { version, revision, publish: emailsOf(content) }, doing)
  }
}

/** For whom a funnel is open: nobody, people in rehearsal, or everybody. */
export type OpenTo = 'nobody' | 'rehearsal' | 'everybody'

/**
 * Ends a rehearsal without going live, in a transaction: the pages that only it has published are drafts again, so that
 * nobody sees them before their time.
 */
export async function endRehearsal(q: Queries, id: number): Promise<void> {
  await q.rows(
    `update page set published_version = null, published_at = null, published_by = null
     where id = any(select unnest(rehearsal_pages) from funnel where id = $1)`,
    [id],
  )
  await q.rows(`update funnel set rehearsal_pages = '{}' where id = $1`, [id])
}

/**
 * Opens a funnel with all of it that is a draft, in a transaction: to everybody, or to people in rehearsal first. As a
 * draft again it leads nobody on, and its pages stay live; after a rehearsal they are drafts again, too.
 * @throws Problem 404; 409 with what keeps it from going live, or when it is live and cannot be rehearsed first
 */
export async function openFunnel(q: Queries, id: number, to: OpenTo, doing: Doing): Promise<void> {
  // Who presses twice waits for the first press, and finds nothing left to do.
  await q.rows('select from funnel where id = $1 for update', [id])
  const { line, state } = await funnelById(q, id)
  if (to === 'rehearsal' && state === 'live')
    throw new Problem(409, 'This funnel is live', 'Everybody can see it, also people in rehearsal.')
  const pages = line.flatMap(pagesOf)
  const drafts = await q.rows<{ id: number }>(
    'select id from page where id = any($1) and published_version is null',
    [pages],
  )
  if (to === 'nobody') await endRehearsal(q, id)
  else {
    await refuseFaulty(q, id, doing.at)
    await publishDrafts(q, id, doing)
  }
  if (to === 'rehearsal')
    await q.rows('update funnel set rehearsal_pages = rehearsal_pages || $2::bigint[] where id = $1', [
      id,
      drafts.map((each) => each.id),
    ])
  if (to === 'everybody')
    // Also those that another funnel rehearses: they are live now.
    await q.rows(
      `update funnel set rehearsal_pages = array(select unnest(rehearsal_pages) except select unnest($1::bigint[]))
       where rehearsal_pages && $1::bigint[]`,
      [pages],
    )
  await q.rows(
    `update funnel set live_at = case when $2 = 'everybody' then coalesce(live_at, $3) end,
       faults = 0, checked_at = null where id = $1`,
    [id, to, doing.at],
  )
  if (to === 'everybody') await queueJobs(q, 'checkFunnels', [{}])
  await tell(q)
}

/** Puts a funnel away, or brings it back, in a transaction. @throws Problem 404 */
export async function archiveFunnel(q: Queries, id: number, archived: boolean, at: Date): Promise<void> {
  await funnelById(q, id)
  if (archived) await endRehearsal(q, id)
  await q.rows('update funnel set archived_at = $2 where id = $1', [id, archived ? at : null])
  await tell(q)
}

/** Deletes the line, in a transaction; what stood on it stays. @throws Problem 404 */
export async function deleteFunnel(q: Queries, id: number): Promise<void> {
  await funnelById(q, id)
  await endRehearsal(q, id)
  await q.rows('delete from funnel where id = $1', [id])
  await tell(q)
}
