import type { Coupon } from './coupon.ts'
import { moneyWords, shared } from './money.ts'
import { fullAmount } from './offer.ts'
import type { Pays, Period, Price } from './price.ts'

/** “a month”, “every two weeks”. */
export const periodWords = ({ count, unit }: Period): string =>
  count === 1 ? `a ${unit}` : `every ${count} ${unit}s`

/** How a price is paid, as buyers read it: “€79”, “3 × €29”, “€15 a month”. @param amount in all, or each time */
export function paysWords(pays: Pays, currency: string, amount: number): string {
  const money = (value: number): string => moneyWords({ amount: value, currency })
  switch (pays.by) {
    case 'once':
      return money(amount)
    case 'payments': {
      const parts = shared({ amount, currency }, new Array<number>(pays.payments).fill(1))
      const [first = 0, last = 0] = [parts[0], parts.at(-1)]
      return first === last
        ? `${pays.payments} × ${money(first)}`
        : `${pays.payments} payments of ${money(first)} or ${money(last)}`
    }
    case 'subscription': {
      const times = pays.payments === null ? '' : `, ${pays.payments} times`
      const trial = pays.trialDays === 0 ? '' : `, the first ${pays.trialDays} days free`
      return `${money(amount)} ${periodWords(pays.every)}${times}${trial}`
    }
    case 'choice':
      return pays.least === 0 ? 'what you like' : `${money(pays.least)} or more`
    case 'free':
      return 'free'
  }
}

/** What a coupon takes off: “20 %”, “€10 of every payment”. */
export const couponWords = (
  { off, everyTime }: Pick<Coupon, 'off' | 'everyTime'>,
  currency: string,
): string =>
  `${off.by === 'percent' ? `${off.percent} %` : moneyWords({ amount: off.amount, currency })}${everyTime ? ' of every payment' : ''}`

/** A price as the marketer finds it again: by its name, or by what it costs. */
export const priceName = (price: Price, currency: string): string =>
  price.name || paysWords(price.pays, currency, fullAmount(price))
