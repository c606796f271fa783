import { DateTime } from 'luxon'
import type { JumpResult } from '../../contract/followups.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { contactById, personNow } from '../audience/people/contacts.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'
import { advanceDue } from './advancing.ts'

/**
 * Makes a person a rehearsal person or an ordinary one again. Somebody whose clock has run ahead stays in
 * rehearsal: their history lies in a time that has not come.
 * @throws Problem 404, 409
 */
export async function setRehearsal(platform: Platform, contactId: number, on: boolean): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, contactId, 'change')
    if (!on && contact.clockAhead > 0)
      throw new Problem(
        409,
        'This person cannot leave rehearsal',
        'Their clock has already jumped ahead. Use another address for the real person.',
      )
    await tx.rows('update contact set rehearsal = $2 where id = $1', [contactId, on])
    await announce(tx, 'audience', 'followups')
  })
}

/**
 * Moves a rehearsal person's clock to the next moment at which something is due for them, and lets the
 * engine run. Their own emails that still wait to be sent are not overtaken.
 * @throws Problem 404, 409 when the person is not in rehearsal or nothing is due
 */
export async function jumpToNext(platform: Platform, contactId: number): Promise<JumpResult> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await contactById(tx, contactId, 'change')
    if (!contact.rehearsal)
      throw new Problem(
        409,
        'This person is not in rehearsal',
        'Only rehearsal people have a clock of their own. Mark this person as rehearsal first.',
      )
    const next = await tx.row<{ due: Date | null }>(
      'select min(due_at) due from enrolment where contact_id = $1 and ended_at is null',
      [contactId],
    )
    if (!next?.due) throw new Problem(409, 'Nothing is due', 'This person is not waiting for anything.')
    const ahead = Math.max(contact.clockAhead, next.due.getTime() - platform.clock.now())
    await tx.rows('update contact set clock_ahead = $2 where id = $1', [contactId, ahead])
    await tx.rows(
      `update enrolment set wakes_at = due_at - make_interval(secs => $2::float8 / 1000)
       where contact_id = $1 and ended_at is null and due_at is not null`,
      [contactId, ahead],
    )
    const to = DateTime.fromMillis(platform.clock.now() + ahead, { zone: 'utc' }).toISO() ?? ''
    await recordActivities(tx, [
      { contact: contactId, kind: 'clockMoved', at: platform.clock.now() + ahead, details: { to } },
    ])
    await announce(tx, 'audience', 'followups')
  })
  const moved = await advanceDue(platform, contactId)
  const now = personNow(platform.clock, await contactById(platform.database, contactId))
  return { now: new Date(now).toISOString(), moved }
}
