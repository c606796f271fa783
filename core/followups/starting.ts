import type { Activity, Instant } from '../audience/people/activity.ts'
import type { Program } from './program.ts'
import { isTrigger, usualReentryDays, type StartRule } from './start.ts'
import type { SendStep } from './step.ts'
import { sets } from './trigger.ts'

const day = 86_400_000

/**
 * Does this activity start a follow-up? Details that the rule leaves open match any. Who is held out did it like
 * everybody, but nothing starts by it: what comes of them is the yardstick.
 */
export const starts = (rule: StartRule, activity: Activity): boolean =>
  isTrigger(rule) &&
  sets(rule, activity) &&
  !('heldOut' in activity.details && activity.details.heldOut === true)

/** An earlier time in the same follow-up. */
export interface Earlier {
  startedAt: Instant
  ended: boolean
}

/** May a person with these earlier enrolments come in (again)? With the reason, for the journal. */
export function mayEnter(
  { reentry, reentryDays = usualReentryDays }: Pick<Program, 'reentry' | 'reentryDays'>,
  earlier: readonly Earlier[],
  now: Instant,
): { allowed: boolean; reason: string } {
  if (earlier.length === 0) return { allowed: true, reason: 'first time' }
  if (reentry === 'always') return { allowed: true, reason: 'comes in every time' }
  if (earlier.some((each) => !each.ended)) return { allowed: false, reason: 'is already inside' }
  switch (reentry) {
    case 'never':
      return { allowed: false, reason: 'has been in this follow-up before; people enter once' }
    case 'afterLeaving':
      return { allowed: true, reason: 'comes in again after leaving' }
    case 'afterDays': {
      const last = Math.max(...earlier.map(({ startedAt }) => startedAt))
      const allowed = now >= last + reentryDays * day
      return { allowed, reason: `was in it ${allowed ? 'more' : 'less'} than ${reentryDays} days ago` }
    }
  }
}

/** So many times a day somebody comes into follow-ups, all of them together: more is a circle that is cut. */
export const mostEntriesADay = 50

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
