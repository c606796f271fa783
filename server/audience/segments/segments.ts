import type {
  SampleView,
  SegmentEdit,
  SegmentView,
  Vocabulary,
  WhyView,
} from '../../../contract/audience/segments.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { leavesOf, mostQuestions, type Condition } from '../../../core/audience/segments/condition.ts'
import { asksTooMuch } from '../../../core/audience/segments/conditionSize.ts'
import { evaluate, type ConditionContext } from '../../../core/audience/segments/evaluate.ts'
import { missingIn } from '../../../core/audience/segments/references.ts'
import { describeCondition } from '../../../core/audience/segments/describe.ts'
import { ownCoupons } from '../../commerce/couponCodes.ts'
import { deadlineNames } from '../../commerce/deadlines.ts'
import type { Queries } from '../../database/connect.ts'
import { renewWakings } from '../../followups/waking.ts'
import { queueJobs } from '../../work/jobs.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { notFound, Problem } from '../../http/problems.ts'
import { loadContext, refuseLarge } from './evaluationContext.ts'
import { openFields } from '../describing/fields.ts'
import { activityKindsIn, loadPeople } from '../people/personFacts.ts'
import { loadAllNames, loadNamedParts } from './names.ts'
import { listContacts } from '../people/contactList.ts'
import { loadScorecards } from '../scores/scoring.ts'
import { segmentCounts } from './segmentCounts.ts'

const sampleSize = 10
const daysOfTrend = 90

interface SegmentRow {
  id: number
  name: string
  tree: Condition
  trend: { day: string; people: number }[]
}

/** What keeps a condition from being answered, in words. */
function faultsIn(tree: Condition, { names, segments }: ConditionContext): string[] {
  const tooMuch = asksTooMuch(tree, segments) ? [`more than ${mostQuestions} questions`] : []
  return [...missingIn(tree, names), ...tooMuch]
}

/** Saved segments with how many people each has now, and had. */
export async function listSegments(platform: Platform): Promise<SegmentView[]> {
  const q = platform.database
  const rows = await q.rows<SegmentRow>(
    `select id, name, tree, coalesce((select json_agg(json_build_object('day', day, 'people', people) order by day)
       from (select day, people from segment_count where segment_id = segment.id order by day desc limit ${daysOfTrend}) t), '[]') trend
     from segment order by name_key`,
  )
  const context = await loadContext(
    q,
    rows.map(({ tree }) => tree),
  )
  const missing = new Map(rows.map(({ id, tree }) => [id, faultsIn(tree, context)]))
  const whole = rows.filter(({ id }) => missing.get(id)?.length === 0).map(({ id }) => id)
  const people = await segmentCounts(platform, whole)
  return rows.map((row) => {
    const usedBy = rows.filter(({ tree }) =>
      leavesOf(tree).some((leaf) => leaf.kind === 'segment' && leaf.segment === row.id),
    )
    return {
      ...row,
      sentence: describeCondition(row.tree, context.names, context.scorecards),
      missing: missing.get(row.id) ?? [],
      people: people.get(row.id) ?? null,
      usedBy: usedBy.map(({ name }) => name),
    }
  })
}

/** Does the tree come back to the segment, by itself or through others? Then it would have no answer. */
function comesBack(
  tree: Condition,
  id: number,
  segments: Readonly<Record<number, Condition>>,
  seen: Set<number>,
): boolean {
  return leavesOf(tree).some((leaf) => {
    if (leaf.kind !== 'segment' || seen.has(leaf.segment)) return false
    if (leaf.segment === id) return true
    seen.add(leaf.segment)
    const inner = segments[leaf.segment]
    return inner !== undefined && comesBack(inner, id, segments, seen)
  })
}

/** Refuses a segment by which another one, that names it, would ask too much. @throws Problem 422 */
function refuseGrowing(
  others: readonly { id: number; name: string; tree: Condition }[],
  id: number | null,
  tree: Condition,
): void {
  if (id === null) return
  const next = { ...Object.fromEntries(others.map((each) => [each.id, each.tree])), [id]: tree }
  const grown = others.find((each) => each.id !== id && asksTooMuch(each.tree, next))
  if (grown)
    throw new Problem(
      422,
      `“${grown.name}” would have more than ${mostQuestions} conditions`,
      'It uses this segment, with all of its conditions. Nothing was changed. Remove conditions here or there.',
    )
}

