import type { GoLive, GoingLivePreview } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { describeStep } from '../../core/followups/sentences.ts'
import { indexSteps, survivorOf } from '../../core/followups/track.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { emailDrafts } from '../email/emailDrafts.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'
import { followupDrafts } from './followupDrafts.ts'
import { loadProgramContext } from './programContext.ts'
import { lookAtMembers } from './members.ts'
import { resume } from './states.ts'
import { writeWakings } from './waking.ts'

interface Running {
  state: string
  program: Program
  published: number | null
}

async function running(q: Queries, id: number, lock = false): Promise<Running> {
  await followupDrafts.thing(q, id)
  const found = await q.row<Running>(
    `select state, program, published_version published from followup where id = $1 ${lock ? 'for no key update' : ''}`,
    [id],
  )
  if (!found) throw new Error('a follow-up vanished')
  return found
}

/** Where the people on each step go when another program takes its place; null when they leave. */
async function placesAfter(
  q: Queries,
  id: number,
  before: Program,
  after: Program,
): Promise<{ step: string; people: number; to: string | null }[]> {
  const standing = await q.rows<{ step: string; people: number }>(
    `select step, count(*)::int people from enrolment where followup_id = $1 and ended_at is null group by 1 order by 1`,
    [id],
  )
  const [old, fresh] = [indexSteps(before), indexSteps(after)]
  return standing.map(({ step, people }) => ({ step, people, to: survivorOf(old, fresh, step) }))
}

/** What going live would do to those inside, step by step. */
export async function previewGoingLive(q: Queries, id: number): Promise<GoingLivePreview> {
  const { program, published } = await running(q, id)
  const { content } = await followupDrafts.newest(q, id)
  const { names } = await loadProgramContext(q, [program, content])
  const titleIn = (of: Program, step: string | null): string | null => {
    const found = step === null ? undefined : indexSteps(of).get(step)?.step
    return found ? describeStep(found, names).title : null
  }
  const places = published === null ? [] : await placesAfter(q, id, program, content)
  return places.map(({ step, people, to }) => ({
    step: titleIn(program, step) ?? step,
    people,
    to: titleIn(content, to),
    stays: step === to,
  }))
}

/** Puts those whose step is gone on the next one that survives, and says so in their journal. */
async function keepPlaces(
  q: Queries,
  id: number,
  before: Program,
  after: Program,
  { by, at }: Doing,
): Promise<void> {
  const moved = (await placesAfter(q, id, before, after)).filter(({ step, to }) => step !== to)
  if (moved.length === 0) return
  const { names } = await loadProgramContext(q, [before, after])
  const words = (of: Program, step: string): string => {
    const found = indexSteps(of).get(step)?.step
    return found ? describeStep(found, names).title : step
  }
  await q.rows(
    `with moved as (
       select id, contact_id, enrolment.step was, m.step_to, m.reason from enrolment
       join unnest($2::text[], $3::text[], $4::text[]) m (step, step_to, reason) on m.step = enrolment.step
       where followup_id = $1 and ended_at is null order by id for update of enrolment),
     placed as (
       update enrolment set step = coalesce(step_to, enrolment.step), due_at = null, wakes_at = $5
       from moved where enrolment.id = moved.id)
     insert into decision (enrolment_id, contact_id, step, outcome, reason, at)
     select id, contact_id, was, 'moved', reason, $5 from moved`,
    [
      id,
      moved.map(({ step }) => step),
      moved.map(({ to }) => to),
      moved.map(({ step, to }) =>
        to === null
          ? `${words(before, step)} was taken out by ${by}, and nothing comes after it`
          : `${words(before, step)} was taken out by ${by}: on to ${words(after, to)}`,
      ),
      at,
    ],
  )
}

/** Publishes the drafts among the emails that it sends, as far as they are ready. @throws Problem 422 with those that are not */
async function publishEmails(q: Queries, ids: readonly number[], doing: Doing): Promise<void> {
  for (const id of ids) {
    const { number, revision } = await emailDrafts.newest(q, id)
    const { name, publishedVersion } = await emailDrafts.thing(q, id)
    if (publishedVersion === number) continue
    try {
      await emailDrafts.publish(q, id, { version: number, revision }, doing)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      throw new Problem(422, `“${name}” is not ready`, error.detail)
    }
  }
}

/** Makes the newest version what runs, in the transaction of `q`. @throws as `goLive` */
export async function goLiveIn(q: Queries, id: number, wish: GoLive, doing: Doing): Promise<void> {
  const before = await running(q, id, true)
  await publishEmails(q, wish.publish, doing)
  await followupDrafts.publish(q, id, wish, doing)
  const { content } = await followupDrafts.newest(q, id)
  // Where it is paused it stays so until somebody says how it goes on.
  const state = before.state === 'paused' || before.state === 'closing' ? before.state : 'live'
  await q.rows('update followup set program = $2, state = $3 where id = $1', [
    id,
    JSON.stringify(content),
    state,
  ])
  if (before.published !== null) await keepPlaces(q, id, before.program, content, doing)
  await writeWakings(q, id, content)
  await lookAtMembers(q, { id, program: content }, doing.at.getTime(), { first: true })
  if (wish.resume && before.state === 'paused') await resume(q, id, wish.resume, doing.at.getTime())
  await announce(q, 'followups', 'audience')
}

/**
 * Makes the newest version what runs, in one transaction: people keep their places, and nobody gets an email twice.
 * @throws Problem 409 when somebody has changed it meanwhile, 422 when its check found errors
 */
export const goLive = (platform: Platform, id: number, wish: GoLive, by: string): Promise<void> =>
  platform.database.inTransaction((tx) => goLiveIn(tx, id, wish, { by, at: new Date(platform.clock.now()) }))
