import fc from 'fast-check'
import type { ActivityKind } from '../core/audience/people/activity.ts'
import type { Condition, FieldTest, Leaf, TextTest } from '../core/audience/segments/condition.ts'
import { marketingState } from '../core/audience/people/permission.ts'

/** Things that random conditions and people speak of; 9 is the id of something deleted. */
export const things = {
  tags: [1, 2, 3],
  topics: [1, 2],
  fields: { text: 1, number: 2, date: 3, yesNo: 4, oneOf: 5, manyOf: 6 },
  emails: [1, 2],
  links: [1, 2, 3],
  followups: [1, 2],
  scorecards: [1],
  bands: ['cool', 'warm', 'hot', 'no-such-band'],
  segments: [1, 2, 3],
  wordings: [1, 2],
}
const gone = 9

export const words = ['Coptic', 'long stitch', 'LONG', 'Ö', 'é', "o'brien", '100%', '_', 'a\\b', 'ie', 'IE']
export const kinds: ActivityKind[] = ['emailClicked', 'emailOpened', 'formSent', 'quizFinished']

const word = fc.constantFrom(...words)
const orGone = (ids: readonly number[]) => fc.constantFrom(...ids, ...ids, gone)
const date = fc.constantFrom('2026-01-01', '2026-03-04', '2026-03-05', '2026-03-06', '2025-12-31')

const textTest: fc.Arbitrary<TextTest> = fc.oneof(
  ...(['is', 'contains', 'startsWith', 'endsWith'] as const).map((test) =>
    fc.record({ test: fc.constant(test), value: word }),
  ),
  fc.record({
    test: fc.constant('isAnyOf' as const),
    values: fc.array(word, { minLength: 1, maxLength: 3 }),
  }),
  fc.constant({ test: 'isSet' as const }),
)

const number = fc.constantFrom(-1, 0, 0.1, 3, 3.5, 1_000_000)
const fieldTest: fc.Arbitrary<FieldTest> = fc.oneof(
  textTest,
  ...(['equals', 'atLeast', 'atMost'] as const).map((test) =>
    fc.record({ test: fc.constant(test), value: number }),
  ),
  fc.constant({ test: 'isYes' as const }),
  fc.record({
    test: fc.constant('hasAllOf' as const),
    values: fc.array(word, { minLength: 1, maxLength: 3 }),
  }),
  ...(['onOrAfter', 'onOrBefore'] as const).map((test) => fc.record({ test: fc.constant(test), date })),
  ...(['inLastDays', 'inNextDays'] as const).map((test) =>
    fc.record({ test: fc.constant(test), days: fc.constantFrom(0, 1, 63, 64, 400) }),
  ),
)

const within = fc.oneof(
  fc.record({
    kind: fc.constant('last' as const),
    amount: fc.constantFrom(1, 2, 30),
    unit: fc.constantFrom(
      'minutes' as const,
      'hours' as const,
      'days' as const,
      'weeks' as const,
      'months' as const,
    ),
  }),
  fc.constant({ kind: 'between' as const, from: '2026-02-01', to: '2026-03-04' }),
)

const leaf: fc.Arbitrary<Leaf> = fc.oneof(
  fc.record({ kind: fc.constant('hasTag' as const), tag: orGone(things.tags) }),
  fc.record({ kind: fc.constant('topic' as const), topic: orGone(things.topics) }),
  fc.record({
    kind: fc.constant('state' as const),
    is: fc.array(fc.constantFrom(...marketingState.options), { minLength: 1, maxLength: 3 }),
  }),
  fc.record({
    kind: fc.constant('field' as const),
    field: fc.oneof(
      fc.constantFrom(
        'address' as const,
        'firstName' as const,
        'country' as const,
        'phone' as const,
        'zone' as const,
      ),
      orGone(Object.values(things.fields)),
    ),
    test: fieldTest,
  }),
  fc.record(
    {
      kind: fc.constant('score' as const),
      scorecard: orGone(things.scorecards),
      atLeast: number,
      below: number,
    },
    { requiredKeys: ['kind', 'scorecard'] },
  ),
  fc.record({
    kind: fc.constant('band' as const),
    scorecard: orGone(things.scorecards),
    band: fc.constantFrom(...things.bands),
  }),
  fc.record({ kind: fc.constant('agreedTo' as const), wording: orGone(things.wordings) }),
  fc.record({ kind: fc.constant('segment' as const), segment: orGone(things.segments) }),
  fc.record({
    kind: fc.constant('source' as const),
    name: fc.constant('utm_source' as const),
    test: textTest,
  }),
  fc.record({ kind: fc.constant('created' as const), within }),
  fc.record({
    kind: fc.constant('followup' as const),
    followup: orGone(things.followups),
    is: fc.constantFrom('inside' as const, 'finished' as const, 'ever' as const),
  }),
  fc.record({
    kind: fc.constant('deadline' as const),
    deadline: fc.constantFrom('Early', 'Late'),
    is: fc.constantFrom('none' as const, 'running' as const, 'over' as const),
  }),
  fc.record(
    {
      kind: fc.constant('did' as const),
      activity: fc.constantFrom(...kinds),
      details: fc.oneof(
        fc.constant({}),
        fc.record({ email: orGone(things.emails) }),
        fc.record({ email: orGone(things.emails), link: orGone(things.links) }),
        fc.record({ result: word }),
      ),
      atLeast: fc.constantFrom(1, 1, 2, 3),
      within,
    },
    { requiredKeys: ['kind', 'activity', 'details', 'atLeast'] },
  ),
)

/** One of a few questions about one kind of activity: groups of them are asked together. */
const openedOften: fc.Arbitrary<Leaf> = fc.record({
  kind: fc.constant('did' as const),
  activity: fc.constant('emailOpened' as const),
  details: fc.oneof(fc.constant({}), fc.record({ email: fc.constantFrom(...things.emails) })),
  atLeast: fc.constantFrom(1, 2),
})

const nested: fc.Arbitrary<Condition> = fc.letrec<{ tree: Condition }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    leaf,
    fc.record({
      kind: fc.constantFrom('all' as const, 'any' as const),
      of: fc.array(tie('tree'), { maxLength: 4 }),
    }),
    fc.record({ kind: fc.constant('not' as const), of: tie('tree') }),
  ),
})).tree

const group = (of: fc.Arbitrary<Condition>, minLength: number): fc.Arbitrary<Condition> =>
  fc.record({
    kind: fc.constantFrom('all' as const, 'any' as const),
    of: fc.array(of, { minLength, maxLength: minLength + 3 }),
  })

const openedOrNot: fc.Arbitrary<Condition> = fc.oneof(
  openedOften,
  fc.record({ kind: fc.constant('not' as const), of: openedOften }),
)

/** A condition that asks much about one kind of activity, in several places and twice. */
const crowded = group(fc.oneof(openedOrNot, group(fc.oneof(openedOrNot, leaf), 2), leaf), 3)

/** Any condition over the things above, up to three levels deep. */
export const anyCondition: fc.Arbitrary<Condition> = fc.oneof({ weight: 3, arbitrary: nested }, crowded)
