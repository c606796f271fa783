import { wilson } from '../core/results/wilson.ts'

/** Fewer than this say little (common practice). */
const enough = 100

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`

/** A rate as people read it, with its 95 % interval; of few there is none to be read. */
export function rateOf(part: number, whole: number): { words: string; interval: string } {
  if (whole < enough || part > whole) return { words: 'too few to read', interval: '' }
  const { low, high } = wilson(part, whole)
  return { words: percent(part / whole), interval: `95 % interval: ${percent(low)} to ${percent(high)}` }
}
