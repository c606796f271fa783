import { describe, expect, it } from 'vitest'
import { condition, mostQuestions, type Condition } from './condition.ts'
import { asksTooMuch, countQuestions } from './conditionSize.ts'

const tag: Condition = { kind: 'hasTag', tag: 1 }
const segment = (id: number): Condition => ({ kind: 'segment', segment: id })
const any = (of: Condition[]): Condition => ({ kind: 'any', of })
const times = (n: number, of: Condition): Condition => any(Array.from({ length: n }, () => of))

describe('the size of a condition', () => {
  it('is how many questions it asks, those of segments with it', () => {
    expect(countQuestions({ kind: 'all', of: [] }, {})).toBe(0)
    expect(countQuestions({ kind: 'not', of: times(3, tag) }, {})).toBe(3)
    // Worked by hand: two of segment 1 (itself and 4 questions each), and one more.
    expect(countQuestions(any([segment(1), segment(1), tag]), { 1: times(4, tag) })).toBe(11)
    expect(countQuestions(segment(9), {})).toBe(1)
  })

  it('is found at once where segments multiply, and where they lead back to themselves', () => {
    const tower = Object.fromEntries(
      Array.from({ length: 60 }, (_, i) => [i + 1, i === 0 ? tag : times(50, segment(i))]),
    )
    expect(asksTooMuch(segment(60), tower)).toBe(true)
    expect(countQuestions(segment(1), { 1: any([tag, segment(1)]) })).toBe(3)
  })

  it('has a limit that the form of a condition keeps by itself', () => {
    const wide = (n: number) => any(Array.from({ length: n / 50 }, () => times(50, tag)))
    expect(condition.safeParse(wide(mostQuestions)).success).toBe(true)
    const read = condition.safeParse(wide(mostQuestions + 50))
    expect(read.error?.issues[0]?.message).toBe(
      'A condition may ask 200 questions at most: take some lines out',
    )
  })
})
