import { allocate, dinero, toSnapshot, type DineroCurrency } from 'dinero.js'
import * as currencies from 'dinero.js/currencies'

/** An amount in the smallest unit of its currency (ISO 4217): 1999 of EUR are nineteen euros and ninety-nine cents. */
export interface Money {
  amount: number
  currency: string
}

/** No amount is larger: sums and taxes of them stay exact. */
export const largestAmount = 1_000_000_000

const known = new Map(Object.entries<DineroCurrency<number>>(currencies))

const currencyOf = (code: string): DineroCurrency<number> => {
  const found = known.get(code)
  if (!found) throw new RangeError(`no currency is called ${code}`)
  return found
}

/** How many of its digits stand behind the point: 2 for EUR, 0 for JPY, 3 for BHD. @throws RangeError */
export function digitsOf(currency: string): number {
  const { base, exponent } = currencyOf(currency)
  // Fifths of MGA and MRU: ISO 4217 gives them two digits nevertheless.
  return base === 10 ? exponent : 2
}

/** As it is written in the interface: “€19.99”. @param locale as BCP 47 has it */
export function moneyWords({ amount, currency }: Money, locale = 'en-IE'): string {
  const digits = digitsOf(currency)
  const isRound = amount % 10 ** digits === 0
  return new Intl.NumberFormat(locale, {
    style: 'currency',
    currency,
    minimumFractionDigits: isRound ? 0 : digits,
    maximumFractionDigits: digits,
  }).format(amount / 10 ** digits)
}

/** As it is typed and edited: “19.99”, without the currency. */
export const typedAmount = ({ amount, currency }: Money): string => {
  const digits = digitsOf(currency)
  return amount % 10 ** digits === 0 ? String(amount / 10 ** digits) : (amount / 10 ** digits).toFixed(digits)
}

/**
 * Reads what somebody typed, with a point or a comma.
 * @returns in the smallest unit; null when it is no amount, too large, or has more digits than the currency
 */
export function readAmount(typed: string, currency: string): number | null {
  const found = /^(\d{1,10})(?:[.,](\d{1,4}))?$/.exec(typed.trim())
  const digits = digitsOf(currency)
  const fraction = found?.[2] ?? ''
  if (!found || fraction.length > digits) return null
  const amount = Number(`${found[1] ?? ''}${fraction.padEnd(digits, '0')}`)
  return amount <= largestAmount ? amount : null
}

/** Shares out an amount by ratios, to the last unit: the parts add up to it. */
export const shared = ({ amount, currency }: Money, ratios: readonly number[]): number[] =>
  allocate(dinero({ amount, currency: { code: currency, base: 10, exponent: digitsOf(currency) } }), [
    ...ratios,
  ]).map((part) => toSnapshot(part).amount)
