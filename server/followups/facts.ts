import type { Condition } from '../../core/audience/condition.ts'
import type { Purpose } from '../../core/audience/permission.ts'
import type { Facts } from '../../core/followups/advance.ts'
import { allSteps, type Program } from '../../core/followups/program.ts'
import { loadSurroundings } from '../audience/asking.ts'
import { kindsAskedBy, loadPeople } from '../audience/knowledge.ts'
import type { Queries } from '../database/connect.ts'

function conditionsOf(program: Program): Condition[] {
  return allSteps(program.steps).flatMap((step) =>
    step.kind === 'branch'
      ? step.arms.map((arm) => arm.when)
      : step.kind === 'send' && step.onlyIf
        ? [step.onlyIf]
        : [],
  )
}

/**
 * What the engine may look at, for many people in a few statements.
 * @returns facts by contact id
 */
export async function loadFacts(
  q: Queries,
  programs: readonly Program[],
  contacts: readonly number[],
): Promise<Map<number, Facts>> {
  const asking = await loadSurroundings(q)
  const emails = await q.rows<{ id: number; purpose: Purpose }>('select id, purpose from email')
  const people = await loadPeople(q, contacts, kindsAskedBy(programs.flatMap(conditionsOf), asking.segments))
  const purposes = Object.fromEntries(emails.map(({ id, purpose }) => [id, { purpose }]))
  return new Map([...people].map(([id, person]) => [id, { person, emails: purposes, asking }]))
}
