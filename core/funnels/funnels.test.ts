import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { offeredPurposes, purposes } from '../pages/page.ts'
import { moveStation, mostStations, pagesOf, stationAfter, stations, type Station } from './funnel.ts'
import { readStretches } from './stretches.ts'

const page = (n: number): Station => ({ kind: 'page', id: `p${n}`, page: n })
const outside: Station = { kind: 'outside', id: 'shop', name: 'The shop', url: 'https://shop.test/' }

const after = (lines: readonly Station[][], of: number): Station | null =>
  stationAfter(lines, (each) => pagesOf(each).includes(of))

describe('the stations of a funnel', () => {
  it.each<[string, unknown[], RegExp]>([
    ['a page that is in it twice', [page(1), { ...page(1), id: 'other' }], /twice/],
    ['two of one id', [page(1), { ...page(2), id: 'p1' }], /twice/],
    ['a page that is on two tracks', [page(1), { ...page(2), other: { page: 1, share: 50 } }], /twice/],
    ['a page beside itself', [{ ...page(1), other: { page: 1, share: 50 } }], /twice/],
    ['a share of everybody', [{ ...page(1), other: { page: 2, share: 100 } }], /./],
    ['too many', Array.from({ length: mostStations + 1 }, (_, i) => page(i + 1)), /make two of it/],
    ['an address that runs something', [{ ...outside, url: 'javascript:alert(1)' }], /web address/],
    ['a kind that is none', [{ kind: 'tunnel', id: 'a' }], /./],
    ['something of a newer version', [{ ...page(1), variant: 2 }], /variant/],
  ])('are refused with %s', (_what, line, fault) => {
    expect(stations.safeParse(line).error?.issues[0]?.message).toMatch(fault)
  })

  it('have a place for what comes with later parts: quizzes, junctions, and pages of every purpose', () => {
    const line = [page(1), { kind: 'quiz', id: 'q', quiz: 4 }, { kind: 'junction', id: 'j', junction: 2 }]
    expect(stations.safeParse(line).success).toBe(true)
    for (const later of ['room', 'replay'] as const) {
      expect(purposes[later].later).toBe(true)
      expect(offeredPurposes).not.toContain(later)
    }
  })

  it('lead from either of two pages to the one behind them', () => {
    const line = [{ ...page(1), other: { page: 5, share: 50 } } as Station, page(2)]
    expect([1, 5].map((each) => after([line], each))).toEqual([page(2), page(2)])
  })

  it('lead from each to the one behind it, wherever they stand', () => {
    const lines = [[page(1), page(2), outside], [page(3)]]
    expect(after(lines, 1)).toEqual(page(2))
    expect(after(lines, 2)).toEqual(outside)
    expect(after(lines, 3)).toBeNull()
    expect(after(lines, 9)).toBeNull()
    // The end of one line is not the end of another.
    expect(after([[page(1)], [page(1), page(2)]], 1)).toEqual(page(2))
  })

  it('are as many and the same wherever one is moved', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 8 }),
        fc.nat(9),
        fc.integer({ min: -2, max: 12 }),
        (n, of, to) => {
          const line = Array.from({ length: n }, (_, i) => page(i + 1))
          const moved = moveStation(line, `p${of + 1}`, to)
          expect(moved.map(({ id }) => id).sort()).toEqual(line.map(({ id }) => id).sort())
          if (of < n) expect(moved[Math.max(0, Math.min(n - 1, to))]?.id).toBe(`p${of + 1}`)
          const others = (all: Station[]): string[] =>
            all.map(({ id }) => id).filter((id) => id !== `p${of + 1}`)
          expect(others(moved)).toEqual(others(line))
        },
      ),
    )
  })
})

describe('the stretches between them', () => {
  it('are read with their interval: 81 of 263 is 25.5 % to 36.6 % (Newcombe 1998, table I, method 3)', () => {
    const [stretch] = readStretches([{ here: 263, there: 81 }])
    expect(stretch?.share.low).toBeCloseTo(0.2553, 4)
    expect(stretch?.share.high).toBeCloseTo(0.3662, 4)
    expect(stretch).toMatchObject({ readable: true, weakest: null })
  })

  it('have one that is the weakest, with the reason, where chance cannot have done it', () => {
    const found = readStretches([
      { here: 1_000, there: 300 },
      { here: 300, there: 240 },
    ])
    expect(found.map(({ weakest }) => weakest !== null)).toEqual([true, false])
    expect(found[0]?.weakest).toMatch(/^30\.0 % go on here \(95 % interval 27\.2 % to 32\.9 %\)/)
  })

  it('have none where chance may have done it, where few came, or where there is only one', () => {
    const none = (...all: { here: number; there: number }[]): void =>
      expect(readStretches(all).every(({ weakest }) => weakest === null)).toBe(true)
    none({ here: 100, there: 50 }, { here: 100, there: 55 })
    none({ here: 12, there: 1 }, { here: 500, there: 450 })
    none({ here: 900, there: 90 })
    none()
  })

  it('never say that more went on than came', () => {
    fc.assert(
      fc.property(fc.array(fc.record({ here: fc.nat(500), there: fc.nat(600) }), { maxLength: 8 }), (all) => {
        const found = readStretches(all)
        expect(found).toHaveLength(all.length)
        expect(found.filter(({ weakest }) => weakest !== null).length).toBeLessThanOrEqual(1)
        for (const { share } of found) {
          expect(share.rate).toBeLessThanOrEqual(1)
          expect(share.low).toBeLessThanOrEqual(share.rate)
          expect(share.high).toBeGreaterThanOrEqual(share.rate)
        }
      }),
    )
  })
})
