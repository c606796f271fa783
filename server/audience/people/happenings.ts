import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import { recordActivities } from './activities.ts'
import type { NewActivity } from './newActivity.ts'

/** Who does the very same again within a minute, as by loading a page anew, has done it once. */
const repeatedWithin = 60_000

/** A scanner of mail that follows a link looks at what is behind it within so long. */
const scannedWithin = 60_000

/** What makes two happenings the same: what they are about, not what is told of it. */
const sameness = (kind: string, details: object): string => {
  const { page, junction, rule } = details as { page?: number; junction?: number; rule?: string }
  return JSON.stringify([kind, page, junction, rule])
}

/**
 * Writes what known people did in their browsers into their journals, where it starts, wakes and scores like all that
 * people do: not of those who wish not to be followed, nor what a scanner of their mail did. Somebody in rehearsal does
 * it by their own clock.
 * @param happenings by the business's clock
 */
export async function recordHappenings(q: Queries, happenings: readonly NewActivity[]): Promise<void> {
  if (happenings.length === 0) return
  // People are locked before what is theirs.
  const people = await q.rows<{ id: number; ahead: number }>(
    `select id, clock_ahead ahead from contact where id = any($1) and not untracked
     order by id for no key update`,
    [[...new Set(happenings.map(({ contact }) => contact))]],
  )
  const aheadOf = new Map(people.map(({ id, ahead }) => [id, ahead]))
  const scans = await q.rows<{ contact: number; at: Date }>(
    `select contact_id contact, at from machine_click join message on message.id = message_id
     where contact_id = any($1) and at > $2`,
    [[...aheadOf.keys()], new Date(Math.min(...happenings.map(({ at }) => at)) - scannedWithin)],
  )
  const known = happenings
    .filter(({ contact }) => aheadOf.has(contact))
    .map((each): NewActivity => ({ ...each, at: each.at + (aheadOf.get(each.contact) ?? 0) }))
    .filter(
      ({ contact, at }) =>
        !scans.some((scan) => scan.contact === contact && Math.abs(at - scan.at.getTime()) <= scannedWithin),
    )
    .sort((a, b) => a.at - b.at)
  if (known.length === 0) return
  const before = await q.rows<{ contact: number; kind: string; details: object; at: Date }>(
    `select distinct activity.contact_id contact, activity.kind, activity.details, activity.at
     from unnest($1::bigint[], $2::text[], $3::timestamptz[]) seen (contact, kind, at)
     join activity on activity.contact_id = seen.contact and activity.kind = seen.kind
       and activity.at > seen.at - $4 * interval '1 millisecond' and activity.at <= seen.at
     -- Only the months in which that can be are looked through.
     where activity.at > $5`,
    [
      known.map(({ contact }) => contact),
      known.map(({ kind }) => kind),
      known.map(({ at }) => new Date(at)),
      repeatedWithin,
      new Date(Math.min(...known.map(({ at }) => at)) - repeatedWithin),
    ],
  )
  const last = new Map(
    before.map(({ contact, kind, details, at }) => [`${contact} ${sameness(kind, details)}`, at.getTime()]),
  )
  const fresh: NewActivity[] = []
  for (const each of known) {
    const key = `${each.contact} ${sameness(each.kind, each.details)}`
    if (each.at - (last.get(key) ?? -Infinity) < repeatedWithin) continue
    last.set(key, each.at)
    fresh.push(each)
  }
  await recordActivities(q, fresh)
  if (fresh.length > 0) await announce(q, 'audience')
}
