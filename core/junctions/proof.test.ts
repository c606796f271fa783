import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { leavesOf, type Condition, type Leaf } from '../audience/segments/condition.ts'
import { evaluate } from '../audience/segments/evaluate.ts'
import { noNames } from '../audience/segments/names.ts'
import { all, not, type Fact } from '../audience/segments/proving.ts'
import { stranger, type Person } from '../audience/people/person.ts'
import type { FieldValue } from '../audience/describing/field.ts'
import { marketingState } from '../audience/people/permission.ts'
import type { Scorecard } from '../audience/scores/scorecard.ts'
import { proveJunction, type AskedRule } from './proof.ts'

const tag = (id: number): Condition => ({ kind: 'hasTag', tag: id })
const known = { fields: [], scorecards: {} }
const rulesOf = (...whens: Condition[]): AskedRule[] => whens.map((when, i) => ({ id: `rule${i + 1}`, when }))
const verdicts = (rules: AskedRule[]) => proveJunction(rules, known).rules.map(({ is }) => is)

describe('rules of a junction', () => {
  // Three routing rules over two tags: not A and not B; A and not B; A or B (worked by hand).
  const neither = all([not(tag(1)), not(tag(2))])
  const firstAlone = all([tag(1), not(tag(2))])
  const either: Condition = { kind: 'any', of: [tag(1), tag(2)] }

  it('together cover all four cases, and the order matters', () => {
    const inOrder = proveJunction(rulesOf(neither, firstAlone, either), known)
    expect(inOrder.rules.map(({ is }) => is)).toEqual(['reached', 'reached', 'reached'])
    expect(inOrder.untaken).toEqual([])
    // The third put second takes (A, not B).
    const [, , last] = proveJunction(rulesOf(neither, either, firstAlone), known).rules
    expect(last).toMatchObject({ is: 'never', by: ['rule2'] })
    expect(last?.is === 'never' && last.example).toEqual([
      { leaf: tag(1), holds: true },
      { leaf: tag(2), holds: false },
    ])
  })

  it('tell who is left, the shortest kind first', () => {
    const { untaken, more } = proveJunction(rulesOf(all([tag(1), tag(2)]), tag(3)), known)
    expect(untaken).toEqual([
      [
        { leaf: tag(1), holds: false },
        { leaf: tag(3), holds: false },
      ],
      [
        { leaf: tag(1), holds: true },
        { leaf: tag(2), holds: false },
        { leaf: tag(3), holds: false },
      ],
    ])
    expect(more).toBe(false)
    expect(proveJunction([], known)).toEqual({ rules: [], untaken: [[]], more: false })
  })

  it('are told apart from those that nobody can be, and name all that take their people together', () => {
    expect(verdicts(rulesOf(all([tag(1), not(tag(1))])))).toEqual(['impossible'])
    const both = proveJunction(rulesOf(tag(1), tag(3), not(tag(1)), tag(2)), known).rules[3]
    expect(both).toMatchObject({ is: 'never', by: ['rule1', 'rule3'] })
  })

  it('are not claimed to be anything when it would take too long', () => {
    // Ten pigeons into nine holes: a search that no looking at cases makes short.
    const of = (pigeon: number, hole: number) => tag(pigeon * 20 + hole + 1)
    const placed = Array.from({ length: 10 }, (_, pigeon): Condition => ({
      kind: 'any',
      of: Array.from({ length: 9 }, (_each, hole) => of(pigeon, hole)),
    }))
    const alone = Array.from({ length: 9 }, (_, hole) =>
      Array.from({ length: 10 }, (_a, a) =>
        Array.from({ length: a }, (_b, b) => not(all([of(a, hole), of(b, hole)]))),
      ).flat(),
    ).flat()
    expect(verdicts(rulesOf(all([...placed, ...alone])))).toEqual(['open'])
  })
})

const card: Scorecard = {
  behaviours: [],
  profile: [],
  bands: [
    { id: 'cool', name: 'cool', from: null },
    { id: 'warm', name: 'warm', from: 10 },
  ],
}
const fields = [
  { id: 1, kind: 'number' as const },
  { id: 2, kind: 'oneOf' as const },
  { id: 3, kind: 'manyOf' as const },
  { id: 4, kind: 'text' as const },
]
const names = {
  ...noNames(),
  tags: { 1: 'a', 2: 'b' },
  topics: { 1: 't' },
  fields: { 1: 'n', 2: 'o', 3: 'm', 4: 'w' },
  scorecards: { 1: 's' },
}
const context = { now: 0, zone: 'UTC', names, segments: {}, scorecards: { 1: card } }

const numbers: (FieldValue | undefined)[] = [undefined, 0, 1, 1.5, 2, 2.5, -1, 0.5]
const choices: (FieldValue | undefined)[] = [undefined, 'x', 'y', 'z']
const lists: (FieldValue | undefined)[] = [undefined, [], ['x'], ['y'], ['x', 'y'], ['z']]
const texts: (FieldValue | undefined)[] = [
  undefined, '', 'q', 'ab', 'abq', 'abba', 'abbab', 'b', 'xab', 'ba', 'xba', 'xbab', 'aba',
] // prettier-ignore

