import { DateTime } from 'luxon'
import type { Instant } from '../audience/people/activity.ts'
import { discounted, type Coupon } from './coupon.ts'
import { shared } from './money.ts'
import type { Pays, Period } from './price.ts'

/** A day as buyers read it, such as `6 December 2026`. */
export const dayWords = (at: Instant | Date, zone: string): string =>
  DateTime.fromMillis(Number(at), { zone }).setLocale('en-GB').toFormat('d LLLL yyyy')

/** One payment of a price. */
export interface Payment {
  at: Instant
  amount: number
}

/**
 * The nth time of a period from a day on. A month later than the 31st is the last day of a shorter month, and the 31st
 * again after it: each is counted from the first day, by the wall clock of the zone.
 */
export const nthTime = (from: Instant, { count, unit }: Period, n: number, zone: string): Instant =>
  DateTime.fromMillis(from, { zone })
    .plus({ [`${unit}s`]: count * n })
    .toMillis()

/**
 * When which payment is due.
 * @param amount what is paid in all, or each time of a subscription
 * @param coupon what a coupon takes off: of all, or of the first time of a subscription, or of every time
 * @param most so many of a subscription that goes on
 */
export function paymentsOf(
  pays: Pays,
  {
    amount: full,
    currency,
    from,
    zone,
    coupon = null,
  }: {
    amount: number
    currency: string
    from: Instant
    zone: string
    coupon?: Pick<Coupon, 'off' | 'everyTime'> | null
  },
  most = 12,
): Payment[] {
  const amount = coupon ? discounted(full, coupon.off) : full
  switch (pays.by) {
    case 'once':
    case 'choice':
      return [{ at: from, amount }]
    case 'free':
      return []
    case 'payments':
      return shared({ amount, currency }, new Array<number>(pays.payments).fill(1)).map((part, n) => ({
        at: nthTime(from, pays.every, n, zone),
        amount: part,
      }))
    case 'subscription': {
      const begin = DateTime.fromMillis(from, { zone }).plus({ days: pays.trialDays }).toMillis()
      return Array.from({ length: Math.min(most, pays.payments ?? most) }, (_, n) => ({
        at: nthTime(begin, pays.every, n, zone),
        amount: n === 0 || coupon?.everyTime ? amount : full,
      }))
    }
  }
}
