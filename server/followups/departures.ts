import { nameOf } from '../../core/audience/names.ts'
import type { Departure } from '../../contract/today.ts'
import type { Platform } from '../platform.ts'
import { loadNames } from '../audience/names.ts'
import { lookAhead, standingColumns, type Standing } from './moving.ts'

/** People whose next step is worked out; beyond them a departures board is not read. */
const lookedAt = 400
const minute = 60_000

/** The emails that enrolments would send at their due moment, if nothing changed until then. */
export async function nextEmails(
  platform: Platform,
  standings: readonly Standing[],
): Promise<Map<number, string | null>> {
  const names = await loadNames(platform.database)
  const moved = await lookAhead(platform.database, standings, ({ dueAt }) => dueAt ?? platform.clock.now())
  return new Map(
    moved.map(({ standing, result }) => {
      const first = result.effects.find((effect) => effect.kind === 'sendEmail')
      return [standing.id, first ? nameOf(names, 'emails', first.email) : null]
    }),
  )
}

/** What leaves within the next days, by minute, email and follow-up; soonest first. Rehearsal is not counted. */
export async function upcomingDepartures(platform: Platform, rows = 40): Promise<Departure[]> {
  const standings = await platform.database.rows<Standing & { name: string }>(
    `select ${standingColumns}, followup.name
     from enrolment join contact on contact.id = contact_id join followup on followup.id = followup_id
     where ended_at is null and wakes_at is not null and not contact.rehearsal
       and followup.state in ('live', 'closing')
     order by wakes_at, enrolment.id limit ${lookedAt}`,
  )
  const emails = await nextEmails(platform, standings)
  const board = new Map<string, Departure>()
  for (const standing of standings) {
    const at = Math.floor((standing.dueAt ?? platform.clock.now()) / minute) * minute
    const what = emails.get(standing.id)
    // Who only moves on without an email departs from nowhere.
    if (!what) continue
    const key = `${at} ${standing.followup} ${what}`
    const row = board.get(key)
    if (row) row.people += 1
    else
      board.set(key, {
        at: new Date(at).toISOString(),
        what,
        from: standing.name,
        to: `/follow-ups/${standing.followup}`,
        people: 1,
        gone: false,
      })
  }
  return [...board.values()].slice(0, rows)
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
