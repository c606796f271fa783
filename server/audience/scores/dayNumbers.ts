import { DateTime } from 'luxon'
import type { Instant } from '../../../core/audience/people/activity.ts'

/** All offsets of the IANA time zone database are whole quarters of an hour since 1972. */
const quarter = 15 * 60_000
const block = 12 * quarter

/**
 * The number of the calendar day that an instant belongs to in a zone. Each block of three hours is looked up once;
 * only where midnight lies inside of one are its quarters told apart.
 */
export function dayNumbers(zone: string): (at: Instant) => number {
  const look = (at: Instant): number =>
    Math.floor((at + DateTime.fromMillis(at, { zone }).offset * 60_000) / 86_400_000)
  const blocks = new Map<number, number | null>()
  const quarters = new Map<number, number>()
  return (at) => {
    const slot = Math.floor(at / block)
    let day = blocks.get(slot)
    if (day === undefined) {
      const [first, last] = [look(slot * block), look((slot + 1) * block - quarter)]
      day = first === last ? first : null
      blocks.set(slot, day)
    }
    if (day !== null) return day
    const part = Math.floor(at / quarter)
    const known = quarters.get(part) ?? look(part * quarter)
    quarters.set(part, known)
    return known
  }
}
