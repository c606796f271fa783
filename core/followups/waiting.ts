import { DateTime, IANAZone } from 'luxon'
import type { Instant } from '../audience/people/activity.ts'
import type { WaitStep } from './program.ts'

const minute = 60_000
const day = 24 * 60 * minute

const milliseconds = { minutes: minute, hours: 60 * minute, days: day, weeks: 7 * day } as const

/** Length of a wait when no day is longer than another: for drawing, never for running. */
export function nominalLength(wait: WaitStep): number {
  return wait.amount * milliseconds[wait.unit]
}

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

/**
 * When a wait that begins at `from` is over. Minutes and hours are exact; days and weeks keep the
 * wall-clock time of the zone, so a day is 23, 24 or 25 hours long (RFC 5545 §3.3.6 draws the same line).
 */
export function waitEnds(wait: WaitStep, from: Instant, zone: string): Instant {
  if (wait.unit === 'minutes' || wait.unit === 'hours') return from + nominalLength(wait)
  const wall = DateTime.fromMillis(from, { zone }).setZone('utc', { keepLocalTime: true })
  return firstInstantOf(wall.plus({ [wait.unit]: wait.amount }).toMillis(), zone)
}

/** "2 days", "1 hour". */
export function describeWait(wait: WaitStep): string {
  return `${wait.amount} ${wait.amount === 1 ? wait.unit.slice(0, -1) : wait.unit}`
}
