import { describe, expect, it } from 'vitest'
import { stranger } from '../audience/people/person.ts'
import type { Condition } from '../audience/segments/condition.ts'
import { describeCondition } from '../audience/segments/describe.ts'
import { evaluate } from '../audience/segments/evaluate.ts'
import { noNames } from '../audience/segments/names.ts'
import { canAllHold } from '../audience/segments/proving.ts'
import { deadline, deadlineEnds } from './deadline.ts'
import { stateOfDeadline } from './deadlineState.ts'
import { offerOf } from './offer.ts'
import { price } from './price.ts'

const at = (iso: string): number => Date.parse(iso)
const days = (amount: number) =>
  deadline.parse({ name: 'Early', begins: 'visit', runs: { by: 'length', lasts: { amount, unit: 'days' } } })

describe('a personal deadline', () => {
  it('keeps the time of day over the change of clocks (RFC 5545, 3.3.6), and may be a date', () => {
    // Clocks in Dublin go forward on 28 March 2027.
    expect(deadlineEnds(days(2), at('2027-03-27T09:00:00Z'), 'Europe/Dublin')).toBe(
      at('2027-03-29T08:00:00Z'),
    )
    const dated = deadline.parse({
      name: 'D',
      begins: 'sending',
      runs: { by: 'date', at: '2027-01-01T00:00:00Z' },
    })
    expect(deadlineEnds(dated, 0, 'UTC')).toBe(at('2027-01-01T00:00:00Z'))
  })

  it('has not begun, runs, and is over from its very moment on', () => {
    expect(stateOfDeadline(undefined, 5)).toBe('none')
    expect([stateOfDeadline(10, 9), stateOfDeadline(10, 10)]).toEqual(['running', 'over'])
  })

  it('needs a name and a length', () => {
    expect(deadline.safeParse({ name: ' ', begins: 'visit' }).error?.issues[0]?.message).toBe(
      'Give the deadline a name',
    )
    expect(
      deadline.safeParse({
        name: 'x',
        begins: 'visit',
        runs: { by: 'length', lasts: { amount: 0, unit: 'days' } },
      }).success,
    ).toBe(false)
  })
})

describe('a price with a personal deadline', () => {
  const early = price.parse({
    id: 'early001',
    pays: { by: 'once', amount: 4_900 },
    deadline: 'Early',
    closes: '2027-06-01T00:00:00Z',
  })
  const now = at('2027-05-01T00:00:00Z')
  const hour = 3_600_000

  it('is open for whom it runs, until the earlier of both ends', () => {
    expect(offerOf(early, now, 0, now + hour)).toMatchObject({ state: 'open', until: now + hour })
    expect(offerOf(early, now, 0, at('2027-07-01T00:00:00Z'))).toMatchObject({
      until: at('2027-06-01T00:00:00Z'),
    })
  })

  it('is closed to who has none, and to whom it is over for', () => {
    expect([offerOf(early, now, 0, undefined).state, offerOf(early, now, 0, now).state]).toEqual([
      'over',
      'over',
    ])
    // A look at the price that nobody takes tells what it is.
    expect(offerOf(early, now, 0, null).state).toBe('open')
    expect(offerOf({ ...early, deadline: null }, now, 0, undefined).state).toBe('open')
  })
})

describe('the question of a personal deadline', () => {
  const asks = (is: 'none' | 'running' | 'over'): Condition => ({ kind: 'deadline', deadline: 'Early', is })
  const context = { now: 100, zone: 'UTC', names: noNames(), segments: {}, scorecards: {} }

  it('is answered by its end, and says it', () => {
    const person = { ...stranger, deadlines: { Early: 200 } }
    expect([
      evaluate(asks('running'), person, context).holds,
      evaluate(asks('over'), person, context).holds,
    ]).toEqual([true, false])
    expect(evaluate(asks('over'), person, { ...context, now: 200 }).holds).toBe(true)
    expect(evaluate(asks('none'), stranger, context).reason).toBe(
      'the personal deadline “Early” has not begun: yes (not begun)',
    )
  })

  it('reads aloud, denied too, and is one thing of three', () => {
    expect(describeCondition({ kind: 'not', of: asks('over') }, noNames())).toBe(
      'the personal deadline “Early” is not over',
    )
    expect(canAllHold([asks('running'), asks('over')])).toBe(false)
    expect(
      canAllHold([
        { kind: 'not', of: asks('running') },
        { kind: 'not', of: asks('over') },
        { kind: 'not', of: asks('none') },
      ]),
    ).toBe(false)
    expect(canAllHold([asks('running')])).not.toBe(false)
  })
})

describe('“bought at a price”', () => {
  it('names the price by its name', () => {
    const names = {
      ...noNames(),
      products: { 3: 'First Journal' },
      choices: { 'price 3 inthree1': '3 × €29' },
    }
    const bought = (activity: 'productBought' | 'orderRefunded'): Condition => ({
      kind: 'did',
      activity,
      details: { product: 3, price: 'inthree1' },
      atLeast: activity === 'productBought' ? 2 : 1,
    })
    expect(describeCondition(bought('productBought'), names)).toBe(
      'bought “First Journal” at the price “3 × €29” at least 2 times',
    )
    expect(describeCondition(bought('orderRefunded'), names)).toBe(
      'got money back for “First Journal” at the price “3 × €29”',
    )
  })
})
