import { matchesDetails, type Activity } from '../audience/people/activity.ts'
import type { Program, SendStep, StartsWhen } from './program.ts'

/** Does this activity start a follow-up? Details that the rule leaves open match any. */
export function starts(rule: StartsWhen, activity: Activity): boolean {
  const { kind, ...wanted } = rule
  return activity.kind === kind && matchesDetails(activity, wanted)
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
    : { allowed: false, reason: 'has been in this follow-up before; people enter once' }
}

/**
 * The emails with which a follow-up begins, before anybody waits or lanes part: what somebody asked for when they
 * started it. Who asks once more and does not come in again gets these.
 */
export function openingSends({ steps }: Program): SendStep[] {
  const end = steps.findIndex(({ kind }) => kind !== 'send' && kind !== 'addTag')
  return (end < 0 ? steps : steps.slice(0, end)).flatMap((step) =>
    step.kind === 'send' && !step.onlyIf ? [step] : [],
  )
}
