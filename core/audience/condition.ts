import { z } from 'zod'
import { activityKind } from './activity.ts'

const id = z.number().int().positive()

/** "Did X (at least n times) (since the follow-up began)": X is an activity kind with some of its details. */
const did = z.object({
  kind: z.literal('did'),
  activity: activityKind,
  details: z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])).default({}),
  atLeast: z.number().int().min(1).default(1),
})

const hasTag = z.object({ kind: z.literal('hasTag'), tag: id })

const leaf = z.discriminatedUnion('kind', [did, hasTag])

export type Leaf = z.infer<typeof leaf>

/** What must be true of a person: a tree of questions. */
export type Condition =
  Leaf | { kind: 'all'; of: Condition[] } | { kind: 'any'; of: Condition[] } | { kind: 'not'; of: Condition }

export const condition: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    leaf,
    z.object({ kind: z.literal('all'), of: z.array(condition).max(50) }),
    z.object({ kind: z.literal('any'), of: z.array(condition).max(50) }),
    z.object({ kind: z.literal('not'), of: condition }),
  ]),
)

/** Every leaf of the tree, left to right. */
export function leavesOf(tree: Condition): Leaf[] {
  switch (tree.kind) {
    case 'all':
    case 'any':
      return tree.of.flatMap(leavesOf)
    case 'not':
      return leavesOf(tree.of)
    default:
      return [tree]
  }
}
