import { describe, expect, it } from 'vitest'
import { chanceFrom } from './chance.ts'

const draws = 20_000
const drawn = <T>(draw: () => T): T[] => Array.from({ length: draws }, draw)
const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / values.length

describe('chance from a seed', () => {
  it('repeats itself, and differs from that of another seed', () => {
    const [a, b, c] = [chanceFrom(1), chanceFrom(1), chanceFrom(2)]
    const run = (chance: typeof a) => Array.from({ length: 50 }, () => chance.next())
    const first = run(a)
    expect(run(b)).toEqual(first)
    expect(run(c)).not.toEqual(first)
  })

  it('is spread evenly: a chi-square of ten equal parts stays below its 99.9 % point, 27.88 (9 df; handbook table)', () => {
    const chance = chanceFrom(20261124)
    const counts = new Array<number>(10).fill(0)
    for (const value of drawn(() => chance.next())) {
      expect(value).toBeGreaterThanOrEqual(0)
      expect(value).toBeLessThan(1)
      counts[Math.floor(value * 10)]! += 1
    }
    const expected = draws / 10
    const chiSquare = counts.reduce((sum, n) => sum + (n - expected) ** 2 / expected, 0)
    expect(chiSquare).toBeLessThan(27.88)
  })

  it('flips, picks and weighs in proportion', () => {
    const chance = chanceFrom(3)
    // Four standard errors of a share of 0.3 among 20,000: 0.013.
    expect(mean(drawn(() => (chance.flip(0.3) ? 1 : 0)))).toBeCloseTo(0.3, 1.8)
    const picked = drawn(() => chance.pick(['a', 'b', 'c', 'd']))
    expect(mean(picked.map((each) => (each === 'd' ? 1 : 0)))).toBeCloseTo(0.25, 1.8)
    const weighed = drawn(() =>
      chance.weighted([
        ['rare', 1],
        ['common', 9],
        ['never', 0],
      ]),
    )
    expect(mean(weighed.map((each) => (each === 'rare' ? 1 : 0)))).toBeCloseTo(0.1, 1.8)
    expect(weighed).not.toContain('never')
  })

  it('waits on average as long as is wished, and sometimes much longer (exponential distribution)', () => {
    const chance = chanceFrom(4)
    const delays = drawn(() => chance.delay(60))
    expect(mean(delays) / 60).toBeCloseTo(1, 1)
    // P(longer than twice the mean) = e^-2 = 0.1353.
    expect(mean(delays.map((each) => (each > 120 ? 1 : 0)))).toBeCloseTo(0.1353, 1.8)
    expect(Math.min(...delays)).toBeGreaterThanOrEqual(0)
  })

  it('cannot choose from nothing', () => {
    expect(() => chanceFrom(1).pick([])).toThrow(RangeError)
  })
})
