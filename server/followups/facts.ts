import type { Purpose } from '../../core/audience/people/permission.ts'
import type { Facts } from '../../core/followups/enrolment.ts'
import { conditionsOf, type Program } from '../../core/followups/program.ts'
import { allSteps } from '../../core/followups/step.ts'
import { kindsToLeave } from '../../core/followups/wakes.ts'
import { openFields } from '../audience/describing/fields.ts'
import { loadProgramContext } from './programContext.ts'
import { activityKindsIn, loadPeople, partsAskedBy } from '../audience/people/personFacts.ts'
import type { Queries } from '../database/connect.ts'

/** What the engine may look at, but for what belongs to one enrolment. */
export type KnownFacts = Omit<Facts, 'seed'>

/**
 * What the engine may look at, for many people in a few statements.
 * @returns facts by contact id
 */
export async function loadFacts(
  q: Queries,
  programs: readonly Program[],
  contacts: readonly number[],
): Promise<Map<number, KnownFacts>> {
  const trees = programs.flatMap(conditionsOf)
  const context = await loadProgramContext(q, programs)
  const emails = await q.rows<{ id: number; purpose: Purpose }>(
    'select id, purpose from email where id = any($1)',
    [Object.keys(context.names.emails).map(Number)],
  )
  const kinds = [...activityKindsIn(trees, context.segments), ...programs.flatMap(kindsToLeave)]
  const parts = partsAskedBy(trees, context.segments)
  if (kinds.length > 0) parts.add('activities')
  // Steps look at what they change.
  for (const { kind } of programs.flatMap(({ steps }) => allSteps(steps))) {
    if (kind === 'addTag' || kind === 'removeTag') parts.add('tags')
    if (kind === 'joinTopic' || kind === 'leaveTopic') parts.add('topics')
    if (kind === 'startDeadline' || kind === 'waitRelative') parts.add('deadlines')
  }
  const people = await loadPeople(q, contacts, [...new Set(kinds)], parts)
  const fields = await openFields(q)
  const purposes = Object.fromEntries(emails.map(({ id, purpose }) => [id, { purpose }]))
  return new Map(
    [...people].map(([id, person]) => [
      id,
      // Sessions have no times yet: their part brings them.
      { person, emails: purposes, context, fields, sessions: {} },
    ]),
  )
}
