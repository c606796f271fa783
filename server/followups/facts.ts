import type { Purpose } from '../../core/audience/people/permission.ts'
import type { Facts } from '../../core/followups/advance.ts'
import { conditionsOf, referencesOfProgram, type Program } from '../../core/followups/program.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import { activityKindsIn, loadPeople } from '../audience/people/personFacts.ts'
import type { Queries } from '../database/connect.ts'

/**
 * What the engine may look at, for many people in a few statements.
 * @returns facts by contact id
 */
export async function loadFacts(
  q: Queries,
  programs: readonly Program[],
  contacts: readonly number[],
): Promise<Map<number, Facts>> {
  const trees = programs.flatMap(conditionsOf)
  const context = await loadContext(q, trees, programs.flatMap(referencesOfProgram))
  const emails = await q.rows<{ id: number; purpose: Purpose }>(
    'select id, purpose from email where id = any($1)',
    [Object.keys(context.names.emails).map(Number)],
  )
  const people = await loadPeople(q, contacts, activityKindsIn(trees, context.segments))
  const purposes = Object.fromEntries(emails.map(({ id, purpose }) => [id, { purpose }]))
  return new Map([...people].map(([id, person]) => [id, { person, emails: purposes, context }]))
}
