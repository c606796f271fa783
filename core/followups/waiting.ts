import { DateTime, IANAZone } from 'luxon'
import type { Instant } from '../audience/people/activity.ts'
import type { WaitStep } from './step.ts'
import { nominalUnit, type TimeSpan, type WaitDay, type WaitRelative, type WaitTime } from './waitShapes.ts'

const minute = 60_000
const day = 24 * 60 * minute

/** `true` when the name is a zone of the IANA database. */
export function isZone(name: string): boolean {
  return IANAZone.isValidZone(name)
}

/**
 * The instant at which the clocks of a zone show a local time.
 * A time that is skipped moves forward by the gap; one that comes twice is taken the first time
 * (RFC 5545 §3.3.5; the "compatible" rule of ECMAScript Temporal).
 * @param wall the local time, written as if it were UTC
 */
export function firstInstantOf(wall: number, zone: string): Instant {
  const rules = IANAZone.create(zone)
  const offsetAt = (instant: Instant): number => rules.offset(instant) * minute
  const before = offsetAt(wall - day)
  const after = offsetAt(wall + day)
  const fits = [wall - before, wall - after].filter((instant) => instant + offsetAt(instant) === wall)
  return fits.length > 0 ? Math.min(...fits) : wall - before
}

/** The wall clock of a zone at an instant, written as if it were UTC. */
const wallOf = (at: Instant, zone: string): DateTime =>
  DateTime.fromMillis(at, { zone }).setZone('utc', { keepLocalTime: true })

const minutesOf = (time: string): number => Number(time.slice(0, 2)) * 60 + Number(time.slice(3))

/** The instant at which a day, as if in UTC, shows a time of day in a zone. */
const atTime = (midnight: DateTime, time: string, zone: string): Instant =>
  firstInstantOf(midnight.toMillis() + minutesOf(time) * minute, zone)

/**
 * When a span that begins at `from` is over; before it when negative. Minutes and hours are exact; days and weeks keep
 * the wall-clock time of the zone, so a day is 23, 24 or 25 hours long (RFC 5545 §3.3.6 draws the same line).
 */
export function spanEnds({ amount, unit }: TimeSpan, from: Instant, zone: string): Instant {
  if (unit === 'minutes' || unit === 'hours') return from + amount * nominalUnit[unit]
  return firstInstantOf(
    wallOf(from, zone)
      .plus({ [unit]: amount })
      .toMillis(),
    zone,
  )
}

/** So many days after the start, at a time of day or at that of the start. */
function dayComes({ day: days, time }: WaitDay, startedAt: Instant, zone: string): Instant {
  const then = wallOf(startedAt, zone).plus({ days })
  return time === undefined ? firstInstantOf(then.toMillis(), zone) : atTime(then.startOf('day'), time, zone)
}

/** The next moment inside a window; now when it is open. */
function windowOpens({ weekdays, from, to }: WaitTime, now: Instant, zone: string): Instant {
  const today = wallOf(now, zone).startOf('day')
  // Yesterday's may still be open, over midnight.
  for (let ahead = -1; ahead <= 8; ahead += 1) {
    const opening = today.plus({ days: ahead })
    if (!weekdays.includes(opening.weekday)) continue
    const closes = atTime(to > from ? opening : opening.plus({ days: 1 }), to, zone)
    if (closes > now) return Math.max(now, atTime(opening, from, zone))
  }
  return now
}

/** What a wait must know of whoever waits. */
export interface Waiter {
  startedAt: Instant
  /** Of the follow-up. */
  zone: string
  /** Their own, where it is known. */
  ownZone?: string | undefined
  /** When the session of their start begins. */
  session: Instant | null
  /** An own field, when it is a date: "2026-11-24". */
  dateIn: (field: number) => string | null
  /** When a personal deadline of theirs is over. */
  deadline: (offer: string) => Instant | null
}

const zoneOf = (wait: WaitStep, { zone, ownZone }: Waiter): string =>
  'clocks' in wait && wait.clocks === 'person' && ownZone !== undefined && isZone(ownZone) ? ownZone : zone

/** The moment of theirs that a wait is relative to; null when they have none. */
export function referenceOf({ to }: WaitRelative, waiter: Waiter): Instant | null {
  switch (to.what) {
    case 'session':
      return waiter.session
    case 'deadline':
      return waiter.deadline(to.offer)
    case 'field': {
      const date = waiter.dateIn(to.field)
      const midnight = date === null ? null : DateTime.fromISO(date, { zone: 'utc' })
      return midnight?.isValid ? atTime(midnight, to.time, waiter.zone) : null
    }
  }
}

/**
 * When a wait that begins now is over; a moment that has passed is told as it is. Null when there is none: the person
 * has no such date.
 */
export function waitEnds(wait: WaitStep, now: Instant, waiter: Waiter): Instant | null {
  const zone = zoneOf(wait, waiter)
  switch (wait.kind) {
    case 'waitFor':
      return spanEnds(wait, now, zone)
    case 'waitUntil':
      return spanEnds(wait.atMost, now, zone)
    case 'waitDay':
      return dayComes(wait, waiter.startedAt, zone)
    case 'waitTime':
      return windowOpens(wait, now, zone)
    case 'waitDate':
      return atTime(DateTime.fromISO(wait.date, { zone: 'utc' }), wait.time, zone)
    case 'waitRelative': {
      const reference = referenceOf(wait, waiter)
      const amount = wait.side === 'before' ? -wait.amount : wait.amount
      return reference === null ? null : spanEnds({ amount, unit: wait.unit }, reference, zone)
    }
  }
}