/** Makes a segment, or changes the one with this id, in a transaction. @throws Problem 404, 409, 422 */
export async function saveSegmentIn(
  tx: Queries,
  id: number | null,
  { name, tree }: SegmentEdit,
  now: Date,
): Promise<number> {
  const other = await tx.row('select id from segment where name_key = lower($1) and id is distinct from $2', [
    name,
    id,
  ])
  if (other)
    throw new Problem(409, 'This segment name is taken', 'Choose another name.', {
      name: 'Taken',
    })
  // Two who save segments at once could make them lead back to each other.
  await tx.rows('lock table segment in share row exclusive mode')
  const others = await tx.rows<{ id: number; name: string; tree: Condition }>(
    'select id, name, tree from segment',
  )
  const segments = Object.fromEntries(others.map((each) => [each.id, each.tree]))
  if (id !== null && comesBack(tree, id, segments, new Set()))
    throw new Problem(
      409,
      'A segment cannot use itself',
      'Remove the condition that leads back to this segment.',
    )
  refuseLarge([tree], segments)
  refuseGrowing(others, id, tree)
  const saved =
    id === null
      ? await tx.row<{ id: number }>(
          'insert into segment (name, tree, created_at, updated_at) values ($1, $2, $3, $3) returning id',
          [name, JSON.stringify(tree), now],
        )
      : await tx.row<{ id: number }>(
          'update segment set name = $2, tree = $3, updated_at = $4, people = null where id = $1 returning id',
          [id, name, JSON.stringify(tree), now],
        )
  if (!saved) throw notFound('This segment')
  // Others may ask for this one.
  await tx.rows('update segment set counted_at = null')
  // So may follow-ups: what wakes people in them, and who comes in.
  await renewWakings(tx)
  await queueJobs(tx, 'lookForStarts', [{}])
  await announce(tx, 'audience')
  return saved.id
}

/** Makes a segment, or changes the one with this id. @throws as `saveSegmentIn` */
export const saveSegment = (
  { database, clock }: Platform,
  id: number | null,
  edit: SegmentEdit,
): Promise<number> => database.inTransaction((tx) => saveSegmentIn(tx, id, edit, new Date(clock.now())))

/** Deletes a segment; what speaks of it is shown as broken until it is mended. @throws Problem 404 */
export async function deleteSegment(platform: Platform, id: number): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const found = await tx.row('delete from segment where id = $1 returning id', [id])
    if (!found) throw notFound('This segment')
    await announce(tx, 'audience')
  })
}

/** Some of those who are meant, the newest first. */
export async function sampleOf(q: Queries, tree: Condition, now: Instant): Promise<SampleView> {
  const context = await loadContext(q, [tree])
  const missing = faultsIn(tree, context)
  const sentence = describeCondition(tree, context.names, context.scorecards)
  if (missing.length > 0) return { rows: [], sentence, missing }
  const query = { search: '', tree, rehearsal: 'no', sort: 'newest', after: null, size: sampleSize } as const
  return { rows: (await listContacts(q, query, now)).rows, sentence, missing }
}

/** Why one person is meant, or is not. @throws Problem 404 */
export async function whyOf(q: Queries, tree: Condition, contact: number, now: Instant): Promise<WhyView> {
  const context = await loadContext(q, [tree])
  refuseLarge([tree], context.segments)
  const people = await loadPeople(q, [contact], activityKindsIn([tree], context.segments))
  const person = people.get(contact)
  if (!person) throw notFound('This person')
  const { holds, reason } = evaluate(tree, person, { ...context, now })
  return { holds, reason }
}

/** Everything that a condition can speak of. */
export async function loadVocabulary(q: Queries): Promise<Vocabulary> {
  const all = await loadAllNames(q)
  const scorecards = Object.fromEntries(await loadScorecards(q))
  // Fields bring their choices' words along.
  const { choices: _choices, ...names } = all
  const links = await q.rows<{ email: number; links: number[] }>(
    'select email_id email, json_agg(id order by gone, position) links from email_link group by 1',
  )
  return {
    names,
    scorecards,
    fields: await openFields(q),
    links: Object.fromEntries(links.map((each) => [each.email, each.links])),
    parts: await loadNamedParts(q),
    deadlines: await deadlineNames(q),
    coupons: await ownCoupons(q),
  }
}
