import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { differenceOf } from './difference.ts'
import { fitLogistic } from './logistic.ts'
import { areaUnderRoc } from './roc.ts'
import { isEnough, wilson } from './wilson.ts'

describe('the interval of a difference of two shares', () => {
  // Newcombe, Statistics in Medicine 17 (1998) 873–890, table II, method 10; the second one from memory.
  it.each([
    [56, 70, 48, 80, 0.0524, 0.3339],
    [9, 10, 3, 10, 0.1705, 0.809],
  ])('%d of %d beside %d of %d', (of, among, otherOf, otherAmong, low, high) => {
    const found = differenceOf(wilson(of, among), wilson(otherOf, otherAmong))
    expect(found.difference).toBeCloseTo(of / among - otherOf / otherAmong, 12)
    expect(found.low).toBeCloseTo(low, 4)
    expect(found.high).toBeCloseTo(high, 4)
  })

  it('says nothing where nobody was looked at', () => {
    expect(differenceOf(wilson(3, 9), wilson(0, 0))).toEqual({ difference: 0, low: -1, high: 1 })
  })

  it('is the same seen from the other side, and never leaves what can be (fast-check)', () => {
    const share = fc
      .integer({ min: 1, max: 400 })
      .chain((among) => fc.integer({ min: 0, max: among }).map((of) => wilson(of, among)))
    fc.assert(
      fc.property(share, share, (one, other) => {
        const [there, back] = [differenceOf(one, other), differenceOf(other, one)]
        expect(there.low).toBeCloseTo(-back.high, 12)
        expect(there.low).toBeLessThanOrEqual(there.difference)
        expect(there.high).toBeGreaterThanOrEqual(there.difference)
        expect(Math.abs(there.low)).toBeLessThanOrEqual(1 + 1e-12)
      }),
    )
  })
})

describe('the interval of a share', () => {
  // Newcombe, Statistics in Medicine 17 (1998) 857–872, table I, method 3; to the four decimals printed there.
  it.each([
    [81, 263, 0.2553, 0.3662],
    [15, 148, 0.0624, 0.1605],
    [0, 20, 0, 0.1611],
    [1, 29, 0.0061, 0.1718],
  ])('%d of %d', (of, among, low, high) => {
    const share = wilson(of, among)
    expect(share.low).toBeCloseTo(low, 4)
    expect(share.high).toBeCloseTo(high, 4)
  })

  it('says that 2 sign-ups from 12 visitors are too few to read (common practice; interval by Wilson, 1927)', () => {
    const share = wilson(2, 12)
    expect(share.rate).toBeCloseTo(0.167, 3)
    expect([share.low, share.high].map((each) => Number(each.toFixed(3)))).toEqual([0.047, 0.448])
    expect(isEnough(share)).toBe(false)
    expect(isEnough(wilson(81, 263))).toBe(true)
  })

  it('solves the equation it comes from, whatever the counts: |p − rate| = z √(p(1 − p)/n) at both ends', () => {
    // The 97.5 % point of the normal distribution, as handbook tables have it.
    const z = 1.95996398
    fc.assert(
      fc.property(fc.nat(1000), fc.nat(1000), (did, not) => {
        fc.pre(did > 0 && not > 0)
        const { rate, low, high, among } = wilson(did, did + not)
        for (const p of [low, high])
          expect(Math.abs(p - rate)).toBeCloseTo(z * Math.sqrt((p * (1 - p)) / among), 7)
      }),
    )
  })
})

