import { enrol } from '../../core/followups/advance.ts'
import { mayEnter } from '../../core/followups/starting.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'
import { Followup } from './models.ts'
import { advanceEnrolments } from './advancing.ts'
import type { ClaimedEnrolment } from './claimedEnrolment.ts'

/**
 * Lets people into a live follow-up by hand; who may not come in (again) is passed over.
 * @throws Problem 409 when the follow-up takes nobody in
 */
export async function enrolManually(
  platform: Platform,
  q: Queries,
  followupId: number,
  contacts: readonly number[],
  by: string,
): Promise<void> {
  const followup = await Followup.findByPk(followupId, { transaction: q.transaction ?? null })
  if (followup?.state !== 'live')
    throw new Problem(409, 'This follow-up is not live', 'Choose a live follow-up, or make this one live.')
  const now = platform.clock.now()
  const people = await q.rows<{ id: number; clockAhead: number; earlier: { ended: boolean }[] }>(
    `select id, clock_ahead "clockAhead", coalesce((select json_agg(json_build_object('ended', ended_at is not null))
       from enrolment where contact_id = contact.id and followup_id = $2), '[]') earlier
     from contact where id = any($1) order by id for no key update`,
    [contacts, followupId],
  )
  const entering = people.filter(({ earlier }) => mayEnter(followup.program, earlier).allowed)
  const stored = await q.rows<{ id: number; contact: number }>(
    `insert into enrolment (followup_id, contact_id, started_at, step, wakes_at)
     select $1, contact, started, $4, $5
     from unnest($2::bigint[], $3::timestamptz[]) t (contact, started) returning id, contact_id contact`,
    [
      followupId,
      entering.map(({ id }) => id),
      entering.map(({ clockAhead }) => new Date(now + clockAhead)),
      enrol(followup.program, now).step,
      new Date(now),
    ],
  )
  const aheadOf = new Map(entering.map(({ id, clockAhead }) => [id, clockAhead]))
  const entered = stored.map(({ id, contact }): ClaimedEnrolment => {
    const clockAhead = aheadOf.get(contact) ?? 0
    return { ...enrol(followup.program, now + clockAhead), id, contact, followup: followupId, clockAhead }
  })
  await recordActivities(
    q,
    entered.map(({ contact, id, startedAt }) => ({
      contact,
      kind: 'followupStarted',
      at: startedAt,
      details: { followup: followupId, enrolment: id, by },
    })),
  )
  await advanceEnrolments(q, entered, now, platform.log)
}
