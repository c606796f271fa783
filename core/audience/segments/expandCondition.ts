import type { Instant } from '../people/activity.ts'
import { isLeaf, type Condition, type Leaf } from './condition.ts'
import type { EvaluationContext } from './evaluate.ts'
import { isBroken } from './references.ts'

/** A question that is put to the data itself. */
export type Question = Exclude<Leaf, { kind: 'segment' }>

/** A condition with every segment put in its place, and nothing asked twice in one group. */
export type Expanded =
  | { kind: 'ask'; question: Question; since: Instant | undefined; key: string }
  | { kind: 'all' | 'any'; of: Expanded[]; key: string }
  | { kind: 'not'; of: Expanded; key: string }
  /** Nobody can tell: it speaks of something that is gone, or of itself. */
  | { kind: 'unknown'; key: string }

type Context = Omit<EvaluationContext, 'now' | 'scorecards'>

const unknown: Expanded = { kind: 'unknown', key: '?' }

/**
 * Parts of one group, those of a like group inside drawn up into it, equal ones once. Both hold in Kleene's logic as
 * in any other: (a and b) and a is a and b.
 */
function grouped(kind: 'all' | 'any', parts: readonly Expanded[]): Expanded {
  const drawnUp = parts.flatMap((part) => (part.kind === kind ? part.of : [part]))
  const once = [...new Map(drawnUp.map((part) => [part.key, part])).values()]
  const [only] = once
  if (once.length === 1 && only) return only
  return { kind, of: once, key: `${kind}(${once.map(({ key }) => key).join(' ')})` }
}

/** A question with its segments put in their place. */
function expandLeaf(leaf: Leaf, context: Context): Expanded {
  if (isBroken(leaf, context.names)) return unknown
  if (leaf.kind !== 'segment')
    return {
      kind: 'ask',
      question: leaf,
      since: context.since,
      key: JSON.stringify(leaf.kind === 'did' ? [leaf, context.since] : leaf),
    }
  const inner = context.segments[leaf.segment]
  if (!inner) return unknown
  // Without itself inside: a segment that asks for itself has no answer. It asks of all time.
  const { [leaf.segment]: _itself, ...segments } = context.segments
  const { since: _start, ...rest } = context
  return expandCondition(inner, { ...rest, segments })
}

/** Puts segments in their place and asks equal questions of a group once. */
export function expandCondition(tree: Condition, context: Context): Expanded {
  if (isLeaf(tree)) return expandLeaf(tree, context)
  switch (tree.kind) {
    case 'all':
    case 'any':
      return grouped(
        tree.kind,
        tree.of.map((part) => expandCondition(part, context)),
      )
    case 'not': {
      const of = expandCondition(tree.of, context)
      if (of.kind === 'not') return of.of
      return of.kind === 'unknown' ? unknown : { kind: 'not', of, key: `not(${of.key})` }
    }
  }
}

/** Every question, as often as it stands there. */
export function questionsOf(expanded: Expanded): Extract<Expanded, { kind: 'ask' }>[] {
  switch (expanded.kind) {
    case 'ask':
      return [expanded]
    case 'not':
      return questionsOf(expanded.of)
    case 'all':
    case 'any':
      return expanded.of.flatMap(questionsOf)
    case 'unknown':
      return []
  }
}
