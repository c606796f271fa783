import { describe, expect, it } from 'vitest'
import type { Condition, Leaf } from '../audience/segments/condition.ts'
import type { Program } from './program.ts'
import type { Step } from './step.ts'
import { kindsToLeave, wakingsOf } from './wakes.ts'

const lane = { label: 'x', steps: [] }
const waiting = (when: Condition, id = 'wait'): Step => ({
  kind: 'waitUntil',
  id,
  when,
  atMost: { amount: 1, unit: 'days' },
  happened: lane,
  otherwise: lane,
})
const of = (steps: Step[], rest: Partial<Program> = {}): Program => ({
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'UTC',
  ...rest,
  steps,
})
const wakings = (when: Condition, segments: Record<number, Condition> = {}): string[] =>
  wakingsOf(of([waiting(when)]), segments)
    .map(({ kind, details }) => `${kind} ${JSON.stringify(details)}`)
    .sort()

/** Each kind of question, with what can change its answer; time alone wakes nobody. */
const questions: { readonly [K in Leaf['kind']]: [Extract<Leaf, { kind: K }>, string[]] } = {
  did: [
    { kind: 'did', activity: 'emailClicked', details: { email: 4 }, atLeast: 1 },
    ['emailClicked {"email":4}'],
  ],
  hasTag: [{ kind: 'hasTag', tag: 2 }, ['tagAdded {"tag":2}', 'tagRemoved {"tag":2}']],
  field: [
    { kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } },
    ['contactChanged {}', 'contactMerged {}', 'formSent {}'],
  ],
  topic: [{ kind: 'topic', topic: 3 }, ['topicJoined {"topic":3}', 'topicLeft {"topic":3}']],
  state: [
    { kind: 'state', is: ['subscribed'] },
    ['addressConfirmed {}', 'consentGiven {}', 'contactChanged {}', 'emailFailed {}', 'unsubscribed {}'],
  ],
  score: [
    { kind: 'score', scorecard: 5, atLeast: 10 },
    ['bandLeft {"scorecard":5}', 'bandReached {"scorecard":5}'],
  ],
  band: [
    { kind: 'band', scorecard: 5, band: 'warm' },
    ['bandLeft {"scorecard":5}', 'bandReached {"scorecard":5}'],
  ],
  segment: [{ kind: 'segment', segment: 7 }, ['tagAdded {"tag":9}', 'tagRemoved {"tag":9}']],
  source: [{ kind: 'source', name: 'utm_source', test: { test: 'is', value: 'fair' } }, ['contactMerged {}']],
  deadline: [{ kind: 'deadline', deadline: 'Early', is: 'running' }, ['deadlineStarted {}']],
  created: [{ kind: 'created', within: { kind: 'last', amount: 3, unit: 'days' } }, []],
  agreedTo: [{ kind: 'agreedTo', wording: 6 }, ['consentGiven {}']],
  followup: [
    { kind: 'followup', followup: 8, is: 'finished' },
    ['followupEnded {"followup":8}', 'followupStarted {"followup":8}'],
  ],
}
const segments: Record<number, Condition> = { 7: { kind: 'hasTag', tag: 9 } }

describe('who waits for something to be true', () => {
  it.each(Object.values(questions))('is woken by what can change $kind', (leaf, expected) => {
    expect(wakings(leaf, segments)).toEqual(expected)
    // Wherever it stands in the condition.
    expect(
      wakings({ kind: 'not', of: { kind: 'any', of: [leaf, { kind: 'all', of: [] }] } }, segments),
    ).toEqual(expected)
  })

  it('is not lost in segments that name each other in a circle', () => {
    const circle: Record<number, Condition> = {
      1: {
        kind: 'any',
        of: [
          { kind: 'segment', segment: 2 },
          { kind: 'hasTag', tag: 1 },
        ],
      },
      2: {
        kind: 'any',
        of: [
          { kind: 'segment', segment: 1 },
          { kind: 'hasTag', tag: 2 },
        ],
      },
    }
    expect(wakings({ kind: 'segment', segment: 1 }, circle)).toEqual([
      'tagAdded {"tag":1}',
      'tagAdded {"tag":2}',
      'tagRemoved {"tag":1}',
      'tagRemoved {"tag":2}',
    ])
    expect(wakings({ kind: 'segment', segment: 99 }, circle)).toEqual([])
  })

  it('is woken once for what several steps wait for, also in lanes', () => {
    const asks: Condition = { kind: 'hasTag', tag: 2 }
    const steps: Step[] = [
      waiting(asks, 'a'),
      {
        kind: 'branch',
        id: 'b',
        arms: [{ label: 'x', when: { kind: 'hasTag', tag: 77 }, steps: [waiting(asks, 'c')] }],
        otherwise: { label: 'y', steps: [] },
      },
    ]
    // A branch asks when somebody comes by: nobody waits for it.
    expect(wakingsOf(of(steps), {}).map(({ details }) => details.tag)).toEqual([2, 2])
  })
})

describe('who waits for a date of theirs, or may leave', () => {
  it('is woken when the date is written anew', () => {
    const relative = (to: Extract<Step, { kind: 'waitRelative' }>['to']): Step => ({
      kind: 'waitRelative',
      id: 'wait',
      to,
      amount: 1,
      unit: 'days',
      side: 'before',
      past: 'skip',
    })
    const kinds = (step: Step): string[] => wakingsOf(of([step]), {}).map(({ kind }) => kind)
    expect(kinds(relative({ what: 'field', field: 3, time: '09:00' }))).toEqual([
      'contactChanged',
      'formSent',
    ])
    expect(kinds(relative({ what: 'deadline', offer: 'early' }))).toEqual([])
  })

  it('is woken wherever they stand by what takes them out', () => {
    const program = of([{ kind: 'waitFor', id: 'a', amount: 9, unit: 'days' }], {
      leavesWhen: [{ when: { kind: 'productBought', product: 4 } }, { when: { kind: 'productBought' } }],
    })
    expect(wakingsOf(program, {})).toEqual([
      { kind: 'productBought', details: { product: 4 } },
      { kind: 'productBought', details: {} },
    ])
    expect(kindsToLeave(program)).toEqual(['productBought'])
  })
})
