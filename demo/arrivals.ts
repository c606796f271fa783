import { DateTime } from 'luxon'
import type { Instant } from '../core/audience/people/activity.ts'
import type { Chance } from '../core/chance.ts'

const minute = 60_000
const day = 24 * 60 * minute

/** How long ago the first of all arrived. */
const span = 425 * day

/** Moments of arrival: more in later months, on weekdays' evenings and on Sundays. */
export function arrivalTimes(chance: Chance, count: number, now: Instant, zone: string): Instant[] {
  const times: Instant[] = []
  while (times.length < count) {
    // The square root makes the density grow linearly from the first day to the last.
    const at = now - span * (1 - Math.sqrt(chance.next()))
    const local = DateTime.fromMillis(at, { zone })
    const byHour = local.hour < 7 ? 0.1 : local.hour < 17 ? 0.5 : 1
    const byDay = local.weekday === 7 ? 1 : local.weekday === 6 ? 0.7 : 0.6
    if (chance.flip(byHour * byDay)) times.push(Math.floor(at / 1000) * 1000)
  }
  return times.sort((a, b) => a - b)
}

/** Minutes ago at which somebody has just arrived, whatever the hour. */
const justNow = [4, 13, 22, 37, 52]
/** Minutes from now at which somebody's next email departs: the first ones while a newcomer still looks around. */
const soon = [1.5, 3, 4.5, 7, 11, 16, 22, 30, 40, 55]

/**
 * Moments of arrival that keep the demo lively at any hour: some within the last hour, and some so long ago that a
 * wait which began with them ends soon.
 * @param wait after which their next email departs (milliseconds)
 */
export function livelyArrivals(now: Instant, wait: Instant): Instant[] {
  const times = [
    ...justNow.map((minutes) => now - minutes * minute),
    ...soon.map((minutes) => now - wait + minutes * minute),
  ]
  return times.map((at) => Math.floor(at / 1000) * 1000).sort((a, b) => a - b)
}
