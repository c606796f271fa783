import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { createScoreAdder, nextCrossing, scoreAt, type Hit, type StoredScore } from './score.ts'
import { bandOf, halfLivesOf, rangeOf, scorecard, type BehaviourRule, type Scorecard } from './scorecard.ts'

const day = 86_400_000
const dayOf = (at: number): number => Math.floor(at / day)
const rule = (given: Partial<BehaviourRule>): BehaviourRule => ({
  id: 'r1',
  activity: 'emailClicked',
  details: {},
  points: 10,
  capPerDay: null,
  capInAll: null,
  halfLife: null,
  ...given,
})
const bands = [
  { id: 'cool', name: 'Cool', from: null },
  { id: 'warm', name: 'Warm', from: 10 },
  { id: 'hot', name: 'Hot', from: 30 },
]
const cardOf = (...behaviours: BehaviourRule[]): Scorecard => ({ behaviours, profile: [], bands })
const total = (card: Scorecard, hits: Hit[], at: number): number =>
  scoreAt(createScoreAdder(card, dayOf)(hits), halfLivesOf(card), at)

describe('points', () => {
  it('fade by half every half-life: value × 0.5^(age / half-life), by definition', () => {
    const card = cardOf(rule({ halfLife: 30 }))
    expect(total(card, [{ rule: 0, at: 0 }], 30 * day)).toBeCloseTo(5, 12)
    expect(total(card, [{ rule: 0, at: 0 }], 45 * day)).toBeCloseTo(10 * 0.5 ** 1.5, 12)
  })

  it('stop at the cap of the day, and begin again on the next', () => {
    const card = cardOf(rule({ capPerDay: 15 }))
    const hits = [1, 2, 3].map((hour) => ({ rule: 0, at: hour * 3_600_000 }))
    expect(total(card, hits, day)).toBe(15)
    expect(total(card, [...hits, { rule: 0, at: day + 1 }], 2 * day)).toBe(25)
  })

  it('stop for good at the cap in all, counted before fading; a cap holds for minus points too', () => {
    const hits = [0, 1, 2, 3].map((days) => ({ rule: 0, at: days * day }))
    expect(total(cardOf(rule({ capInAll: 25 })), hits, 9 * day)).toBe(25)
    expect(total(cardOf(rule({ points: -10, capInAll: 25 })), hits, 9 * day)).toBe(-25)
  })

  it('are, at any moment, what adding up every single one would give', () => {
    const card = cardOf(
      rule({ halfLife: 7 }),
      rule({ id: 'r2', halfLife: 30, points: -3 }),
      rule({ id: 'r3', points: 2 }),
    )
    fc.assert(
      fc.property(
        fc.array(fc.record({ rule: fc.nat(2), at: fc.nat(400 * day) }), { maxLength: 40 }),
        (hits) => {
          const now = 401 * day
          const expected = hits.reduce((sum, { rule: i, at }) => {
            const { points, halfLife } = card.behaviours[i]!
            return sum + points * (halfLife === null ? 1 : 0.5 ** ((now - at) / (halfLife * day)))
          }, 0)
          expect(
            total(
              card,
              [...hits].sort((a, b) => a.at - b.at),
              now,
            ),
          ).toBeCloseTo(expected, 8)
        },
      ),
    )
  })
})

describe('the moment at which time alone changes the band', () => {
  const card = cardOf(rule({ halfLife: 10 }), rule({ id: 'r2', halfLife: 40 }))

  it('is one half-life away for a score of twice the threshold', () => {
    const stored: StoredScore = { asOf: 0, steady: 0, fading: [20, 0] }
    const crossing = nextCrossing(card, stored, 0)
    expect(crossing?.band.id).toBe('cool')
    expect(Math.abs((crossing?.at ?? 0) - 10 * day)).toBeLessThanOrEqual(1)
  })

  it('never comes when the points that stay are enough, or nothing is left to fade', () => {
    expect(nextCrossing(card, { asOf: 0, steady: 12, fading: [5, 5] }, 0)).toBeNull()
    expect(nextCrossing(card, { asOf: 0, steady: 0, fading: [0, 0] }, 0)).toBeNull()
  })

  it('can lead upwards when minus points fade', () => {
    const crossing = nextCrossing(card, { asOf: 0, steady: 15, fading: [-10, 0] }, 0)
    expect(crossing?.band.id).toBe('warm')
    expect(Math.abs((crossing?.at ?? 0) - 10 * day)).toBeLessThanOrEqual(1)
  })

  it('is the first of all, also when plus and minus points fade at different speeds', () => {
    const points = fc.integer({ min: -60, max: 60 })
    fc.assert(
      fc.property(points, points, points, fc.nat(30 * day), (steady, fast, slow, from) => {
        const stored = { asOf: 0, steady, fading: [fast, slow] }
        const at = (moment: number): number => scoreAt(stored, halfLivesOf(card), moment)
        const bandAt = (moment: number) => bandOf(card, at(moment)).id
        // Points that fade for years bring a score so near to a threshold that rounding takes it across.
        const isTold = (moment: number): boolean =>
          card.bands.every(({ from: threshold }) => Math.abs(at(moment) - (threshold ?? -Infinity)) > 1e-9)
        const crossing = nextCrossing(card, stored, from)
        const end = crossing?.at ?? from + 600 * day
        // Looked at every quarter of a day until then, and right before and at it.
        const moments: number[] = []
        for (let n = from; n < Math.min(end, from + 600 * day); n += day / 4) moments.push(n)
        expect(moments.filter((each) => isTold(each) && bandAt(each) !== bandAt(from))).toEqual([])
        if (crossing) {
          expect(bandAt(crossing.at)).toBe(crossing.band.id)
          expect(bandAt(crossing.at)).not.toBe(bandAt(from))
          expect(bandAt(crossing.at - 2)).toBe(bandAt(from))
        }
      }),
      // The first example stands exactly on the threshold of the upper band at first, the second comes up to it for ever.
      {
        numRuns: 300,
        examples: [
          [-3, 57, -24, 0],
          [30, -1, 0, 0],
        ],
      },
    )
  })
})

describe('bands', () => {
  it('begin at their threshold', () => {
    expect([-5, 9.99, 10, 29, 30, 500].map((score) => bandOf({ bands }, score).name)).toEqual([
      'Cool',
      'Cool',
      'Warm',
      'Warm',
      'Hot',
      'Hot',
    ])
    expect(rangeOf({ bands }, 'warm')).toEqual({ from: 10, below: 30 })
    expect(rangeOf({ bands }, 'gone')).toBeNull()
  })

  it.each([
    ['no lowest band', [{ id: 'a', name: 'A', from: 1 }]],
    [
      'two without a threshold',
      [
        { id: 'a', name: 'A', from: null },
        { id: 'b', name: 'B', from: null },
      ],
    ],
    ['a wrong order', [bands[0], bands[2], bands[1]]],
    ['one name twice', [bands[0], { ...bands[1], name: 'cool' }]],
  ])('are refused with %s', (_what, wrong) => {
    expect(scorecard.safeParse({ behaviours: [], profile: [], bands: wrong }).success).toBe(false)
  })
})

describe('a half-life', () => {
  it.each([
    [1e-9, false],
    [1 / 24, true],
    [30, true],
    [3_650, true],
    [1e9, false],
    [-1, false],
    [null, true],
  ])('of %s days is fine: %s', (halfLife, fine) => {
    const bands = [{ id: 'cool', name: 'Cool', from: null }]
    expect(scorecard.safeParse({ behaviours: [rule({ halfLife })], profile: [], bands }).success).toBe(fine)
  })
})
