import type { Logger } from 'pino'
import type { Instant } from '../../core/audience/people/activity.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'
import type { ClaimedEnrolment } from './claimedEnrolment.ts'

const longestReason = 200

/** What went wrong, in a line that a person can read. */
const reasonOf = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).split('\n')[0]?.slice(0, longestReason) ?? ''

/** Sets somebody aside whose step failed: they stay where they are until somebody tries again. */
export async function setAside(
  q: Queries,
  { id, contact, step, clockAhead, followup }: ClaimedEnrolment,
  error: unknown,
  now: Instant,
  log: Logger,
): Promise<void> {
  const reason = reasonOf(error)
  log.error({ err: error, enrolment: id, followup, step }, 'an enrolment was set aside')
  await q.rows('update enrolment set set_aside_at = $2, problem = $3 where id = $1', [
    id,
    new Date(now),
    reason,
  ])
  await q.rows(
    `insert into decision (enrolment_id, contact_id, step, outcome, reason, at) values ($1, $2, $3, 'setAside', $4, $5)`,
    [id, contact, step, reason, new Date(now + clockAhead)],
  )
}

/** Follow-ups in which somebody was set aside. */
export interface SetAside {
  followup: number
  name: string
  people: number
  problem: string
}

/** Who was set aside, by follow-up; somebody in rehearsal is somebody's to look at too. */
export function listSetAside(q: Queries): Promise<SetAside[]> {
  return q.rows<SetAside>(
    `select followup.id followup, followup.name, count(*) people, min(problem) problem
     from enrolment join followup on followup.id = followup_id
     where set_aside_at is not null and ended_at is null group by 1, 2 order by 2`,
  )
}

/** Lets everybody who was set aside in a follow-up try their step again. @throws Problem 409 when nobody was */
export async function retrySetAside(platform: Platform, followup: number): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const back = await tx.rows(
      `update enrolment set set_aside_at = null, problem = null,
         wakes_at = coalesce(wakes_at, $2) where followup_id = $1 and set_aside_at is not null and ended_at is null
       returning id`,
      [followup, new Date(platform.clock.now())],
    )
    if (back.length === 0)
      throw new Problem(409, 'Nobody is set aside here', 'Everyone in this follow-up continues on their own.')
    await announce(tx, 'followups')
  })
}
