import type { Share } from './wilson.ts'

/** How much one share is above another, with the interval in which the true difference lies. */
export interface Difference {
  difference: number
  low: number
  high: number
}

/**
 * The difference of two shares of different people with its 95 % interval, made of the score intervals of both.
 * Source: Newcombe, Statistics in Medicine 17 (1998) 873–890, method 10.
 */
export function differenceOf(one: Share, other: Share): Difference {
  if (one.among === 0 || other.among === 0) return { difference: 0, low: -1, high: 1 }
  const difference = one.rate - other.rate
  return {
    difference,
    low: difference - Math.hypot(one.rate - one.low, other.high - other.rate),
    high: difference + Math.hypot(one.high - one.rate, other.rate - other.low),
  }
}
