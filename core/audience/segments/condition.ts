import { z } from 'zod'
import { activityKind, askedDetails, sourceName } from '../people/activity.ts'
import { marketingState } from '../people/permission.ts'
import { deadlineName, deadlineState } from '../../commerce/deadlineState.ts'
import { within } from './within.ts'

const id = z.number().int().positive()
const words = z.string().trim().min(1).max(300)
const choices = z.array(words).min(1).max(200)
const date = z.iso.date()

/** What everybody has; beyond it there are own fields, by id. */
export const builtInField = z.enum([
  'address',
  'firstName',
  'lastName',
  'phone',
  'country',
  'language',
  'zone',
])
export type BuiltInField = z.infer<typeof builtInField>

/** Text compares without regard to letters' case. */
export const textTest = z.discriminatedUnion('test', [
  z.object({ test: z.literal('is'), value: words }),
  z.object({ test: z.literal('contains'), value: words }),
  z.object({ test: z.literal('startsWith'), value: words }),
  z.object({ test: z.literal('endsWith'), value: words }),
  z.object({ test: z.literal('isAnyOf'), values: choices }),
  z.object({ test: z.literal('isSet') }),
])
export type TextTest = z.infer<typeof textTest>

/** A test of another kind than the value fails: a text is never at least 3. Days are those of the asker's zone. */
export const fieldTest = z.discriminatedUnion('test', [
  ...textTest.options,
  z.object({ test: z.literal('equals'), value: z.number() }),
  z.object({ test: z.literal('atLeast'), value: z.number() }),
  z.object({ test: z.literal('atMost'), value: z.number() }),
  z.object({ test: z.literal('isYes') }),
  z.object({ test: z.literal('hasAllOf'), values: choices }),
  z.object({ test: z.literal('onOrAfter'), date }),
  z.object({ test: z.literal('onOrBefore'), date }),
  z.object({ test: z.literal('inLastDays'), days: z.number().int().min(0).max(40_000) }),
  z.object({ test: z.literal('inNextDays'), days: z.number().int().min(0).max(40_000) }),
])
export type FieldTest = z.infer<typeof fieldTest>

/** "Did X (at least n times) (in the last …)": X is an activity kind with some of its details. */
const did = z.object({
  kind: z.literal('did'),
  activity: activityKind,
  details: askedDetails.default({}),
  atLeast: z.number().int().min(1).max(10_000).default(1),
  within: within.optional(),
})

const leaf = z.discriminatedUnion('kind', [
  did,
  z.object({ kind: z.literal('hasTag'), tag: id }),
  z.object({ kind: z.literal('field'), field: z.union([builtInField, id]), test: fieldTest }),
  z.object({ kind: z.literal('topic'), topic: id }),
  z.object({ kind: z.literal('state'), is: z.array(marketingState).min(1) }),
  z.object({
    kind: z.literal('score'),
    scorecard: id,
    atLeast: z.number().optional(),
    below: z.number().optional(),
  }),
  z.object({ kind: z.literal('band'), scorecard: id, band: z.string().min(1).max(40) }),
  z.object({ kind: z.literal('segment'), segment: id }),
  z.object({ kind: z.literal('source'), name: sourceName, test: textTest }),
  z.object({ kind: z.literal('created'), within }),
  /** Agreed to these very words, which a form had for a time. */
  z.object({ kind: z.literal('agreedTo'), wording: id }),
  z.object({ kind: z.literal('followup'), followup: id, is: z.enum(['inside', 'finished', 'ever']) }),
  /** A personal deadline of theirs, by its name. */
  z.object({ kind: z.literal('deadline'), deadline: deadlineName, is: deadlineState }),
])

export type Leaf = z.infer<typeof leaf>

/** What must be true of a person: a tree of questions. */
export type Condition =
  Leaf | { kind: 'all'; of: Condition[] } | { kind: 'any'; of: Condition[] } | { kind: 'not'; of: Condition }

const tree: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    leaf,
    z.object({ kind: z.literal('all'), of: z.array(tree).max(50) }),
    z.object({ kind: z.literal('any'), of: z.array(tree).max(50) }),
    z.object({ kind: z.literal('not'), of: tree }),
  ]),
)

/** Far more than the builder nests and anybody reads. */
const deepest = 40

function isDeeper(value: unknown, than: number): boolean {
  if (typeof value !== 'object' || value === null) return false
  if (than === 0) return true
  const { of } = value as { of?: unknown }
  return Array.isArray(of) ? of.some((part) => isDeeper(part, than - 1)) : isDeeper(of, than - 1)
}

/** Questions that one condition may ask, with those of the segments that it names: beyond it nobody waits for the answer. */
export const mostQuestions = 200

/**
 * Everything that walks a condition does so by calling itself: how deep it goes is looked at before all else, and how
 * much it asks before anything is asked.
 */
export const condition: z.ZodType<Condition> = z
  .unknown()
  .refine((value) => !isDeeper(value, deepest), `Groups may stand in each other ${deepest} deep at most`)
  .pipe(tree)
  .refine(
    (parsed) => leavesOf(parsed).length <= mostQuestions,
    `A condition may ask ${mostQuestions} questions at most: take some lines out`,
  )

/** Is it one question, not a group of some? */
export const isLeaf = (tree: Condition): tree is Leaf => !('of' in tree)

/** Every leaf of the tree, left to right. */
export function leavesOf(tree: Condition): Leaf[] {
  if (isLeaf(tree)) return [tree]
  switch (tree.kind) {
    case 'all':
    case 'any':
      return tree.of.flatMap(leavesOf)
    case 'not':
      return leavesOf(tree.of)
  }
}
