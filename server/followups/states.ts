import type { FollowupState, StateChange } from '../../contract/followups.ts'
import type { Instant } from '../../core/audience/people/activity.ts'
import type { Program } from '../../core/followups/program.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound, Problem } from '../http/problems.ts'
import { leaveFollowups } from './leaving.ts'
import { lookAtMembers } from './members.ts'

/** From which states each change leads, and to which. */
const changes: Record<StateChange['do'], { from: FollowupState[]; to: FollowupState }> = {
  pause: { from: ['live', 'closing'], to: 'paused' },
  resume: { from: ['paused'], to: 'live' },
  close: { from: ['live', 'paused'], to: 'closing' },
  reopen: { from: ['closing'], to: 'live' },
  archive: { from: ['draft', 'live', 'paused', 'closing'], to: 'archived' },
  unarchive: { from: ['archived'], to: 'paused' },
}

/** Who waits in the follow-up `$1`: until when on the business's clock, and how much of the pause they had until `$2`. */
const waiting = `select enrolment.id, due_at - clock_ahead * interval '1 millisecond' due,
    $2::timestamptz - greatest(paused_at, started_at) late
  from enrolment join followup on followup.id = followup_id join contact on contact.id = contact_id
  where followup_id = $1 and ended_at is null and due_at is not null`

/**
 * Lets a paused follow-up go on. `shift`: every wait is longer by the pause. `catchUp`: what became due meanwhile comes
 * now, and what comes after it as far apart as planned, so that nobody gets a heap of emails at once.
 */
export async function resume(q: Queries, id: number, how: 'catchUp' | 'shift', now: Instant): Promise<void> {
  const at = new Date(now)
  await q.rows(
    how === 'shift'
      ? // Who was woken by what they did meanwhile is looked at now.
        `update enrolment set due_at = due_at + late, shifted = shifted + extract(epoch from late) * 1000,
           wakes_at = case when wakes_at < due then $2 else wakes_at + late end
         from (${waiting}) waiting where enrolment.id = waiting.id`
      : `update enrolment set shifted = shifted + extract(epoch from $2::timestamptz - due) * 1000
         from (${waiting}) waiting where enrolment.id = waiting.id and due < $2`,
    [id, at],
  )
  await q.rows(`update followup set state = 'live', paused_at = null where id = $1`, [id])
}

/** Pauses a follow-up, lets it go on, closes it to new people, or puts it away. @throws Problem 404, 409 */
export async function changeState(
  platform: Platform,
  id: number,
  wish: StateChange,
  by: string,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const now = platform.clock.now()
    const found = await tx.row<{ state: FollowupState; program: Program; published: number | null }>(
      'select state, program, published_version published from followup where id = $1 for no key update',
      [id],
    )
    if (!found) throw notFound('This follow-up')
    const { from, to } = changes[wish.do]
    if (!from.includes(found.state))
      throw new Problem(409, `This follow-up is ${found.state}`, 'Somebody may have changed it: look again.')
    if (wish.do === 'resume') await resume(tx, id, wish.how, now)
    else
      await tx.rows(`update followup set state = $2, paused_at = $3, archived_at = $4 where id = $1`, [
        id,
        to === 'paused' && found.published === null ? 'draft' : to,
        to === 'paused' ? new Date(now) : null,
        to === 'archived' ? new Date(now) : null,
      ])
    if (wish.do === 'archive') {
      const inside = await tx.rows<{ contact: number }>(
        `select contact.id contact from enrolment join contact on contact.id = contact_id
         where followup_id = $1 and ended_at is null order by contact.id for no key update of contact`,
        [id],
      )
      const reason = `the follow-up was archived by ${by}`
      await leaveFollowups(
        tx,
        inside.map(({ contact }) => ({ followup: id, contact, reason, at: now })),
      )
    }
    // Who came into a segment meanwhile did not come in while it ran.
    if (wish.do === 'resume' || wish.do === 'reopen')
      await lookAtMembers(tx, { id, program: found.program }, now, { first: true })
    await announce(tx, 'followups', 'audience')
  })
}