describe('the area under the ROC curve', () => {
  it('is 0.893 for the CT ratings of Hanley & McNeil, Radiology 143 (1982) 29–36', () => {
    const rated = (counts: readonly number[], did: boolean) =>
      counts.flatMap((n, rating) => Array.from({ length: n }, () => ({ rating, did })))
    const all = [...rated([33, 6, 6, 11, 2], false), ...rated([3, 2, 2, 11, 33], true)]
    expect(all).toHaveLength(109)
    expect(
      areaUnderRoc(
        all.map(({ rating }) => rating),
        all.map(({ did }) => did),
      ),
    ).toBeCloseTo(0.893, 3)
  })

  it('is the share of pairs in the right order, ties counting half (the definition, by brute force)', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ score: fc.nat(5), did: fc.boolean() }), { minLength: 2, maxLength: 30 }),
        (all) => {
          const yes = all.filter(({ did }) => did)
          const no = all.filter(({ did }) => !did)
          const wins = yes.flatMap((a) =>
            no.map((b): number => (a.score > b.score ? 1 : a.score === b.score ? 0.5 : 0)),
          )
          const expected = wins.length === 0 ? null : wins.reduce((sum, each) => sum + each, 0) / wins.length
          const area = areaUnderRoc(
            all.map(({ score }) => score),
            all.map(({ did }) => did),
          )
          if (expected === null) expect(area).toBeNull()
          else expect(area).toBeCloseTo(expected, 12)
        },
      ),
    )
  })
})

/** Hours of study and whether the exam was passed: the worked example in Wikipedia's "Logistic regression", from memory. */
const study: [number, boolean][] = [
  [0.5, false],
  [0.75, false],
  [1, false],
  [1.25, false],
  [1.5, false],
  [1.75, false],
  [1.75, true],
  [2, false],
  [2.25, true],
  [2.5, false],
  [2.75, true],
  [3, false],
  [3.25, true],
  [3.5, false],
  [4, true],
  [4.25, true],
  [4.5, true],
  [4.75, true],
  [5, true],
  [5.5, true],
]

/** Temperature in °F and any O-ring damage, 23 shuttle flights: Dalal, Fowlkes, Hoadley, JASA 84 (1989), from memory. */
const flights: [number, boolean][] = [
  [53, true],
  [57, true],
  [58, true],
  [63, true],
  [66, false],
  [67, false],
  [67, false],
  [67, false],
  [68, false],
  [69, false],
  [70, true],
  [70, false],
  [70, true],
  [70, false],
  [72, false],
  [73, false],
  [75, true],
  [75, false],
  [76, false],
  [76, false],
  [78, false],
  [79, false],
  [81, false],
]

describe('logistic regression', () => {
  const fit = (data: readonly [number, boolean][], ridge = 0) =>
    fitLogistic(
      data.map(([x]) => [x]),
      data.map(([, y]) => y),
      ridge,
    )

  it('is intercept −4.0777 and slope 1.5046 for the hours of study', () => {
    const { intercept, weights, converged } = fit(study)
    expect(converged).toBe(true)
    expect(intercept).toBeCloseTo(-4.0777, 4)
    expect(weights[0]).toBeCloseTo(1.5046, 4)
  })

  it('is 15.0429 and −0.2322 for the O-rings', () => {
    const { intercept, weights } = fit(flights)
    expect(intercept).toBeCloseTo(15.0429, 4)
    expect(weights[0]).toBeCloseTo(-0.2322, 4)
  })

  it('rests where the penalised likelihood has no slope (the condition that defines it)', () => {
    const ridge = 0.7
    const { intercept, weights } = fit(study, ridge)
    const misses = study.map(([x, y]) => ({
      x,
      miss: Number(y) - 1 / (1 + Math.exp(-(intercept + (weights[0] ?? 0) * x))),
    }))
    expect(misses.reduce((sum, { miss }) => sum + miss, 0)).toBeCloseTo(0, 8)
    expect(misses.reduce((sum, { x, miss }) => sum + x * miss, 0)).toBeCloseTo(ridge * (weights[0] ?? 0), 8)
  })

  it('says so when the outcome can be told perfectly, and holds still with a ridge', () => {
    const parted: [number, boolean][] = [
      [1, false],
      [2, false],
      [3, true],
      [4, true],
    ]
    expect(() => fit(parted)).toThrow(RangeError)
    expect(fit(parted, 1).converged).toBe(true)
  })
})
