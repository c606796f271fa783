import { hasDetails, type Activity } from '../audience/activity.ts'
import type { Program, StartsWhen } from './program.ts'

/** Does this activity start a follow-up? Details that the rule leaves open match any. */
export function starts(rule: StartsWhen, activity: Activity): boolean {
  const { kind, ...wanted } = rule
  return activity.kind === kind && hasDetails(activity, wanted)
}

/** May a person with these earlier enrolments come in (again)? With the reason, for the journal. */
export function mayEnter(
  program: Program,
  earlier: readonly { ended: boolean }[],
): { allowed: boolean; reason: string } {
  if (earlier.length === 0) return { allowed: true, reason: 'first time' }
  if (earlier.some((each) => !each.ended)) return { allowed: false, reason: 'already inside' }
  return program.reentry === 'afterLeaving'
    ? { allowed: true, reason: 'comes in again after leaving' }
    : { allowed: false, reason: 'was inside before; people come in once' }
}
