import { DateTime } from 'luxon'
import type { Instant } from '../../core/audience/activity.ts'

/** All offsets of the IANA time zone database are whole quarters of an hour since 1972. */
const quarter = 15 * 60_000

/**
 * The number of the calendar day that an instant belongs to in a zone. Each quarter of an hour is looked up once:
 * ten million activities of a year lie in 35,000 of them.
 */
export function dayNumbers(zone: string): (at: Instant) => number {
  const known = new Map<number, number>()
  return (at) => {
    const slot = Math.floor(at / quarter)
    let day = known.get(slot)
    if (day === undefined) {
      const local = DateTime.fromMillis(slot * quarter, { zone })
      day = Math.floor((slot * quarter + local.offset * 60_000) / 86_400_000)
      known.set(slot, day)
    }
    return day
  }
}
