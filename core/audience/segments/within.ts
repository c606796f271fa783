import { DateTime } from 'luxon'
import { z } from 'zod'
import type { Instant } from '../people/activity.ts'

export const spanUnit = z.enum(['minutes', 'hours', 'days', 'weeks', 'months'])

/** "In the last N …", or between two days, both included: by the calendar of the asker's zone. */
export const within = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('last'), amount: z.number().int().min(1).max(10_000), unit: spanUnit }),
  z.object({ kind: z.literal('between'), from: z.iso.date(), to: z.iso.date() }),
])
export type Within = z.infer<typeof within>

/** A stretch of time with both ends included. */
export interface TimeRange {
  from: Instant
  to: Instant
}

/**
 * The stretch that is looked at; both readers of conditions ask here, so that they agree to the millisecond.
 * Without a limit it begins at `since` (the start of the follow-up that asks), or with the beginning of time.
 */
export function timeRangeOf(
  limit: Within | undefined,
  now: Instant,
  zone: string,
  since?: Instant,
): TimeRange {
  switch (limit?.kind) {
    case undefined:
      return { from: since ?? Number.NEGATIVE_INFINITY, to: now }
    case 'last': {
      const from = DateTime.fromMillis(now, { zone }).minus({ [limit.unit]: limit.amount })
      return { from: from.toMillis(), to: now }
    }
    case 'between': {
      // A day begins at midnight, or where the clocks leave midnight out, at the first moment after it.
      const from = DateTime.fromISO(limit.from, { zone }).startOf('day')
      const to = DateTime.fromISO(limit.to, { zone }).endOf('day')
      return { from: from.toMillis(), to: Math.min(to.toMillis(), now) }
    }
  }
}

/** The date of an instant on the calendar of a zone, as "2026-11-24". */
export function dateOf(at: Instant, zone: string): string {
  return DateTime.fromMillis(at, { zone }).toISODate() ?? ''
}

/** A date so many days later (earlier when negative). */
export function datePlus(date: string, days: number): string {
  return DateTime.fromISO(date, { zone: 'utc' }).plus({ days }).toISODate() ?? ''
}
