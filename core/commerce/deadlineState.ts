import { z } from 'zod'
import type { Instant } from '../audience/people/activity.ts'

/** The name of a personal deadline: it stands in sentences. */
export const deadlineName = z.string().trim().min(1, 'Give the deadline a name').max(80)

export const deadlineState = z.enum(['none', 'running', 'over'])
/** What a deadline is to somebody at a moment: it has not begun for them, runs, or is over. */
export type DeadlineState = z.infer<typeof deadlineState>

/** @param endsAt when it ends for them; undefined when it has not begun */
export function stateOfDeadline(endsAt: Instant | undefined, now: Instant): DeadlineState {
  if (endsAt === undefined) return 'none'
  return now < endsAt ? 'running' : 'over'
}
