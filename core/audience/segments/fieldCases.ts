import type { Field, FieldValue } from '../describing/field.ts'
import type { FieldTest, TextTest } from './condition.ts'
import { isTextTest } from './valueTests.ts'
import { datePlus } from './within.ts'

/** Values that stand for all others: whatever the tests tell apart, one of these is on each side. None is undefined. */
export type Representatives = (FieldValue | undefined)[]

/** Named choices of which every set is looked at: twice as many sets with each more. */
const mostChoices = 6
/** Texts put together of pieces. */
const mostTexts = 256

/** A text that no test names a piece of. */
const otherText = '\u{10fffd}'

const wanted = (test: TextTest): string[] => {
  if (test.test === 'isSet') return []
  return (test.test === 'isAnyOf' ? test.values : [test.value]).map((each) => each.toLowerCase())
}

const unique = <Value>(values: Iterable<Value>): Value[] => [...new Set(values)]

/** Every choice of some of these. */
function subsets<Value>(values: readonly Value[]): Value[][] {
  return values.reduce<Value[][]>((all, value) => [...all, ...all.map((each) => [...each, value])], [[]])
}

/** Texts on every side of the tests: those named, and those that begin with, hold and end with what they name. */
function texts(tests: readonly FieldTest[]): string[] | null {
  const of = (...kinds: TextTest['test'][]): string[] =>
    unique(tests.flatMap((test) => (isTextTest(test) && kinds.includes(test.test) ? wanted(test) : [])))
  const named = of('is', 'isAnyOf')
  const beginnings = ['', ...of('startsWith')]
  const endings = ['', ...of('endsWith')]
  const pieces = of('contains')
  if (beginnings.length * endings.length * 2 ** pieces.length > mostTexts) return null
  const composed = beginnings.flatMap((beginning) =>
    endings.flatMap((ending) =>
      subsets(pieces).map((held) =>
        [beginning, otherText, ...held.flatMap((each) => [each, otherText]), ending].join(''),
      ),
    ),
  )
  // What begins and ends alike may be all there is.
  return unique(['', ...named, ...beginnings, ...endings, ...pieces, ...composed])
}

/** Numbers on, between, below and above those that the tests name. */
function numbers(tests: readonly FieldTest[]): number[] {
  const named = unique(
    tests.flatMap((test) =>
      test.test === 'equals' || test.test === 'atLeast' || test.test === 'atMost' ? [test.value] : [],
    ),
  ).sort((a, b) => a - b)
  const between = named.map((each, i) => (each + (named[i + 1] ?? each + 2)) / 2)
  return [(named[0] ?? 0) - 1, ...named, ...between]
}

function dates(tests: readonly FieldTest[]): string[] {
  const named = tests.flatMap((test) =>
    test.test === 'onOrAfter' || test.test === 'onOrBefore' ? [test.date] : [],
  )
  return unique(named.flatMap((each) => [datePlus(each, -1), each, datePlus(each, 1)]))
}

function lists(tests: readonly FieldTest[]): string[][] | null {
  const named = unique(
    tests.flatMap((test) =>
      test.test === 'isAnyOf' || test.test === 'hasAllOf'
        ? test.values.map((each) => each.toLowerCase())
        : [],
    ),
  )
  return named.length > mostChoices ? null : [[otherText], ...subsets(named)]
}

/** Days that move with the moment at which one asks cannot be compared with others. */
const moves = ({ test }: FieldTest): boolean => test === 'inLastDays' || test === 'inNextDays'

/**
 * Values of a field on every side of its tests.
 * @param kind what the field holds; of a field that nobody knows, anything
 * @returns null when there are too many to look at, or the tests cannot be compared
 */
export function representativesOf(
  tests: readonly FieldTest[],
  kind: Field['kind'] | undefined,
): Representatives | null {
  if (tests.some(moves)) return null
  const asText = texts(tests)
  const asList = lists(tests)
  const byKind: Record<Field['kind'], Representatives | null> = {
    text: asText,
    oneOf: asText,
    number: numbers(tests),
    date: dates(tests),
    yesNo: [true, false],
    manyOf: asList,
  }
  const parts = kind === undefined ? Object.values(byKind) : [byKind[kind]]
  return parts.includes(null) ? null : [undefined, ...parts.flatMap((part) => part ?? [])]
}

/** Texts on every side of tests of what is always text. @returns null when there are too many */
export function textRepresentatives(tests: readonly FieldTest[]): (string | undefined)[] | null {
  const found = texts(tests)
  return found && [undefined, ...found]
}
