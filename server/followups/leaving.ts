import type { Instant } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { Queries } from '../database/connect.ts'

/**
 * Takes somebody out of a follow-up, in the transaction of `q`, which has locked the person: nothing more of it is sent,
 * and the journal says why. Who is not in it stays as they are.
 */
export async function leaveFollowup(
  q: Queries,
  { followup, contact, reason, at }: { followup: number; contact: number; reason: string; at: Instant },
): Promise<void> {
  const left = await q.rows<{ id: number }>(
    `with inside as (select id, step from enrolment
       where followup_id = $1 and contact_id = $2 and ended_at is null for update),
     left_now as (update enrolment set step = null, due_at = null, wakes_at = null, ended_at = $3
       from inside where enrolment.id = inside.id),
     told as (insert into decision (enrolment_id, contact_id, step, outcome, reason, at)
       select id, $2, step, 'left', $4, $3 from inside),
     held as (update message set state = 'held', problem = $4
       from inside where enrolment_id = inside.id and state = 'queued')
     select id from inside`,
    [followup, contact, new Date(at), reason],
  )
  await recordActivities(
    q,
    left.map(({ id }) => ({ contact, kind: 'followupEnded', at, details: { followup, enrolment: id } })),
  )
}
