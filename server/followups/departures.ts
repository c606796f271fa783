import { nameOf } from '../../core/audience/segments/names.ts'
import { sendsAfter } from '../../core/followups/track.ts'
import type { Departure } from '../../contract/today.ts'
import type { Platform } from '../platform.ts'
import { loadNames } from '../audience/segments/names.ts'
import { planAdvances } from './advancing.ts'
import { Followup } from './models.ts'
import { claimedColumns, type ClaimedEnrolment } from './claimedEnrolment.ts'

/** People whose next step is worked out; beyond them a departures board is not read. */
const lookedAt = 400
const minute = 60_000

/** The emails that enrolments would send at their due moment, if nothing changed until then. */
export async function nextEmails(
  platform: Platform,
  enrolments: readonly ClaimedEnrolment[],
): Promise<Map<number, string | null>> {
  const { planned } = await planAdvances(
    platform.database,
    enrolments,
    ({ dueAt }) => dueAt ?? platform.clock.now(),
  )
  const firsts = planned.map(({ claimed, result }) => {
    const first = result.effects.find((effect) => effect.kind === 'sendEmail')
    return { id: claimed.id, email: first?.email ?? null }
  })
  const names = await loadNames(
    platform.database,
    firsts.flatMap(({ email }) => (email === null ? [] : [{ kind: 'emails', id: email }])),
  )
  return new Map(firsts.map(({ id, email }) => [id, email === null ? null : nameOf(names, 'emails', email)]))
}

/** Who waits in live follow-ups, soonest first, as far as a board is read. */
function soonestWaiting(platform: Platform): Promise<(ClaimedEnrolment & { name: string })[]> {
  return platform.database.rows<ClaimedEnrolment & { name: string }>(
    `select ${claimedColumns}, followup.name from followup
     cross join lateral (select * from enrolment
       where followup_id = followup.id and ended_at is null and set_aside_at is null and wakes_at is not null
       order by wakes_at limit ${lookedAt}) enrolment
     join contact on contact.id = contact_id
     where followup.state in ('live', 'closing') and not contact.rehearsal
     order by wakes_at, enrolment.id limit ${lookedAt}`,
  )
}

/** What leaves within the next days, by minute, email and follow-up; soonest first. Rehearsal is not counted. */
export async function upcomingDepartures(platform: Platform, rows = 40): Promise<Departure[]> {
  const waiting = await soonestWaiting(platform)
  const emails = await nextEmails(platform, waiting)
  const board = new Map<string, Departure>()
  for (const each of waiting) {
    const at = Math.floor((each.dueAt ?? platform.clock.now()) / minute) * minute
    const what = emails.get(each.id)
    // Who only moves on without an email departs from nowhere.
    if (!what) continue
    const key = `${at} ${each.followup} ${what}`
    const row = board.get(key)
    if (row) row.people += 1
    else
      board.set(key, {
        at: new Date(at).toISOString(),
        what,
        from: each.name,
        to: `/follow-ups/${each.followup}`,
        people: 1,
        gone: false,
      })
  }
  return [...board.values()].slice(0, rows)
}

interface NextStop {
  followup: number
  step: string
  at: Date
  people: number
}

/** The steps on which people wait, with the minute at which the next of them go on and how many those are. */
function nextStops(platform: Platform): Promise<NextStop[]> {
  return platform.database.rows<NextStop>(
    `select next.followup_id followup, next.step, date_trunc('minute', next.wakes_at) at, count(*) people
     from followup
     cross join lateral (select wakes_at from enrolment join contact on contact.id = contact_id
       where followup_id = followup.id and ended_at is null and set_aside_at is null and not rehearsal
         and wakes_at is not null order by wakes_at limit 1) first
     join enrolment next on next.followup_id = followup.id and next.ended_at is null and next.set_aside_at is null
       and next.wakes_at >= first.wakes_at
       and next.wakes_at < date_trunc('minute', first.wakes_at) + interval '1 minute'
     join contact on contact.id = next.contact_id and not contact.rehearsal
     where followup.state in ('live', 'closing') group by 1, 2, 3 order by 3, 1`,
  )
}

/**
 * What leaves next, for the strip that every screen has: read from an index, and named by the program. Whether each
 * of these people gets it is decided when the time has come.
 */
export async function nextDeparture(
  platform: Platform,
): Promise<Pick<Departure, 'at' | 'what' | 'people'> | null> {
  const stops = await nextStops(platform)
  if (stops.length === 0) return null
  const followups = await Followup.findAll({
    where: { id: [...new Set(stops.map((each) => each.followup))] },
  })
  for (const { followup: id, step, at, people } of stops) {
    const followup = followups.find((each) => each.id === id)
    const emails = followup ? sendsAfter(followup.program, step) : []
    if (!followup || emails.length === 0) continue
    const [only] = emails
    const names = await loadNames(
      platform.database,
      emails.map((id) => ({ kind: 'emails', id: id })),
    )
    const what = emails.length === 1 && only ? nameOf(names, 'emails', only) : `“${followup.name}”`
    return { at: at.toISOString(), people, what }
  }
  return null
}

/** What left in the last minutes, latest last. */
export async function recentDepartures(platform: Platform, minutes = 30, rows = 6): Promise<Departure[]> {
  const gone = await platform.database.rows<Omit<Departure, 'at' | 'gone'> & { at: Date }>(
    `select date_trunc('minute', sent_at) at, '“' || email.name || '”' what,
       case when broadcast_id is not null then 'broadcast' else coalesce(followup.name, '') end "from",
       case when broadcast_id is not null then '/outbox/broadcasts'
         else coalesce('/follow-ups/' || followup.id, '') end "to", count(*) people
     from message join email on email.id = email_id join contact on contact.id = message.contact_id
     left join enrolment on enrolment.id = enrolment_id left join followup on followup.id = followup_id
     where message.state = 'sent' and sent_at > $1 and not contact.rehearsal
     group by 1, 2, 3, 4 order by 1 desc, 2 limit $2`,
    [new Date(platform.clock.now() - minutes * minute), rows],
  )
  return gone.map((row) => ({ ...row, at: row.at.toISOString(), gone: true })).reverse()
}
