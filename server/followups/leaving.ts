import type { Instant } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { Queries } from '../database/connect.ts'

/** Somebody who is to leave a follow-up. */
export interface Leaving {
  followup: number
  contact: number
  /** As the journal says it. */
  reason: string
  at: Instant
}

/**
 * Takes people out of follow-ups, in the transaction of `q`, which has locked them: nothing more of it is sent, and
 * the journal says why. Who is not in it stays as they are.
 * @returns how many left
 */
export async function leaveFollowups(q: Queries, leaving: readonly Leaving[]): Promise<number> {
  if (leaving.length === 0) return 0
  const left = await q.rows<{ id: number; contact: number; followup: number; at: Date }>(
    `with inside as (select id, step, contact_id, followup_id, reason, at from enrolment
         join unnest($1::bigint[], $2::bigint[], $3::text[], $4::timestamptz[]) t (followup, contact, reason, at)
           on followup_id = followup and contact_id = contact
       where ended_at is null order by id for update of enrolment),
     left_now as (update enrolment set step = null, due_at = null, wakes_at = null, ended_at = inside.at
       from inside where enrolment.id = inside.id),
     told as (insert into decision (enrolment_id, contact_id, step, outcome, reason, at)
       select id, contact_id, step, 'left', reason, at from inside),
     held as (update message set state = 'held', problem = inside.reason
       from inside where enrolment_id = inside.id and state = 'queued')
     select id, contact_id contact, followup_id followup, at from inside`,
    [
      leaving.map(({ followup }) => followup),
      leaving.map(({ contact }) => contact),
      leaving.map(({ reason }) => reason),
      leaving.map(({ at }) => new Date(at)),
    ],
  )
  await recordActivities(
    q,
    left.map(({ id, contact, followup, at }) => ({
      contact,
      kind: 'followupEnded',
      at: at.getTime(),
      details: { followup, enrolment: id },
    })),
  )
  return left.length
}

/** The same for one person. */
export async function leaveFollowup(q: Queries, leaving: Leaving): Promise<void> {
  await leaveFollowups(q, [leaving])
}
