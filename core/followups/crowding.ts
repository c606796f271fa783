import { DateTime } from 'luxon'
import type { Instant } from '../audience/people/activity.ts'
import { nameOf, type Names } from '../audience/segments/names.ts'
import { isDecision, type RehearsalLine } from './rehearsal.ts'

/** An email that somebody gets in a rehearsal. */
export interface RehearsedEmail {
  at: Instant
  email: number
  followup: number
}

/** The emails of a rehearsal, oldest first. */
export const emailsOf = (lines: readonly RehearsalLine[]): RehearsedEmail[] =>
  lines.flatMap((line) =>
    isDecision(line) && line.email !== null
      ? [{ at: line.at, email: line.email, followup: line.followup }]
      : [],
  )

const hour = 3_600_000
const day = 24 * hour

/** What is too much of it. */
export interface CrowdingLimits {
  aDay: number
  /** So many days without a word make people forget. */
  silence: number
}
export const usualLimits: CrowdingLimits = { aDay: 1, silence: 30 }

/** Something about all the emails together that people would mind. */
export interface Crowd {
  at: Instant
  words: string
}

/**
 * What is wrong with all that somebody gets, whichever follow-ups it comes from: days with too many emails, two within
 * an hour, an offer after the purchase, long silence between.
 * @param sells whether an email offers something to buy
 */
export function crowdingIn(
  lines: readonly RehearsalLine[],
  { zone, names, sells }: { zone: string; names: Names; sells: (email: number) => boolean },
  { aDay, silence }: CrowdingLimits = usualLimits,
): Crowd[] {
  const emails = emailsOf(lines)
  const found: Crowd[] = []
  const title = ({ email }: RehearsedEmail): string => nameOf(names, 'emails', email)
  const byDay = new Map<string, RehearsedEmail[]>()
  for (const each of emails) {
    const key = DateTime.fromMillis(each.at, { zone }).toISODate() ?? ''
    byDay.set(key, [...(byDay.get(key) ?? []), each])
  }
  for (const [date, some] of byDay)
    if (some.length > aDay)
      found.push({
        at: some[0]?.at ?? 0,
        words: `${some.length} emails on ${date}: ${some.map(title).join(', ')}`,
      })
  emails.forEach((each, i) => {
    const before = emails[i - 1]
    if (!before) return
    const apart = each.at - before.at
    if (apart < hour)
      found.push({ at: each.at, words: `${title(before)} and ${title(each)} come within an hour` })
    if (apart > silence * day)
      found.push({
        at: before.at,
        words: `${Math.round(apart / day)} days without an email before ${title(each)}`,
      })
  })
  const bought = lines.find((line) => !isDecision(line) && line.did === 'productBought')
  if (bought)
    for (const each of emails)
      if (each.at > bought.at && sells(each.email))
        found.push({ at: each.at, words: `${title(each)} sells after the purchase` })
  return found.sort((a, b) => a.at - b.at)
}
