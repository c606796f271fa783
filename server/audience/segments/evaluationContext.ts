import { leavesOf, type Condition } from '../../../core/audience/segments/condition.ts'
import { asksTooMuch, tooMuchAsked } from '../../../core/audience/segments/conditionSize.ts'
import type { ConditionContext } from '../../../core/audience/segments/evaluate.ts'
import { referencesOf, type Reference } from '../../../core/audience/segments/references.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'
import type { Queries } from '../../database/connect.ts'
import { Problem } from '../../http/problems.ts'
import { getBusiness } from '../../workspace/business.ts'
import { loadNames } from './names.ts'

type Segments = Record<number, Condition>

/** The segments that these conditions name, and those that these name in turn. */
async function segmentsNamed(q: Queries, trees: readonly Condition[]): Promise<Segments> {
  const namedBy = (tree: Condition): number[] =>
    leavesOf(tree).flatMap((leaf) => (leaf.kind === 'segment' ? [leaf.segment] : []))
  const named = new Set(trees.flatMap(namedBy))
  if (named.size === 0) return {}
  const all = await q.rows<{ id: number; tree: Condition }>('select id, tree from segment')
  const treeOf = new Map(all.map(({ id, tree }) => [id, tree]))
  // A set is walked in the order in which it grows.
  for (const id of named)
    for (const inner of namedBy(treeOf.get(id) ?? { kind: 'all', of: [] })) named.add(inner)
  return Object.fromEntries(all.filter(({ id }) => named.has(id)).map(({ id, tree }) => [id, tree]))
}

/**
 * What questions about people rest on besides the people: the zone, and the names, segments and scorecards that the
 * conditions mention, as they are now.
 * @param also further things whose names are wanted
 */
export async function loadContext(
  q: Queries,
  trees: readonly Condition[],
  also: readonly Reference[] = [],
): Promise<ConditionContext> {
  const segments = await segmentsNamed(q, trees)
  const references = [
    ...[...trees, ...Object.values(segments)].flatMap(leavesOf).flatMap(referencesOf),
    ...also,
  ]
  const cards = references.flatMap(({ kind, id }) => (kind === 'scorecards' ? [id] : []))
  const scorecards =
    cards.length === 0
      ? []
      : await q.rows<{ id: number; card: Scorecard }>('select id, card from scorecard where id = any($1)', [
          cards,
        ])
  const { zone } = await getBusiness(q)
  return {
    zone,
    names: await loadNames(q, references),
    segments,
    scorecards: Object.fromEntries(scorecards.map(({ id, card }) => [id, card])),
  }
}

/** Refuses what asks more than anybody waits for. @throws Problem 422 */
export function refuseLarge(trees: readonly Condition[], segments: Readonly<Segments>): void {
  if (trees.some((tree) => asksTooMuch(tree, segments)))
    throw new Problem(422, tooMuchAsked.title, tooMuchAsked.detail)
}
