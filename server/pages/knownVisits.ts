import { recordActivities } from '../audience/people/activities.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'

/** A look at a page by somebody who is known. */
export interface KnownVisit {
  contact: number
  page: number
  /** By the business's clock. */
  at: number
}

/** Who reloads a page within a minute has visited it once. */
const repeatedWithin = 60_000

/** A scanner of mail that follows a link looks at the page behind it within so long. */
const scannedWithin = 60_000

/**
 * Writes the visits of known people into their journals, where they start, wake and score like all that people do: not
 * of those who wish not to be followed, nor what a scanner of their mail looks at. Somebody in rehearsal visits by their
 * own clock.
 */
export async function recordKnownVisits(q: Queries, visits: readonly KnownVisit[]): Promise<void> {
  if (visits.length === 0) return
  // People are locked before what is theirs.
  const people = await q.rows<{ id: number; ahead: number }>(
    `select id, clock_ahead ahead from contact where id = any($1) and not untracked
     order by id for no key update`,
    [[...new Set(visits.map(({ contact }) => contact))]],
  )
  const aheadOf = new Map(people.map(({ id, ahead }) => [id, ahead]))
  const scans = await q.rows<{ contact: number; at: Date }>(
    `select contact_id contact, at from machine_click join message on message.id = message_id
     where contact_id = any($1) and at > $2`,
    [[...aheadOf.keys()], new Date(Math.min(...visits.map(({ at }) => at)) - scannedWithin)],
  )
  const known = visits
    .filter(({ contact }) => aheadOf.has(contact))
    .map(({ contact, page, at }) => ({ contact, page, at: at + (aheadOf.get(contact) ?? 0) }))
    .filter(
      ({ contact, at }) =>
        !scans.some((scan) => scan.contact === contact && Math.abs(at - scan.at.getTime()) <= scannedWithin),
    )
    .sort((a, b) => a.at - b.at)
  const before = await q.rows<{ contact: number; page: number; at: Date }>(
    `select distinct activity.contact_id contact, (details->>'page')::bigint page, activity.at
     from unnest($1::bigint[], $2::timestamptz[]) seen (contact, at)
     join activity on activity.contact_id = seen.contact and kind = 'pageVisited'
       and activity.at > seen.at - $3 * interval '1 millisecond' and activity.at <= seen.at`,
    [known.map(({ contact }) => contact), known.map(({ at }) => new Date(at)), repeatedWithin],
  )
  const last = new Map(before.map(({ contact, page, at }) => [`${contact} ${page}`, at.getTime()]))
  const fresh: NewActivity[] = []
  for (const { contact, page, at } of known) {
    const key = `${contact} ${page}`
    if (at - (last.get(key) ?? -Infinity) < repeatedWithin) continue
    last.set(key, at)
    fresh.push({ contact, kind: 'pageVisited', at, details: { page } })
  }
  await recordActivities(q, fresh)
  if (fresh.length > 0) await announce(q, 'audience')
}
