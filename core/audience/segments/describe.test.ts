import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyCondition } from '../../../testing/conditions.ts'
import { activityDetails, type ActivityKind } from '../people/activity.ts'
import type { Condition, FieldTest } from './condition.ts'
import { noNames } from './names.ts'
import { missingIn } from './references.ts'
import type { Scorecard } from '../scores/scorecard.ts'
import { describeActivity, describeCondition, formatScore, describeTest, describeWithin } from './describe.ts'

const names = {
  ...noNames(),
  tags: { 1: 'Template pack' },
  emails: { 4: 'Grain direction' },
  links: { 11: 'Read it' },
  topics: { 9: 'Newsletter' },
  segments: { 5: 'Warm and here' },
  scorecards: { 7: 'Interest' },
  followups: { 6: 'Your template pack' },
  fields: { 3: 'Binding' },
  quizzes: { 2: 'Which binding?' },
  choices: { '3 coptic': 'Coptic', '4 case': 'another field’s' },
}
const card: Scorecard = {
  behaviours: [],
  profile: [],
  bands: [
    { id: 'cool', name: 'Cool', from: null },
    { id: 'band-2', name: 'Hot', from: 30 },
  ],
}
const told = (tree: Condition): string => describeCondition(tree, names, { 7: card })

describe('a condition reads aloud', () => {
  it.each<[Condition, string]>([
    [{ kind: 'hasTag', tag: 1 }, 'has the tag “Template pack”'],
    [{ kind: 'topic', topic: 9 }, 'agreed to the topic “Newsletter”'],
    [{ kind: 'state', is: ['subscribed', 'waiting'] }, 'is subscribed or waiting for confirmation'],
    [
      { kind: 'field', field: 'firstName', test: { test: 'startsWith', value: 'A' } },
      'first name starts with “A”',
    ],
    [
      { kind: 'field', field: 3, test: { test: 'isAnyOf', values: ['coptic', 'case'] } },
      '“Binding” is “Coptic” or “case”',
    ],
    [
      { kind: 'score', scorecard: 7, atLeast: 10, below: 30 },
      'score on “Interest” is at least 10 and is below 30',
    ],
    [{ kind: 'score', scorecard: 7, below: 30 }, 'score on “Interest” is below 30'],
    [{ kind: 'band', scorecard: 7, band: 'band-2' }, 'is in the band “Hot” of “Interest”'],
    [{ kind: 'segment', segment: 5 }, 'is in the segment “Warm and here”'],
    [{ kind: 'source', name: 'utm_source', test: { test: 'is', value: 'fair' } }, 'utm_source is “fair”'],
    [
      { kind: 'created', within: { kind: 'last', amount: 1, unit: 'days' } },
      'joined the list in the last day',
    ],
    [{ kind: 'followup', followup: 6, is: 'finished' }, 'has finished the follow-up “Your template pack”'],
    [
      { kind: 'did', activity: 'emailClicked', details: { email: 4, link: 11 }, atLeast: 1 },
      'clicked “Read it” in “Grain direction”',
    ],
    [
      {
        kind: 'did',
        activity: 'emailOpened',
        details: {},
        atLeast: 3,
        within: { kind: 'last', amount: 2, unit: 'weeks' },
      },
      'opened any email at least 3 times in the last 2 weeks',
    ],
    [
      { kind: 'did', activity: 'bandReached', details: { scorecard: 7, band: 'band-2' }, atLeast: 1 },
      'reached the band “Hot” of “Interest”',
    ],
    [{ kind: 'did', activity: 'bandLeft', details: {}, atLeast: 1 }, 'dropped out of any band'],
    [
      { kind: 'did', activity: 'quizFinished', details: { quiz: 2, result: 'Folder' }, atLeast: 1 },
      'finished the quiz “Which binding?” with “Folder”',
    ],
  ])('%j', (tree, words) => expect(told(tree)).toBe(words))

  it('with brackets where groups nest, so that it can be read in one way only', () => {
    const tag = { kind: 'hasTag', tag: 1 } as const
    const topic = { kind: 'topic', topic: 9 } as const
    expect(told({ kind: 'all', of: [tag, { kind: 'any', of: [topic, { kind: 'not', of: tag }] }] })).toBe(
      'has the tag “Template pack” and (agreed to the topic “Newsletter” or does not have the tag “Template pack”)',
    )
  })

  it.each<[Condition, string]>([
    [{ kind: 'hasTag', tag: 1 }, 'does not have the tag “Template pack”'],
    [{ kind: 'topic', topic: 9 }, 'did not agree to the topic “Newsletter”'],
    [{ kind: 'state', is: ['subscribed'] }, 'is not subscribed'],
    [{ kind: 'state', is: ['bounced', 'complained'] }, 'is neither bounced nor complained'],
    [{ kind: 'segment', segment: 5 }, 'is not in the segment “Warm and here”'],
    [{ kind: 'band', scorecard: 7, band: 'cool' }, 'is not in the band “Cool” of “Interest”'],
    [{ kind: 'followup', followup: 6, is: 'inside' }, 'is not inside the follow-up “Your template pack”'],
    [
      { kind: 'followup', followup: 6, is: 'finished' },
      'has not finished the follow-up “Your template pack”',
    ],
    [{ kind: 'followup', followup: 6, is: 'ever' }, 'never was in the follow-up “Your template pack”'],
    [
      { kind: 'created', within: { kind: 'last', amount: 90, unit: 'days' } },
      'did not join the list in the last 90 days',
    ],
    [
      {
        kind: 'did',
        activity: 'emailOpened',
        details: {},
        atLeast: 1,
        within: { kind: 'last', amount: 90, unit: 'days' },
      },
      'never opened any email in the last 90 days',
    ],
    [
      { kind: 'did', activity: 'emailClicked', details: { email: 4 }, atLeast: 3 },
      'clicked in “Grain direction” less than 3 times',
    ],
    [{ kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } }, 'country is not “Ireland”'],
    [
      { kind: 'field', field: 'firstName', test: { test: 'contains', value: 'an' } },
      'first name does not contain “an”',
    ],
    [
      { kind: 'field', field: 3, test: { test: 'inLastDays', days: 7 } },
      '“Binding” was not in the last 7 days',
    ],
    [
      { kind: 'field', field: 3, test: { test: 'hasAllOf', values: ['coptic'] } },
      '“Binding” does not have all of “Coptic”',
    ],
    [
      { kind: 'source', name: 'utm_source', test: { test: 'startsWith', value: 'shelf' } },
      'utm_source does not start with “shelf”',
    ],
    [{ kind: 'any', of: [{ kind: 'hasTag', tag: 1 }] }, 'not: (has the tag “Template pack”)'],
  ])('denied: %j', (of, words) => expect(told({ kind: 'not', of })).toBe(words))

  it('also when there is nothing in it', () => {
    expect(told({ kind: 'all', of: [] })).toBe('everybody')
    expect(told({ kind: 'any', of: [] })).toBe('nobody')
  })

  it('and names what is gone as gone, each once', () => {
    const gone = { kind: 'hasTag', tag: 77 } as const
    const tree: Condition = {
      kind: 'all',
      of: [
        gone,
        { kind: 'not', of: gone },
        { kind: 'did', activity: 'emailClicked', details: { email: 4, link: 99 }, atLeast: 1 },
      ],
    }
    expect(told(tree)).toContain('has the tag something deleted (77)')
    expect(missingIn(tree, names)).toEqual([
      'the tag something deleted (77)',
      'the link something deleted (99)',
    ])
  })

  it('whatever it is: in words, with no hole in the sentence', () => {
    fc.assert(
      fc.property(anyCondition, (tree) => {
        const words = describeCondition(tree, names, { 7: card })
        expect(words).not.toMatch(/undefined|null|\[object|NaN| {2}/)
        expect(words.length).toBeGreaterThan(0)
      }),
      { numRuns: 300 },
    )
  })
})

