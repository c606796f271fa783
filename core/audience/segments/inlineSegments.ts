import { isLeaf, type Condition } from './condition.ts'

/**
 * A condition with what segments ask in the place of their names, so that it can be compared with others. One that is
 * gone, or that leads back to itself, stays a name.
 */
export function inlineSegments(tree: Condition, segments: Readonly<Record<number, Condition>>): Condition {
  if (isLeaf(tree)) {
    const inner = tree.kind === 'segment' ? segments[tree.segment] : undefined
    if (tree.kind !== 'segment' || !inner) return tree
    const { [tree.segment]: _itself, ...others } = segments
    return inlineSegments(inner, others)
  }
  if (tree.kind === 'not') return { kind: 'not', of: inlineSegments(tree.of, segments) }
  return { kind: tree.kind, of: tree.of.map((part) => inlineSegments(part, segments)) }
}
