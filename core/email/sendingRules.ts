import { DateTime } from 'luxon'
import { z } from 'zod'
import type { Instant } from '../audience/people/activity.ts'
import { firstInstantOf } from '../followups/waiting.ts'

const clockTime = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Use a time such as 21:00')
const atMost = z.number('Write a number').int('Write a whole number').min(1, 'At least 1')

/** How much may be sent, and when: holds for all follow-ups and broadcasts. What somebody asked for always goes. */
export const sendingRules = z.strictObject({
  /** Messages a minute, of all kinds; as many as the mail server takes when null. */
  perMinute: atMost.max(1_000_000).nullable().default(null),
  /** No marketing between these times, where the reader is. */
  quiet: z.strictObject({ from: clockTime, to: clockTime }).nullable().default(null),
  /** Days on which marketing goes out, 1 is Monday (ISO 8601). */
  weekdays: z.array(z.number().int().min(1).max(7)).min(1, 'Choose a day').default([1, 2, 3, 4, 5, 6, 7]),
  /** Marketing emails to one person within 24 hours, and within 7 days. */
  aDay: atMost.max(100).nullable().default(null),
  aWeek: atMost.max(500).nullable().default(null),
})
export type SendingRules = z.infer<typeof sendingRules>

/** Nothing is limited. */
export const noRules: SendingRules = sendingRules.parse({})

const day = 86_400_000
/** What would have to wait longer is not sent at all: it would speak of what has been. */
const longestMove = 7 * day

export type Turn =
  { is: 'now' } | { is: 'moved'; to: Instant; reason: string } | { is: 'skipped'; reason: string }

/** The moment from which a reader may be written to by the clock, at or after one. */
function awake(rules: Pick<SendingRules, 'quiet' | 'weekdays'>, at: Instant, zone: string): Instant {
  const { quiet, weekdays } = rules
  const local = DateTime.fromMillis(at, { zone })
  const wallOf = (date: DateTime, time: string): Instant =>
    firstInstantOf(DateTime.fromISO(`${date.toISODate()}T${time}`, { zone: 'utc' }).toMillis(), zone)
  const time = local.toFormat('HH:mm')
  if (!weekdays.includes(local.weekday)) {
    const next = local.plus({ days: 1 }).startOf('day')
    return awake(rules, wallOf(next, '00:00'), zone)
  }
  if (quiet === null || quiet.from === quiet.to) return at
  const overMidnight = quiet.from > quiet.to
  const isQuiet = overMidnight ? time >= quiet.from || time < quiet.to : time >= quiet.from && time < quiet.to
  if (!isQuiet) return at
  const ends = overMidnight && time >= quiet.from ? local.plus({ days: 1 }) : local
  return awake(rules, wallOf(ends, quiet.to), zone)
}

/** The moment from which fewer than `most` of these lie within `span` before it, at or after `at`. */
function room(most: number | null, span: number, recent: readonly Instant[], at: Instant): Instant {
  if (most === null) return at
  const within = recent.filter((each) => each > at - span).sort((a, b) => b - a)
  const inTheWay = within[most - 1]
  return inTheWay === undefined ? at : inTheWay + span
}

/**
 * Whether a marketing email goes out now, later or not at all.
 * @param recent when the reader was sent marketing in the last 7 days
 * @param zone of the reader, or of the business where nobody knows it
 */
export function turnOf(
  rules: SendingRules,
  { at, zone, recent }: { at: Instant; zone: string; recent: readonly Instant[] },
): Turn {
  const freeOfCaps = (from: Instant): Instant =>
    room(rules.aWeek, 7 * day, recent, room(rules.aDay, day, recent, from))
  let to = at
  let capped = false
  // Each of the two can only push it further, and both stand still once it fits.
  for (let before = Number.NEGATIVE_INFINITY; before !== to && to - at <= longestMove;) {
    before = to
    const free = freeOfCaps(to)
    capped ||= free > to
    to = awake(rules, free, zone)
  }
  if (to === at) return { is: 'now' }
  const why = capped ? 'enough marketing was sent to this person' : 'it is a quiet hour where the person is'
  return to - at > longestMove
    ? { is: 'skipped', reason: `Skipped: ${why}, and would have to wait more than a week` }
    : { is: 'moved', to, reason: `Moved: ${why}` }
}