describe('an activity reads aloud', () => {
  it.each(Object.keys(activityDetails) as ActivityKind[])('%s has words of its own', (kind) => {
    const words = describeActivity(kind, {}, noNames())
    // Not the name in the code, unless that is a word itself.
    expect(words).not.toMatch(/[A-Z]/)
  })

  it('with what it was about', () => {
    expect(describeActivity('tagAdded', { tag: 1, by: 'Mara' }, names)).toBe('got the tag “Template pack”')
    expect(describeActivity('unsubscribed', { by: 'team', import: 12 }, names)).toBe(
      'unsubscribed by import 12',
    )
    expect(
      describeActivity('bandReached', { scorecard: 7, band: 'band-2', name: 'Warm', from: 'Cool' }, names),
    ).toBe('reached the band “Warm” of “Interest”')
  })
})

describe('tests of fields read aloud', () => {
  it.each<[FieldTest, string]>([
    [{ test: 'contains', value: 'x' }, 'contains “x”'],
    [{ test: 'endsWith', value: 'x' }, 'ends with “x”'],
    [{ test: 'hasAllOf', values: ['a', 'b'] }, 'has all of “a”, “b”'],
    [{ test: 'isSet' }, 'is filled in'],
    [{ test: 'isYes' }, 'is yes'],
    [{ test: 'equals', value: 3 }, 'is 3'],
    [{ test: 'atLeast', value: 3 }, 'is at least 3'],
    [{ test: 'atMost', value: 3 }, 'is at most 3'],
    [{ test: 'onOrAfter', date: '2026-01-01' }, 'is on 2026-01-01 or later'],
    [{ test: 'onOrBefore', date: '2026-01-01' }, 'is on 2026-01-01 or earlier'],
    [{ test: 'inLastDays', days: 30 }, 'was in the last 30 days'],
    [{ test: 'inNextDays', days: 7 }, 'is in the next 7 days'],
  ])('%j', (test, words) => expect(describeTest(test)).toBe(words))
})

it('tells a stretch of time as one says it', () => {
  expect(describeWithin(undefined)).toBe('')
  expect(describeWithin({ kind: 'last', amount: 1, unit: 'months' })).toBe(' in the last month')
  expect(describeWithin({ kind: 'between', from: '2026-01-01', to: '2026-01-31' })).toBe(
    ' between 2026-01-01 and 2026-01-31',
  )
})

it('tells a score with one decimal, and nothing as nothing', () => {
  expect([12.34, 12, -0.04, 0.05, -4.96].map(formatScore)).toEqual(['12.3', '12', '0', '0.1', '-5'])
})
