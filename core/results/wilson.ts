/** A share with the interval in which the true one lies. */
export interface Share {
  of: number
  among: number
  rate: number
  low: number
  high: number
}

/** Two-sided 95 %. */
const z = 1.959963984540054

/**
 * A share with its 95 % score interval, which stays within 0 and 1 and can be trusted for small counts too.
 * Source: Wilson (1927); Newcombe, Statistics in Medicine 17 (1998) 857–872, method 3.
 */
export function wilson(of: number, among: number): Share {
  if (among === 0) return { of, among, rate: 0, low: 0, high: 1 }
  const rate = of / among
  const centre = rate + (z * z) / (2 * among)
  const spread = z * Math.sqrt((rate * (1 - rate)) / among + (z * z) / (4 * among * among))
  const scale = 1 + (z * z) / among
  // Exactly 0 and 1 at the ends, where rounding would leave a trace.
  return {
    of,
    among,
    rate,
    low: of === 0 ? 0 : (centre - spread) / scale,
    high: of === among ? 1 : (centre + spread) / scale,
  }
}

/** An interval wider than this says next to nothing about where the rate lies. */
const widestReadable = 0.3

/** Is there enough to read a rate from? Fewer than 30 looked at, or an interval half as wide as the rate tells little. */
export function isEnough(share: Share): boolean {
  return share.among >= 30 && share.high - share.low <= widestReadable
}
