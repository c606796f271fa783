import { deadlineState } from '../../commerce/deadlineState.ts'
import { marketingState } from '../people/permission.ts'
import { bandOf, type Scorecard } from '../scores/scorecard.ts'
import type { Field } from '../describing/field.ts'
import { isLeaf, leavesOf, type Condition, type Leaf } from './condition.ts'
import { representativesOf, textRepresentatives } from './fieldCases.ts'
import { matchesTest, matchesText } from './valueTests.ts'

/** A condition over cases: a question holds in some cases of its variable. */
export type CaseTree =
  | { variable: number; holds: readonly boolean[] }
  | { all: CaseTree[] }
  | { any: CaseTree[] }
  | { not: CaseTree }

/** What is known of the things that conditions name: the more, the more can be compared. */
export interface Known {
  fields: readonly Pick<Field, 'id' | 'kind'>[]
  scorecards: Readonly<Record<number, Scorecard>>
}

/** What questions are about, under one name, with a value for each case and how to ask of it. */
interface Subject {
  values: readonly unknown[]
  holds: (leaf: never, value: never) => boolean
}

const keyOf = (leaf: Leaf): string => JSON.stringify(leaf)

/** Questions about the same thing have the same name. */
function subjectOf(leaf: Leaf): string {
  switch (leaf.kind) {
    case 'field':
      return `field ${leaf.field}`
    case 'source':
      return `source ${leaf.name}`
    case 'score':
    case 'band':
      return `score ${leaf.scorecard}`
    case 'followup':
      return `followup ${leaf.followup}`
    case 'deadline':
      return `deadline ${leaf.deadline}`
    case 'state':
      return 'state'
    case 'did': {
      const { atLeast: _times, ...what } = leaf
      return keyOf(what as Leaf)
    }
    case 'hasTag':
    case 'topic':
    case 'agreedTo':
    case 'segment':
    case 'created':
      return keyOf(leaf)
  }
}

type LeafOf<K extends Leaf['kind']> = Extract<Leaf, { kind: K }>

function scoreValues(
  leaves: readonly LeafOf<'score' | 'band'>[],
  card: Scorecard | undefined,
): number[] | null {
  if (!card && leaves.some(({ kind }) => kind === 'band')) return null
  const named = [
    ...leaves.flatMap((leaf) => (leaf.kind === 'score' ? [leaf.atLeast ?? [], leaf.below ?? []].flat() : [])),
    ...(card?.bands.flatMap(({ from }) => from ?? []) ?? []),
  ].sort((a, b) => a - b)
  return [(named[0] ?? 0) - 1, ...named]
}

/** The cases of what these questions are all about; null when they are taken for independent. */
function subject(leaves: readonly Leaf[], { fields, scorecards }: Known): Subject | null {
  const [first] = leaves
  if (!first) return null
  switch (first.kind) {
    case 'state':
      return {
        values: marketingState.options,
        holds: (leaf: LeafOf<'state'>, value: never) => leaf.is.includes(value),
      }
    case 'did': {
      const times = leaves.map((leaf) => (leaf as LeafOf<'did'>).atLeast)
      return { values: [0, ...times], holds: (leaf: LeafOf<'did'>, value: number) => value >= leaf.atLeast }
    }
    case 'score':
    case 'band': {
      const card = scorecards[first.scorecard]
      const values = scoreValues(leaves as LeafOf<'score' | 'band'>[], card)
      return (
        values && {
          values,
          holds: (leaf: LeafOf<'score' | 'band'>, value: number) =>
            leaf.kind === 'band'
              ? card !== undefined && bandOf(card, value).id === leaf.band
              : value >= (leaf.atLeast ?? -Infinity) && value < (leaf.below ?? Infinity),
        }
      )
    }
    case 'field': {
      const tests = leaves.map((leaf) => (leaf as LeafOf<'field'>).test)
      if (typeof first.field !== 'number') {
        const values = textRepresentatives(tests)
        return (
          values && { values, holds: (leaf: LeafOf<'field'>, value: never) => matchesText(leaf.test, value) }
        )
      }
      const values = representativesOf(tests, fields.find(({ id }) => id === first.field)?.kind)
      // No test that is compared asks what day it is.
      return (
        values && {
          values,
          holds: (leaf: LeafOf<'field'>, value: never) => matchesTest(leaf.test, value, ''),
        }
      )
    }
    case 'source': {
      const values = textRepresentatives(leaves.map((leaf) => (leaf as LeafOf<'source'>).test))
      return (
        values && { values, holds: (leaf: LeafOf<'source'>, value: never) => matchesText(leaf.test, value) }
      )
    }
    case 'followup': {
      const values = [[], ['inside'], ['finished'], ['inside', 'finished']]
      return {
        values,
        holds: (leaf: LeafOf<'followup'>, been: string[]) =>
          leaf.is === 'ever' ? been.length > 0 : been.includes(leaf.is),
      }
    }
    case 'deadline':
      return {
        values: deadlineState.options,
        holds: (leaf: LeafOf<'deadline'>, state: string) => leaf.is === state,
      }
    case 'hasTag':
    case 'topic':
    case 'agreedTo':
    case 'segment':
    case 'created':
      return null
  }
}

/**
 * What some conditions tell apart, as variables with cases: the questions about one thing are one variable, and what
 * none of them tells apart is one case of it. Questions that cannot be compared are taken for independent, so that what
 * is proved of cases is true of people, and what is not proved may still be.
 */
export class Cases {
  /** How many cases each variable has. */
  readonly sizes: number[] = []
  /** Every question once. */
  readonly leaves: readonly Leaf[]
  private readonly questions = new Map<string, CaseTree & { variable: number }>()

  constructor(conditions: readonly Condition[], known: Known) {
    const leaves = new Map(conditions.flatMap(leavesOf).map((leaf) => [keyOf(leaf), leaf]))
    this.leaves = [...leaves.values()]
    const groups = new Map<string, Leaf[]>()
    for (const leaf of this.leaves)
      groups.set(subjectOf(leaf), [...(groups.get(subjectOf(leaf)) ?? []), leaf])
    for (const group of groups.values()) {
      const of = subject(group, known)
      if (of) this.add(group, of)
      else
        for (const leaf of group)
          this.add([leaf], { values: [false, true], holds: (_leaf: Leaf, value: boolean) => value })
    }
  }

  private add(leaves: readonly Leaf[], { values, holds }: Subject): void {
    const answers = values.map((value) => leaves.map((leaf) => holds(leaf as never, value as never)))
    const distinct = [...new Map(answers.map((each) => [each.join(), each])).values()]
    const variable = this.sizes.push(distinct.length) - 1
    leaves.forEach((leaf, i) =>
      this.questions.set(keyOf(leaf), { variable, holds: distinct.map((each) => each[i] ?? false) }),
    )
  }

  /** A condition over the cases. @param tree one of those that the cases are of, or made of their questions */
  tree(of: Condition): CaseTree {
    if (isLeaf(of)) {
      const question = this.questions.get(keyOf(of))
      if (!question) throw new RangeError('a question that these cases do not know')
      return question
    }
    if (of.kind === 'not') return { not: this.tree(of.of) }
    const parts = of.of.map((part) => this.tree(part))
    return of.kind === 'all' ? { all: parts } : { any: parts }
  }
}
