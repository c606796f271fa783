/** A stream of chance that a seed determines. */
export interface Chance {
  /** At least 0, below 1. */
  next(): number
  /** True with this probability. */
  flip(probability: number): boolean
  /** A whole number from 0 to below `n`. */
  below(n: number): number
  pick<T>(from: readonly T[]): T
  /** One of the values, each in proportion to its weight. */
  weighted<T>(from: readonly (readonly [T, number])[]): T
  /** Exponentially distributed with this mean. */
  delay(mean: number): number
}

function nth<T>(from: readonly T[], n: number): T {
  const found = from[n]
  if (found === undefined) throw new RangeError('there is nothing to choose from')
  return found
}

/** mulberry32: 32 bits of state, good enough to tell a story with (source: its author's public-domain code, from memory). */
export function chanceFrom(seed: number): Chance {
  let state = seed >>> 0
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0
    let t = state
    t = Math.imul(t ^ (t >>> 15), t | 1)
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61)
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32
  }
  const below = (n: number): number => Math.floor(next() * n)
  return {
    next,
    below,
    flip: (probability) => next() < probability,
    pick: (from) => nth(from, below(from.length)),
    weighted: (from) => {
      let rest = next() * from.reduce((sum, [, weight]) => sum + weight, 0)
      for (const [value, weight] of from) {
        rest -= weight
        if (rest < 0) return value
      }
      return nth(from, 0)[0]
    },
    delay: (mean) => -Math.log(1 - next()) * mean,
  }
}