/** What people are told apart by, with all values that the questions below can tell apart. */
const parts: { asks: (leaf: Leaf) => boolean; values: ((person: Person) => Person)[] }[] = [
  {
    asks: ({ kind }) => kind === 'hasTag',
    values: [[], [1], [2], [1, 2]].map((tags) => (person) => ({ ...person, tags: new Set(tags) })),
  },
  {
    asks: ({ kind }) => kind === 'topic',
    values: [[], [1]].map((topics) => (person) => ({ ...person, topics: new Set(topics) })),
  },
  {
    asks: ({ kind }) => kind === 'score' || kind === 'band',
    values: [0, 5, 10, 12].map((steady) => (person) => ({
      ...person,
      scores: new Map([[1, { steady, fading: [], asOf: 0 }]]),
    })),
  },
  {
    asks: ({ kind }) => kind === 'state',
    values: marketingState.options.map((marketing) => (person) => ({ ...person, marketing })),
  },
  ...[numbers, choices, lists, texts].map((values, i) => ({
    asks: (leaf: Leaf) => leaf.kind === 'field' && leaf.field === i + 1,
    values: values.map((value) => (person: Person) => ({
      ...person,
      fields: value === undefined ? person.fields : { ...person.fields, [i + 1]: value },
    })),
  })),
]

/** Everybody there could be, as far as these conditions ask: brute force. */
function everybody(whens: readonly Condition[]): Person[] {
  const leaves = whens.flatMap(leavesOf)
  return parts
    .filter(({ asks }) => leaves.some(asks))
    .reduce<Person[]>(
      (people, { values }) => people.flatMap((person) => values.map((be) => be(person))),
      [stranger],
    )
}

const leaf = fc.oneof(
  fc.constantFrom<Condition>(tag(1), tag(2), { kind: 'topic', topic: 1 }),
  fc
    .subarray([...marketingState.options], { minLength: 1, maxLength: 2 })
    .map((is): Condition => ({ kind: 'state', is })),
  fc.constantFrom<Condition>(
    ...([0, 1, 2].flatMap((value) =>
      (['atLeast', 'atMost', 'equals'] as const).map((test) => ({
        kind: 'field',
        field: 1,
        test: { test, value },
      })),
    ) as Condition[]),
    { kind: 'field', field: 1, test: { test: 'isSet' } },
    { kind: 'field', field: 2, test: { test: 'is', value: 'x' } },
    { kind: 'field', field: 2, test: { test: 'isAnyOf', values: ['x', 'Y'] } },
    { kind: 'field', field: 2, test: { test: 'isSet' } },
    { kind: 'field', field: 3, test: { test: 'isAnyOf', values: ['x'] } },
    { kind: 'field', field: 3, test: { test: 'hasAllOf', values: ['x', 'y'] } },
    { kind: 'field', field: 3, test: { test: 'isSet' } },
    { kind: 'field', field: 4, test: { test: 'startsWith', value: 'ab' } },
    { kind: 'field', field: 4, test: { test: 'endsWith', value: 'b' } },
    { kind: 'field', field: 4, test: { test: 'contains', value: 'ba' } },
    { kind: 'score', scorecard: 1, atLeast: 10 },
    { kind: 'score', scorecard: 1, below: 5 },
    { kind: 'band', scorecard: 1, band: 'warm' },
  ),
)
const { tree } = fc.letrec<{ tree: Condition }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 2, depthSize: 'small' },
    leaf,
    tie('tree').map(not),
    fc.array(tie('tree'), { minLength: 1, maxLength: 3 }).map(all),
    fc.array(tie('tree'), { minLength: 1, maxLength: 3 }).map((of): Condition => ({ kind: 'any', of })),
  ),
}))

const holds = (condition: Condition, person: Person): boolean =>
  evaluate(condition, person, context).holds === true
const isLike = (facts: readonly Fact[], person: Person): boolean =>
  facts.every(({ leaf: asked, holds: wanted }) => holds(asked, person) === wanted)

describe('held against everybody there could be (brute force)', () => {
  it('says the same of each rule, and of those who are left', () => {
    fc.assert(
      fc.property(fc.array(tree, { minLength: 1, maxLength: 4 }), (whens) => {
        const people = everybody(whens)
        fc.pre(people.length < 6_000)
        const rules = rulesOf(...whens)
        const proof = proveJunction(rules, { fields, scorecards: { 1: card } })
        const goes = people.map((person) => rules.find(({ when }) => holds(when, person))?.id)
        for (const each of proof.rules) {
          expect(each.is === 'reached', each.id).toBe(goes.includes(each.id))
          if (each.is !== 'reached') continue
          // There is somebody like the example, and all of them get there.
          const like = people.map((person) => isLike(each.example, person))
          expect(like).toContain(true)
          expect(goes.filter((_, i) => like[i]).every((rule) => rule === each.id)).toBe(true)
        }
        const isLeft = people.map((person) => proof.untaken.some((kind) => isLike(kind, person)))
        people.forEach((_, i) => {
          if (isLeft[i]) expect(goes[i]).toBeUndefined()
          if (!isLeft[i] && !proof.more) expect(goes[i]).toBeDefined()
        })
      }),
      { numRuns: 100 },
    )
  })

  it('names takers of whom none can be left out', () => {
    fc.assert(
      fc.property(fc.array(tree, { minLength: 2, maxLength: 5 }), (whens) => {
        const people = everybody(whens)
        fc.pre(people.length < 6_000)
        const rules = rulesOf(...whens)
        for (const each of proveJunction(rules, { fields, scorecards: { 1: card } }).rules) {
          if (each.is !== 'never') continue
          const wanted = people.filter((person) =>
            holds(rules.find(({ id }) => id === each.id)?.when ?? all([]), person),
          )
          const takers = rules.filter(({ id }) => each.by.includes(id))
          const takenBy = (some: readonly AskedRule[]): boolean =>
            wanted.every((person) => some.some(({ when }) => holds(when, person)))
          expect(takenBy(takers)).toBe(true)
          for (const taker of takers) expect(takenBy(takers.filter((other) => other !== taker))).toBe(false)
        }
      }),
      { numRuns: 100 },
    )
  })
})
