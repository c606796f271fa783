import { describe, expect, it } from 'vitest'
import type { Activity } from '../people/activity.ts'
import type { Condition } from './condition.ts'
import { evaluate, formatTime, type EvaluationContext } from './evaluate.ts'
import { noNames } from './names.ts'
import { stranger, type Person } from '../people/person.ts'

const now = Date.parse('2026-03-05T09:00:00Z')
const context: EvaluationContext = {
  now,
  zone: 'Europe/Dublin',
  names: { ...noNames(), emails: { 1: 'Your template pack' }, tags: { 1: 'Buyer' } },
  segments: {},
  scorecards: {},
}
const click = (at: number): Activity => ({
  kind: 'emailClicked',
  at,
  details: { email: 1, message: 1, link: 1 },
})
const person: Person = {
  ...stranger,
  tags: new Set([1]),
  activities: [click(now - 2000), click(now - 1000), click(now + 1000)],
}
const clicked = (atLeast: number): Condition => ({
  kind: 'did',
  activity: 'emailClicked',
  details: { email: 1 },
  atLeast,
})

describe('a condition', () => {
  it('counts only what has happened by now', () => {
    expect(evaluate(clicked(2), person, context).holds).toBe(true)
    expect(evaluate(clicked(3), person, context).holds).toBe(false)
  })

  it('counts nothing from before the moment that it looks from', () => {
    expect(evaluate(clicked(2), person, { ...context, since: now - 1500 }).holds).toBe(false)
  })

  it('follows logic also for nothing: all of nothing holds, any of nothing does not', () => {
    expect(evaluate({ kind: 'all', of: [] }, person, context).holds).toBe(true)
    expect(evaluate({ kind: 'any', of: [] }, person, context).holds).toBe(false)
    expect(evaluate({ kind: 'not', of: { kind: 'all', of: [] } }, person, context).holds).toBe(false)
  })

  it('tells only the parts that decided', () => {
    const both: Condition = { kind: 'all', of: [{ kind: 'hasTag', tag: 1 }, clicked(5)] }
    expect(evaluate(both, person, context).reason).toMatch(/^clicked in “Your template pack”: no/)
    expect(evaluate({ kind: 'any', of: both.of }, person, context).reason).toBe('has the tag “Buyer”: yes')
  })

  it('names a thing that is gone as gone', () => {
    expect(evaluate({ kind: 'hasTag', tag: 9 }, person, context).reason).toBe(
      'has the tag something deleted (9): cannot be told',
    )
  })
})

it('tells time in the zone it is asked for', () => {
  // Kathmandu is UTC+05:45 (IANA time zone database).
  expect(formatTime(now, 'Asia/Kathmandu')).toBe('5 Mar 14:45')
})
