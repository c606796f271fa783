import type { Activity, Instant } from '../audience/people/activity.ts'
import type { LeaveRule, Program } from './program.ts'
import { sets } from './trigger.ts'
import type { Track } from './track.ts'

/** What took somebody off their track, and where it leads; null when out. */
export interface Departure {
  rule: LeaveRule
  activity: Activity
  to: string | null
}

/**
 * The first thing that somebody did since their start by which they leave, or jump ahead from where they stand. A jump
 * never leads back: what they passed stays passed.
 */
export function departs(
  { leavesWhen }: Program,
  track: Track,
  { startedAt, step }: { startedAt: Instant; step: string },
  activities: readonly Activity[],
  now: Instant,
): Departure | null {
  if (leavesWhen.length === 0) return null
  const here = track.get(step)?.order ?? -1
  let first: Departure | null = null
  for (const rule of leavesWhen) {
    const to = rule.milestone ?? null
    if (to !== null && (track.get(to)?.order ?? -1) <= here) continue
    const activity = activities.find((each) => each.at > startedAt && each.at <= now && sets(rule.when, each))
    if (activity && (first === null || activity.at < first.activity.at)) first = { rule, activity, to }
  }
  return first
}
