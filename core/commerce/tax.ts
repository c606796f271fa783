import { z } from 'zod'

/** A country as ISO 3166-1 alpha-2 has it. */
const country = z.string().regex(/^[A-Z]{2}$/, 'Use a country code of two letters, such as IE')

/** In hundredths of a per cent, so that 13.5 % are exact: 1350. */
const rate = z.number().int().min(0).max(10_000, 'A rate is 100 % at most')

/** How a business taxes what it sells. */
export const taxSettings = z.strictObject({
  /** Prices are shown with the tax inside, or it comes on top. */
  tax: z.enum(['inside', 'onTop']).default('inside'),
  /** Where the business is: its rate holds for countries without one. */
  home: country.nullable().default(null),
  rates: z
    .array(z.strictObject({ country, rate }))
    .max(250)
    .refine((rates) => new Set(rates.map((each) => each.country)).size === rates.length, {
      error: 'Each country has one rate',
    })
    .default([]),
})
export type TaxSettings = z.infer<typeof taxSettings>

/** The rate for a buyer from a country; the home rate where it has none; null when there is none at all. */
export const rateFor = ({ home, rates }: TaxSettings, from: string | null): number | null => {
  const of = (code: string | null): number | undefined => rates.find((each) => each.country === code)?.rate
  return of(from) ?? of(home) ?? null
}

/** What is paid, what of it is tax, and what stays. */
export interface Taxed {
  net: number
  tax: number
  total: number
}

const half = (value: number, by: number): number => Math.floor((2 * value + by) / (2 * by))

/**
 * Splits a price into net and tax, rounded half up to the smallest unit: inside, net = gross × 100 / (100 + rate).
 * @param rate in hundredths of a per cent
 * @source EU VAT Directive 2006/112/EC, articles 73 and 78 (from memory); rounding is common practice
 */
export function taxed(amount: number, rate: number, way: TaxSettings['tax']): Taxed {
  if (way === 'onTop') {
    const tax = half(amount * rate, 10_000)
    return { net: amount, tax, total: amount + tax }
  }
  const net = half(amount * 10_000, 10_000 + rate)
  return { net, tax: amount - net, total: amount }
}
