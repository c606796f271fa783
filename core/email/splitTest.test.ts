import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { normalQuantile, normalShare } from '../results/normal.ts'
import { chanceOfNoDifference, leading, leastDifference, power, sizeFor, variantOf } from './splitTest.ts'

describe('the normal distribution', () => {
  it('is that of the tables (Abramowitz & Stegun, table 26.1 and 26.5)', () => {
    for (const [value, share] of [
      [0, 0.5],
      [1, 0.8413447461],
      [1.96, 0.9750021049],
      [-2.5, 0.0062096653],
    ] as const)
      expect(normalShare(value)).toBeCloseTo(share, 6)
    expect(normalQuantile(0.975)).toBeCloseTo(1.959964, 4)
    expect(normalQuantile(0.8)).toBeCloseTo(0.841621, 4)
  })
})

describe('the power of a split test', () => {
  it('is that of the documentation of R’s power.prop.test', () => {
    expect(power(50, 0.5, 0.75)).toBeCloseTo(0.7402, 4)
    expect(sizeFor(0.9, 0.5, 0.75)).toBeCloseTo(76.7, 1)
  })

  it('gives the least difference that is seen often enough', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 30, max: 100_000 }),
        fc.double({ min: 0.01, max: 0.8, noNaN: true }),
        (size, rate) => {
          const least = leastDifference(size, rate)
          fc.pre(least !== null)
          expect(power(size, rate, rate + least)).toBeCloseTo(0.8, 3)
          const more = leastDifference(size * 4, rate)
          expect(more).toBeLessThan(least)
        },
      ),
    )
    expect(leastDifference(2, 0.2)).toBeNull()
  })

  it('tells chance from difference (test of two proportions; worked by hand from its formula)', () => {
    // 60 of 200 against 90 of 200: pooled 0.375, standard error 0.048412, z = 3.0984.
    const [a, b] = [
      { number: 1, sent: 200, hits: 60 },
      { number: 2, sent: 200, hits: 90 },
    ]
    expect(chanceOfNoDifference(a, b)).toBeCloseTo(2 * (1 - normalShare(3.0984)), 5)
    expect(chanceOfNoDifference(a, { ...a, number: 2 })).toBeCloseTo(1, 6)
    expect(chanceOfNoDifference({ number: 1, sent: 0, hits: 0 }, { number: 2, sent: 0, hits: 0 })).toBe(1)
    expect(leading([a, b])?.number).toBe(2)
    expect(leading([a, { ...a, number: 2 }])?.number).toBe(1)
    expect(leading([])).toBeUndefined()
  })

  it('shares the readers of the test evenly, and leaves the rest for later', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 500 }),
        fc.integer({ min: 0, max: 500 }),
        fc.integer({ min: 2, max: 4 }),
        (people, testSize, variants) => {
          const got = Array.from({ length: people }, (_, place) => variantOf(place, testSize, variants))
          const counts = Array.from(
            { length: variants },
            (_, n) => got.filter((each) => each === n + 1).length,
          )
          expect(counts.reduce((sum, each) => sum + each, 0)).toBe(Math.min(people, testSize))
          expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1)
        },
      ),
    )
  })
})
