import { DateTime } from 'luxon'
import type { BroadcastView } from '../../../contract/broadcasts.ts'

/** A day of the calendar with what goes out on it. */
export interface CalendarDay {
  /** "2026-11-27" */
  date: string
  inMonth: boolean
  isToday: boolean
  broadcasts: BroadcastView[]
}

export type Span = 'month' | 'week'

/** The first day that a span shows: weeks begin on Monday. */
const firstOf = (at: DateTime, span: Span): DateTime =>
  (span === 'month' ? at.startOf('month') : at).startOf('week')

/** The first moment that a span shows, and the first after it. */
export function calendarSpan(shown: string, span: Span, zone: string): { from: string; to: string } {
  const at = DateTime.fromISO(shown, { zone })
  const last = span === 'month' ? at.endOf('month') : at
  const [from, to] = [firstOf(at, span), last.endOf('week').plus({ milliseconds: 1 })]
  return { from: from.toUTC().toISO() ?? '', to: to.toUTC().toISO() ?? '' }
}

/** The weeks of a month, or the one week, with what goes out on each day of the business's zone. */
export function calendarWeeks(
  broadcasts: readonly BroadcastView[],
  { shown, span, zone, now }: { shown: string; span: Span; zone: string; now: string },
): CalendarDay[][] {
  const at = DateTime.fromISO(shown, { zone })
  const first = firstOf(at, span)
  const last = span === 'month' ? at.endOf('month').endOf('week') : first.endOf('week')
  const byDay = new Map<string, BroadcastView[]>()
  const sorted = [...broadcasts].sort((a, b) => a.goesAt.localeCompare(b.goesAt))
  for (const each of sorted) {
    const day = DateTime.fromISO(each.goesAt, { zone }).toISODate() ?? ''
    byDay.set(day, [...(byDay.get(day) ?? []), each])
  }
  const today = DateTime.fromISO(now, { zone }).toISODate()
  const weeks = Math.round(last.diff(first, 'weeks').weeks)
  return Array.from({ length: weeks }, (_, week) =>
    Array.from({ length: 7 }, (_, day) => {
      const one = first.plus({ days: week * 7 + day })
      const date = one.toISODate() ?? ''
      return {
        date,
        inMonth: span === 'week' || one.month === at.month,
        isToday: date === today,
        broadcasts: byDay.get(date) ?? [],
      }
    }),
  )
}

/** The same time of day on another day, as the plan keeps it. */
export function movedTo(broadcast: BroadcastView, date: string, zone: string): string {
  return `${date}T${DateTime.fromISO(broadcast.goesAt, { zone }).toFormat('HH:mm')}`
}

/** So many days later. */
export const daysLater = (date: string, days: number): string =>
  DateTime.fromISO(date, { zone: 'utc' }).plus({ days }).toISODate() ?? date
