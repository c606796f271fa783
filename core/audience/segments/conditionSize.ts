import { leavesOf, mostQuestions, type Condition } from './condition.ts'

type Segments = Readonly<Record<number, Condition>>

/**
 * How many questions a condition asks when each segment that it names is put in its place: a segment counts as one
 * and all that it asks. Counting stops a little past the limit, since segments within segments multiply.
 */
export function countQuestions(tree: Condition, segments: Segments): number {
  const known = new Map<number, number>()
  const count = (part: Condition): number => {
    let sum = 0
    for (const leaf of leavesOf(part)) {
      sum += 1
      if (leaf.kind === 'segment') sum += countSegment(leaf.segment)
      if (sum > mostQuestions) return mostQuestions + 1
    }
    return sum
  }
  const countSegment = (id: number): number => {
    const before = known.get(id)
    if (before !== undefined) return before
    // A segment that leads back to itself has no answer, and adds nothing.
    known.set(id, 0)
    const inner = segments[id]
    const found = inner ? count(inner) : 0
    known.set(id, found)
    return found
  }
  return count(tree)
}

/** Does it ask more than anybody waits for? */
export const asksTooMuch = (tree: Condition, segments: Segments): boolean =>
  countQuestions(tree, segments) > mostQuestions

/** What to say and do about it. */
export const tooMuchAsked = {
  title: `This has more than ${mostQuestions} conditions`,
  detail: `Each segment counts with all of its conditions. Nothing was changed. Remove conditions, or replace some of them by a tag: add it to those people once, and filter by the tag.`,
} as const
