import { describe, expect, it } from 'vitest'
import { acceptSuggestion, suggestPoints, type History } from './suggestion.ts'
import { checkScores } from './scoreCheck.ts'
import type { Scorecard } from './scorecard.ts'
import { chanceFrom } from '../../chance.ts'

const today: Scorecard = {
  behaviours: [
    {
      id: 'old',
      activity: 'emailClicked',
      details: {},
      points: 3,
      capPerDay: 9,
      capInAll: null,
      halfLife: 30,
    },
  ],
  profile: [],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'hot', name: 'Hot', from: 10 },
  ],
}

/** People for whom a visit counts twice as much as a click, and opening tells nothing. */
function madeUp(people: number): History {
  const chance = chanceFrom(7)
  const counts = Array.from({ length: people }, () => [chance.below(4), chance.below(3), chance.below(6)])
  const outcomes = counts.map(([clicks = 0, visits = 0]) =>
    chance.flip(1 / (1 + Math.exp(4 - clicks - 2 * visits))),
  )
  return {
    behaviours: [
      { activity: 'emailClicked', details: {}, halfLife: null },
      { activity: 'pageVisited', details: { page: 1 }, halfLife: null },
      { activity: 'emailOpened', details: {}, halfLife: null },
    ],
    counts,
    outcomes,
  }
}

describe('suggested points', () => {
  it('find the weights that the history was made with', () => {
    const [click, visit, open] = suggestPoints(madeUp(5000), today)
    expect(visit?.points).toBe(20)
    expect(Math.abs((click?.points ?? 0) - 10)).toBeLessThanOrEqual(1)
    expect(Math.abs(open?.points ?? 9)).toBeLessThanOrEqual(1)
    expect([click?.today, visit?.today]).toEqual([3, 0])
  })

  it('say when too few people did it', () => {
    const history = madeUp(100)
    expect(() =>
      suggestPoints({ ...history, outcomes: history.outcomes.map((_, i) => i < 3) }, today),
    ).toThrow('only 3 people did it')
  })

  it('become rules that fade or are capped, and leave out what gives nothing', () => {
    const accepted = acceptSuggestion(today, [
      { activity: 'emailClicked', details: {}, halfLife: 30, points: 8, times: 1, today: 3 },
      { activity: 'emailOpened', details: {}, halfLife: null, points: 0, times: 5, today: 0 },
      { activity: 'pageVisited', details: {}, halfLife: null, points: -2, times: 4, today: 0 },
    ])
    expect(accepted.behaviours).toEqual([
      {
        id: 'old',
        activity: 'emailClicked',
        details: {},
        points: 8,
        capPerDay: null,
        capInAll: null,
        halfLife: 30,
      },
      {
        id: 'suggested-2',
        activity: 'pageVisited',
        details: {},
        points: -2,
        capPerDay: null,
        capInAll: 8,
        halfLife: null,
      },
    ])
  })
})

describe('whether a score means anything', () => {
  it('is told by band, beside everybody', () => {
    const scores = [0, 0, 0, 0, 20, 20, 20, 20]
    const check = checkScores(today, scores, [false, false, false, true, true, true, true, false])
    expect(check.bands.map(({ name, share, lift }) => [name, share.of, share.among, lift])).toEqual([
      ['Cool', 1, 4, 0.5],
      ['Hot', 3, 4, 1.5],
    ])
    // Of the 16 pairs 9 are in order, 6 are ties and one is the wrong way round: counted by hand.
    expect(check.area).toBe((9 + 6 / 2) / 16)
  })
})
