import type { QuizContent } from '../quiz.ts'

/**
 * Several sums that belong together as one number. By type only distances from the first result matter that can still
 * win, by points only the sum. Each is a digit of the number, which may be negative, around nothing.
 */
export class Packing {
  private readonly base: number
  private readonly inverse: number
  /** By how many digits there are: what makes each of them positive. */
  private readonly biases: readonly number[]

  /** @param reach every difference of two sums is smaller than this, and above its negative */
  constructor(
    private readonly content: Pick<QuizContent, 'by' | 'results'>,
    private readonly reach: number,
  ) {
    this.base = 2 * reach
    this.inverse = 1 / this.base
    this.biases = content.results.reduce((all, _, n) => [...all, (all[n] as number) * this.base + reach], [0])
  }

  /** Can they be told apart exactly while so many results can win? */
  holds(alive: number): boolean {
    const { by } = this.content
    const digits = by === 'points' ? 1 : alive - 1 + (by === 'both' ? 1 : 0)
    return this.base ** digits < Number.MAX_SAFE_INTEGER / 4
  }

  /**
   * @param alive places of the results that can win
   * @param of by place of the result, the sum last
   */
  pack(alive: readonly number[], of: ArrayLike<number>): number {
    const { by, results } = this.content
    const first = of[alive[0] as number] as number
    let key = 0
    if (by !== 'points')
      for (let p = 1; p < alive.length; p += 1)
        key = key * this.base + (of[alive[p] as number] as number) - first
    return by === 'type' ? key : key * this.base + (of[results.length] as number)
  }

  /** The opposite of packing. @param into by place of the result, the sum last; who cannot win is left as it is */
  unpack(alive: readonly number[], key: number, into: Float64Array): void {
    const { by, results } = this.content
    const { base, inverse, reach } = this
    const digits = by === 'points' ? 0 : alive.length - 1
    const bias = this.biases[by === 'type' ? digits : digits + 1] as number
    // With as much again every digit is positive. Below 2^51 a half more than makes up for what multiplying rounds off,
    // which is quicker than dividing.
    let rest = key + bias
    if (by !== 'type') {
      const higher = Math.floor((rest + 0.5) * inverse)
      into[results.length] = rest - higher * base - reach
      rest = higher
    }
    if (by === 'points') return
    into[alive[0] as number] = 0
    for (let p = digits; p > 0; p -= 1) {
      const higher = Math.floor((rest + 0.5) * inverse)
      into[alive[p] as number] = rest - higher * base - reach
      rest = higher
    }
  }
}
