import { z } from 'zod'
import { normalQuantile, normalShare } from '../results/normal.ts'

/** What decides between variants. */
export const testMeasure = z.enum(['opens', 'clicks', 'signUps'])
export type TestMeasure = z.infer<typeof testMeasure>

/** Two-sided, as common practice has it. */
const significance = 0.05

/** Spreads of the difference of two rates, for one person a group: when there is none, and as they are. */
const spreads = (p1: number, p2: number): { none: number; there: number } => ({
  none: Math.sqrt((p1 + p2) * (1 - (p1 + p2) / 2)),
  there: Math.sqrt(p1 * (1 - p1) + p2 * (1 - p2)),
})

/** A difference is seen when it is so many spreads away from none. */
const seenFrom = normalQuantile(1 - significance / 2)

/**
 * The power of a test of two proportions: how likely a difference is seen that is there.
 * Normal approximation without continuity correction (Fleiss, Statistical Methods for Rates and Proportions, 1981,
 * §3.2, from memory); the same as power.prop.test of R.
 * @param size people a group
 */
export function power(size: number, p1: number, p2: number): number {
  const { none, there } = spreads(p1, p2)
  return normalShare((Math.sqrt(size) * Math.abs(p1 - p2) - seenFrom * none) / there)
}

/** How many people a group takes to see a difference with that power; the same method. */
export function sizeFor(wanted: number, p1: number, p2: number): number {
  const { none, there } = spreads(p1, p2)
  return ((seenFrom * none + normalQuantile(wanted) * there) / (p1 - p2)) ** 2
}

/** So often a difference that is there should be seen (common practice). */
export const wantedPower = 0.8

/**
 * The least difference (as a share) that groups of this size show with the wanted power, above a rate.
 * @returns null when even the greatest does not
 */
export function leastDifference(size: number, rate: number): number | null {
  if (power(size, rate, 1) < wantedPower) return null
  let [low, high] = [0, 1 - rate]
  for (let i = 0; i < 50; i += 1) {
    const middle = (low + high) / 2
    if (power(size, rate, rate + middle) < wantedPower) low = middle
    else high = middle
  }
  return high
}

/** What became of a variant. */
export interface VariantCount {
  number: number
  sent: number
  hits: number
}

const rateOf = ({ sent, hits }: VariantCount): number => (sent === 0 ? 0 : hits / sent)

/** The one with the highest rate; of equal ones the first. */
export const leading = (counts: readonly VariantCount[]): VariantCount | undefined =>
  counts.reduce<VariantCount | undefined>(
    (best, each) => (best === undefined || rateOf(each) > rateOf(best) ? each : best),
    undefined,
  )

/**
 * The chance of a difference at least as great as that of two variants when there is none: test of two proportions
 * with pooled variance, two-sided.
 */
export function chanceOfNoDifference(a: VariantCount, b: VariantCount): number {
  const pooled = (a.hits + b.hits) / (a.sent + b.sent)
  const spread = Math.sqrt(pooled * (1 - pooled) * (1 / a.sent + 1 / b.sent))
  if (!(spread > 0)) return 1
  return 2 * (1 - normalShare(Math.abs(rateOf(a) - rateOf(b)) / spread))
}

/** Who gets which variant first: the first of a mixed order, in turn; the rest waits for what is decided. */
export function variantOf(place: number, testSize: number, variants: number): number | null {
  return place < testSize ? (place % variants) + 1 : null
}
