import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Condition } from './condition.ts'
import { evaluate } from './evaluate.ts'
import { noNames } from './names.ts'
import { stranger, type Person } from '../people/person.ts'
import { canAllHold, unreachableArms } from './proving.ts'

const tag = (of: number): Condition => ({ kind: 'hasTag', tag: of })
const not = (of: Condition): Condition => ({ kind: 'not', of })
const atLeast = (value: number): Condition => ({ kind: 'field', field: 1, test: { test: 'atLeast', value } })
const atMost = (value: number): Condition => ({ kind: 'field', field: 1, test: { test: 'atMost', value } })
const opened = (times: number): Condition => ({
  kind: 'did',
  activity: 'emailOpened',
  details: { email: 1 },
  atLeast: times,
})

describe('whether conditions can hold at all', () => {
  it.each<[string, Condition[], boolean]>([
    ['a tag and not that tag', [tag(1), not(tag(1))], false],
    ['a tag and not another', [tag(1), not(tag(2))], true],
    [
      'two states at once',
      [
        { kind: 'state', is: ['subscribed'] },
        { kind: 'state', is: ['bounced'] },
      ],
      false,
    ],
    ['a number over 10 and under 5', [atLeast(10), atMost(5)], false],
    ['a number of exactly 5, from both sides', [atLeast(5), atMost(5)], true],
    ['opened three times, but not once', [opened(3), not(opened(1))], false],
    ['opened once, but not three times', [opened(1), not(opened(3))], true],
    [
      'two values in one field',
      [
        { kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } },
        { kind: 'field', field: 'country', test: { test: 'isAnyOf', values: ['IN', 'AU'] } },
      ],
      false,
    ],
    ['nothing of', [{ kind: 'any', of: [] }], false],
  ])('%s', (_what, conditions, can) => expect(canAllHold(conditions)).toBe(can))

  it('finds the ways of a branch that nobody takes', () => {
    // Three routing rules over two tags (worked by hand): first neither, then the first alone, then either.
    const neither: Condition = { kind: 'all', of: [not(tag(1)), not(tag(2))] }
    const firstAlone: Condition = { kind: 'all', of: [tag(1), not(tag(2))] }
    const either: Condition = { kind: 'any', of: [tag(1), tag(2)] }
    // Together they cover everybody, so that nobody is left for the rest.
    expect(unreachableArms([neither, firstAlone, either])).toEqual([3])
    // The third put second takes all that the second would.
    expect(unreachableArms([neither, either, firstAlone])).toEqual([2, 3])
    expect(unreachableArms([tag(1)])).toEqual([])
  })

  it('stops looking when it would take too long', () => {
    // The pigeonhole principle in a form that makes searches long: ten into nine.
    const of = (pigeon: number, hole: number) => tag(pigeon * 20 + hole + 1)
    const pigeons = [...Array(10).keys()]
    const holes = [...Array(9).keys()]
    const placed = pigeons.map((pigeon): Condition => ({
      kind: 'any',
      of: holes.map((hole) => of(pigeon, hole)),
    }))
    const alone = holes.flatMap((hole) =>
      pigeons.flatMap((a) =>
        pigeons.filter((b) => b > a).map((b) => not({ kind: 'all', of: [of(a, hole), of(b, hole)] })),
      ),
    )
    expect(canAllHold([...placed, ...alone])).toBeNull()
  })

  it('never claims what a person disproves', () => {
    const leaf = fc.oneof(
      fc.integer({ min: 1, max: 3 }).map(tag),
      fc.integer({ min: 1, max: 4 }).map(atLeast),
      fc.integer({ min: 1, max: 4 }).map(atMost),
      fc.constantFrom<Condition>(
        { kind: 'state', is: ['subscribed'] },
        { kind: 'state', is: ['subscribed', 'waiting'] },
        { kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } },
        { kind: 'field', field: 'country', test: { test: 'startsWith', value: 'I' } },
        { kind: 'field', field: 'country', test: { test: 'isSet' } },
        { kind: 'field', field: 2, test: { test: 'isAnyOf', values: ['a'] } },
        { kind: 'field', field: 2, test: { test: 'isAnyOf', values: ['b', 'c'] } },
        { kind: 'field', field: 2, test: { test: 'is', value: 'a' } },
        { kind: 'field', field: 2, test: { test: 'isSet' } },
      ),
    )
    const { tree } = fc.letrec<{ tree: Condition }>((tie) => ({
      tree: fc.oneof(
        { maxDepth: 3 },
        leaf,
        tie('tree').map(not),
        fc.array(tie('tree'), { maxLength: 3 }).map((of): Condition => ({ kind: 'all', of })),
        fc.array(tie('tree'), { maxLength: 3 }).map((of): Condition => ({ kind: 'any', of })),
      ),
    }))
    const person = fc.record({
      tags: fc.uniqueArray(fc.integer({ min: 1, max: 3 })).map((tags) => new Set(tags)),
      marketing: fc.constantFrom<Person['marketing']>('subscribed', 'waiting', 'bounced'),
      fields: fc
        .tuple(
          fc.option(fc.integer({ min: 0, max: 5 }), { nil: undefined }),
          fc.constantFrom(undefined, 'a', ['a'], ['a', 'b'], ['c']),
        )
        .map(
          (values) =>
            Object.fromEntries(
              values.flatMap((value, i) => (value === undefined ? [] : [[i + 1, value]])),
            ) as Person['fields'],
        ),
      builtIn: fc.constantFrom<Person['builtIn']>(
        {},
        { country: 'IE' },
        { country: 'IN' },
        { country: 'AU' },
      ),
    })
    const names = { ...noNames(), tags: { 1: 'a', 2: 'b', 3: 'c' }, fields: { 1: 'n', 2: 'm' } }
    const context = { now: 0, zone: 'UTC', names, segments: {}, scorecards: {} }
    fc.assert(
      fc.property(fc.array(tree, { minLength: 1, maxLength: 3 }), person, (trees, known) => {
        const holds = trees.every((each) => evaluate(each, { ...stranger, ...known }, context).holds === true)
        if (holds) expect(canAllHold(trees)).not.toBe(false)
      }),
      { numRuns: 2_000 },
    )
  })
})
