import { isLeaf, type Condition, type FieldTest, type Leaf } from '../audience/segments/condition.ts'
import { marketingState } from '../audience/people/permission.ts'

/**
 * Whether a condition can hold at all, proved and not tried out: questions about one thing are one variable, whose
 * values are the cases that they tell apart. Questions that cannot be compared are taken for independent, so that what
 * is claimed is true, and what is not claimed may still be.
 */
interface Variable {
  /** How many cases there are. */
  size: number
}

/** A question, as the cases of its variable in which it holds. */
interface Question {
  variable: string
  holds: (value: number) => boolean
}

type Tree = { question: Question } | { all: Tree[] } | { any: Tree[] } | { not: Tree }

/** What questions of one thing tell apart: thresholds of a number, or values of a text. */
class Cases {
  readonly thresholds = new Map<string, Set<number>>()
  readonly texts = new Map<string, Set<string>>()
  readonly variables = new Map<string, Variable>()

  collect(tree: Condition): void {
    if (!isLeaf(tree)) {
      for (const part of tree.kind === 'not' ? [tree.of] : tree.of) this.collect(part)
      return
    }
    const number = numberOf(tree)
    if (number) {
      const known = this.thresholds.get(number.of) ?? new Set()
      number.from.forEach((each) => known.add(each))
      this.thresholds.set(number.of, known)
    }
    const text = textOf(tree)
    if (text) this.texts.set(text.of, new Set([...(this.texts.get(text.of) ?? []), ...text.values]))
  }

  private variable(name: string, size: number): string {
    this.variables.set(name, { size })
    return name
  }

  question(leaf: Leaf): Question {
    if (leaf.kind === 'state') {
      const is = new Set<string>(leaf.is)
      const variable = this.variable('state', marketingState.options.length)
      return { variable, holds: (value) => is.has(marketingState.options[value] ?? '') }
    }
    const number = numberOf(leaf)
    if (number) {
      // Case 0 is no value, or below all; case n is from the nth threshold on.
      const steps = [...(this.thresholds.get(number.of) ?? [])].sort((a, b) => a - b)
      const variable = this.variable(number.of, steps.length + 2)
      return {
        variable,
        holds: (value) =>
          value === 0 ? false : number.holds(value === 1 ? -Infinity : (steps[value - 2] ?? 0)),
      }
    }
    const text = textOf(leaf)
    if (text) {
      // Case 0 is no value, the last is any other than those named.
      const values = [...(this.texts.get(text.of) ?? [])]
      const variable = this.variable(text.of, values.length + 2)
      return {
        variable,
        holds: (value) => value > 0 && text.holds(value <= values.length ? values[value - 1] : undefined),
      }
    }
    return { variable: this.variable(JSON.stringify(leaf), 2), holds: (value) => value === 1 }
  }

  tree(of: Condition): Tree {
    if (isLeaf(of)) return { question: this.question(of) }
    switch (of.kind) {
      case 'not':
        return { not: this.tree(of.of) }
      case 'all':
        return { all: of.of.map((part) => this.tree(part)) }
      case 'any':
        return { any: of.of.map((part) => this.tree(part)) }
    }
  }
}

/** The smallest step between numbers that a test tells apart from "at most". */
const above = (value: number): number => value + 1e-9

interface NumberTest {
  of: string
  /** Where the answer may change. */
  from: number[]
  holds: (value: number) => boolean
}

type NumberOf = Omit<NumberTest, 'of'>
type ByTest<R> = { readonly [K in FieldTest['test']]: ((test: Extract<FieldTest, { test: K }>) => R) | null }

const between = (value: number, until: number): NumberOf => ({
  from: [value, until].filter(Number.isFinite),
  holds: (each) => each >= value && each < until,
})

/** Tests of how much there is: numbers, and dates as moments. Null is no such test. */
const numberTests: ByTest<NumberOf> = {
  equals: ({ value }) => between(value, above(value)),
  atLeast: ({ value }) => between(value, Infinity),
  atMost: ({ value }) => between(-Infinity, above(value)),
  onOrAfter: ({ date }) => between(Date.parse(date), Infinity),
  onOrBefore: ({ date }) => between(-Infinity, above(Date.parse(date))),
  is: null,
  contains: null,
  startsWith: null,
  endsWith: null,
  isAnyOf: null,
  isSet: null,
  isYes: null,
  hasAllOf: null,
  // These move with the moment at which one asks.
  inLastDays: null,
  inNextDays: null,
}

