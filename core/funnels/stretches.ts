import { isEnough, wilson, type Share } from '../results/wilson.ts'

/** How many came from one station to the next. */
export interface Passage {
  /** Who was at the first of the two. */
  here: number
  /** Who of them was at the second one afterwards. */
  there: number
}

/** A stretch between two stations, as far as it can be read. */
export interface Stretch {
  share: Share
  /** Are there enough people to read a rate from? */
  readable: boolean
  /** Why this one is thought to be the weakest of the line; null for all others. */
  weakest: string | null
}

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`

/**
 * Reads the stretches of a line. The weakest is where most people are lost of those who came, among the stretches that
 * can be read; and only if it is worse than the next one beyond what chance can do (their 95 % intervals lie apart).
 */
export function readStretches(passages: readonly Passage[]): Stretch[] {
  const read = passages.map(({ here, there }) => {
    const share = wilson(Math.min(there, here), here)
    return { share, readable: isEnough(share) }
  })
  const ranked = read
    .flatMap(({ share, readable }, i) => (readable ? [{ share, i }] : []))
    .sort((a, b) => a.share.rate - b.share.rate)
  const [worst, next] = ranked
  const weakest = worst && next && worst.share.high < next.share.low ? worst.i : null
  return read.map((each, i) => ({
    ...each,
    weakest:
      i === weakest && next
        ? `${percent(each.share.rate)} go on here (95 % interval ${percent(each.share.low)} to ${percent(each.share.high)}); on every other stretch it is at least ${percent(next.share.low)}`
        : null,
  }))
}
