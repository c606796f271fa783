import { setTimeout } from 'node:timers/promises'
import type { JumpRequest, JumpResult } from '../../contract/followups.ts'
import type { Instant } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { contactById, personNow, type Contact, type ContactLock } from '../audience/people/contacts.ts'
import { noticeCrossings } from '../audience/scores/scoring.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'
import type { JobName } from '../work/jobs.ts'
import { advanceDue } from './advancing.ts'
import { lookAtDatesOf } from './members.ts'

/** Somebody in rehearsal. @throws Problem 404, 409 when they are not */
export async function rehearsingContact(q: Queries, id: number, lock?: ContactLock): Promise<Contact> {
  const contact = await contactById(q, id, lock)
  if (!contact.rehearsal)
    throw new Problem(
      409,
      'This person is not in rehearsal',
      'Only rehearsal people have a clock of their own. Mark this person as rehearsal first.',
    )
  return contact
}

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
    // What they have left open goes by their clock from now on.
    await tx.rows('update cart set rehearsal = $2 where contact_id = $1 and ordered_at is null', [
      contactId,
      on,
    ])
    await announce(tx, 'audience', 'followups')
  })
}

/** A clock goes ahead by so much at most: whoever looks further has mistyped a year. */
const furthest = 5 * 365 * 86_400_000

/** What went to them, and what their doings set off, is done before their clock goes on; so long is waited. */
const patience = 5_000

/** The jobs by which something happens to a person. What is only reported elsewhere holds no clock up. */
const moving: readonly JobName[] = ['startFollowups', 'scorePeople']

/**
 * Waits for the mail and the starts that are due for somebody now. A job that failed, and is tried again later, is not.
 * @throws Problem 409 while something is still on its way
 */
export async function waitForWhatIsUnderWay({ database, clock }: Platform, contact: number): Promise<void> {
  const isUnderWay = async (): Promise<boolean> =>
    (await database.row(
      `select where exists (select from message where contact_id = $1::bigint and state in ('queued', 'waiting') and due_at <= $2)
         or exists (select from graphile_worker._private_jobs job join graphile_worker._private_tasks task on task.id = task_id
           where identifier = any($3) and run_at <= now() and attempts < max_attempts
             and (payload::jsonb @> jsonb_build_object('contact', $1::bigint)
               or payload::jsonb->'contacts' @> to_jsonb($1::bigint)))`,
      [contact, new Date(clock.now()), moving],
    )) !== undefined
  const until = performance.now() + patience
  while (await isUnderWay()) {
    if (performance.now() > until)
      throw new Problem(
        409,
        'Something is still on its way to them',
        'An email or a start has not been dealt with yet. Look into the Outbox, then try again.',
      )
    await setTimeout(100)
  }
}

/** The next moment, on their own clock, at which something happens to them by itself. */
async function nextMoment(q: Queries, { id, clockAhead }: Contact, now: Instant): Promise<Instant | null> {
  const next = await q.row<{ at: Date | null }>(
    `select min(at) at from (
       select due_at at from enrolment join followup on followup.id = followup_id
       where contact_id = $1 and ended_at is null and set_aside_at is null and followup.state in ('live', 'closing')
       union all select crosses_at from contact_score where contact_id = $1
       union all select due_at + $2 * interval '1 millisecond' from message
       where contact_id = $1 and state in ('queued', 'waiting') and due_at > $3) moments`,
    [id, clockAhead, new Date(now)],
  )
  return next?.at?.getTime() ?? null
}

/** Sets a rehearsal person's clock; what waits for a moment of theirs waits as much less. */
async function setAhead(q: Queries, contact: Contact, ahead: number): Promise<void> {
  await q.rows('update contact set clock_ahead = $2 where id = $1', [contact.id, ahead])
  await q.rows(
    `update enrolment set wakes_at = due_at - make_interval(secs => $2::float8 / 1000)
     where contact_id = $1 and ended_at is null and due_at is not null`,
    [contact.id, ahead],
  )
  await q.rows(
    `update message set due_at = due_at - make_interval(secs => $2::float8 / 1000)
     where contact_id = $1 and state in ('queued', 'waiting')`,
    [contact.id, ahead - contact.clockAhead],
  )
}

/**
 * Moves a rehearsal person's clock to the next moment at which something is due for them, and lets happen what happens
 * then; no further than to `until`. Their own emails are not overtaken.
 * @throws Problem 404; 409 when the person is not in rehearsal, nothing is due, or `until` lies behind them
 */
export async function jump(platform: Platform, contact: number, request: JumpRequest): Promise<JumpResult> {
  await rehearsingContact(platform.database, contact)
  await waitForWhatIsUnderWay(platform, contact)
  return moveClock(platform, contact, request)
}

/** The jump itself, whatever is still under way. */
export async function moveClock(
  platform: Platform,
  contactId: number,
  { until }: JumpRequest,
): Promise<JumpResult> {
  const { database, clock } = platform
  const wanted = until === undefined ? null : Date.parse(until)
  const contact = await database.inTransaction(async (tx) => {
    const before = await rehearsingContact(tx, contactId, 'change')
    const now = clock.now()
    const from = personNow(clock, before)
    if (wanted !== null && wanted <= from)
      throw new Problem(
        409,
        'That moment is behind them',
        'A rehearsal clock only goes on. Choose a later moment, or start over with them.',
      )
    if (wanted !== null && wanted > now + furthest)
      throw new Problem(409, 'That is too far ahead', 'Choose a moment within the next five years.')
    const next = await nextMoment(tx, before, now)
    if (next === null && wanted === null)
      throw new Problem(409, 'Nothing is due', 'This person is not waiting for anything.')
    const to = Math.max(from, Math.min(next ?? Infinity, wanted ?? Infinity))
    const ahead = to - now
    await setAhead(tx, before, ahead)
    await recordActivities(tx, [
      { contact: contactId, kind: 'clockMoved', at: to, details: { to: new Date(to).toISOString() } },
    ])
    await lookAtDatesOf(tx, { contact: contactId, ahead }, now)
    await announce(tx, 'audience', 'followups')
    return { ...before, clockAhead: ahead }
  })
  await noticeCrossings(platform, { contact: contactId, now: personNow(clock, contact) })
  const moved = await advanceDue(platform, contactId)
  const now = personNow(clock, contact)
  return { now: new Date(now).toISOString(), moved, arrived: wanted !== null && now >= wanted }
}