/** A question about how much of something there is. */
function numberOf(leaf: Leaf): NumberTest | null {
  if (leaf.kind === 'score')
    return { of: `score ${leaf.scorecard}`, ...between(leaf.atLeast ?? -Infinity, leaf.below ?? Infinity) }
  if (leaf.kind === 'did') {
    const { atLeast, ...what } = leaf
    return { of: JSON.stringify(what), ...between(atLeast, Infinity) }
  }
  if (leaf.kind !== 'field') return null
  const test = numberTests[leaf.test.test] as ((test: FieldTest) => NumberOf) | null
  return test && { of: `field ${leaf.field}`, ...test(leaf.test) }
}

interface ValueTest {
  of: string
  values: string[]
  /** @param value one of those named, or none of them */
  holds: (value: string | undefined) => boolean
}

type ValueOf = Omit<ValueTest, 'of'>
const oneOf = (values: readonly string[]): ValueOf => {
  const wanted = values.map((each) => each.toLowerCase())
  return { values: wanted, holds: (value) => value !== undefined && wanted.includes(value) }
}

/** Tests of which value there is. Null is no such test, or one that cannot be compared with others. */
const valueTests: ByTest<ValueOf> = {
  is: ({ value }) => oneOf([value]),
  isAnyOf: ({ values }) => oneOf(values),
  isSet: () => ({ values: [], holds: () => true }),
  contains: null,
  startsWith: null,
  endsWith: null,
  equals: null,
  atLeast: null,
  atMost: null,
  onOrAfter: null,
  onOrBefore: null,
  isYes: null,
  hasAllOf: null,
  inLastDays: null,
  inNextDays: null,
}

/** A question about which of some values something has. */
function textOf(leaf: Leaf): ValueTest | null {
  if (leaf.kind === 'band')
    return { of: `band ${leaf.scorecard}`, values: [leaf.band], holds: (value) => value === leaf.band }
  if (leaf.kind !== 'field' && leaf.kind !== 'source') return null
  // A field of several choices has one of these and one of those at once.
  if (leaf.kind === 'field' && typeof leaf.field === 'number' && leaf.test.test === 'isAnyOf') return null
  const test = valueTests[leaf.test.test] as ((test: FieldTest) => ValueOf) | null
  return (
    test && { of: leaf.kind === 'field' ? `text ${leaf.field}` : `source ${leaf.name}`, ...test(leaf.test) }
  )
}

/** Kleene's logic: a part that is open may leave the whole open. */
function valueOf(tree: Tree, chosen: ReadonlyMap<string, number>): boolean | null {
  if ('question' in tree) {
    const value = chosen.get(tree.question.variable)
    return value === undefined ? null : tree.question.holds(value)
  }
  if ('not' in tree) {
    const value = valueOf(tree.not, chosen)
    return value === null ? null : !value
  }
  const deciding = 'any' in tree
  let isOpen = false
  for (const part of 'any' in tree ? tree.any : tree.all) {
    const value = valueOf(part, chosen)
    if (value === deciding) return deciding
    isOpen ||= value === null
  }
  return isOpen ? null : !deciding
}

function firstOpen(tree: Tree, chosen: ReadonlyMap<string, number>): string | null {
  if ('question' in tree) return chosen.has(tree.question.variable) ? null : tree.question.variable
  const parts = 'not' in tree ? [tree.not] : 'any' in tree ? tree.any : tree.all
  for (const part of parts) {
    if (valueOf(part, chosen) !== null) continue
    const open = firstOpen(part, chosen)
    if (open !== null) return open
  }
  return null
}

/** Cases looked at before the question is left open: half a second. */
const patience = 20_000

/**
 * Can these conditions all hold of one person at once? By trying the cases that they tell apart, and leaving a branch
 * as soon as it is decided.
 * @returns null when it would take too long to find out
 */
export function canAllHold(conditions: readonly Condition[]): boolean | null {
  const cases = new Cases()
  conditions.forEach((each) => cases.collect(each))
  const tree: Tree = { all: conditions.map((each) => cases.tree(each)) }
  const chosen = new Map<string, number>()
  let looked = 0
  const search = (): boolean | null => {
    looked += 1
    if (looked > patience) return null
    const value = valueOf(tree, chosen)
    if (value !== null) return value
    const variable = firstOpen(tree, chosen)
    if (variable === null) return true
    const { size } = cases.variables.get(variable) ?? { size: 0 }
    let isOpen = false
    for (let each = 0; each < size; each += 1) {
      chosen.set(variable, each)
      const found = search()
      if (found) return true
      isOpen ||= found === null
    }
    chosen.delete(variable)
    return isOpen ? null : false
  }
  return search()
}

const not = (of: Condition): Condition => ({ kind: 'not', of })

/** Which ways of a branch nobody can take, by their places; `otherwise` is the one after the last arm. */
export function unreachableArms(whens: readonly Condition[]): number[] {
  const ways = [...whens.keys(), whens.length]
  return ways.filter((way) => {
    const before = whens.slice(0, way).map(not)
    const own = whens[way]
    return canAllHold(own ? [...before, own] : before) === false
  })
}
