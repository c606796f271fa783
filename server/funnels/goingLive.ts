import { emailsOf } from '../../core/followups/step.ts'
import { pagesOf } from '../../core/funnels/funnel.ts'
import type { Doing, Drafts } from '../blocks/drafts.ts'
import { formDrafts } from '../capture/formDrafts.ts'
import { popUpDrafts } from '../capture/popUps.ts'
import type { Queries } from '../database/connect.ts'
import { followupDrafts } from '../followups/followupDrafts.ts'
import { goLiveIn } from '../followups/goingLive.ts'
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
  await publish(pageDrafts, line.flatMap(pagesOf))
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
 * Opens a funnel with all of it that is a draft, in a transaction: to everybody, or to people in rehearsal first. As a
 * draft again it leads nobody on, and its pages stay live.
 * @throws Problem 404; 409 with what keeps it from going live
 */
export async function openFunnel(q: Queries, id: number, to: OpenTo, doing: Doing): Promise<void> {
  // Who presses twice waits for the first press, and finds nothing left to do.
  await q.rows('select from funnel where id = $1 for update', [id])
  const { line } = await funnelById(q, id)
  const drafts = await q.rows<{ id: number }>(
    'select id from page where id = any($1) and published_version is null',
    [line.flatMap(pagesOf)],
  )
  if (to !== 'nobody') {
    await refuseFaulty(q, id, doing.at)
    await publishDrafts(q, id, doing)
  }
  await q.rows(
    `update funnel set live_at = case when $2 = 'everybody' then coalesce(live_at, $3) end,
       rehearsal_pages = case when $2 = 'rehearsal' then rehearsal_pages || $4::bigint[] else '{}' end,
       faults = 0, checked_at = null
     where id = $1`,
    [id, to, doing.at, drafts.map((each) => each.id)],
  )
  if (to === 'everybody') await queueJobs(q, 'checkFunnels', [{}])
  await tell(q)
}
