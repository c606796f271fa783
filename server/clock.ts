import type { Instant } from '../core/audience/people/activity.ts'

/** The business's time. Everything that needs the time is handed one of these. */
export interface Clock {
  now(): Instant
  /** Corrects itself by the time that others go by, where there are others. */
  compare?(): Promise<void>
}

/** The operating system's time: the only place that asks for it. */
export const systemClock: Clock = { now: () => Date.now() }

/** A clock that stands at one instant, for pictures and tests. */
export function fixedClock(at: Instant): Clock {
  return { now: () => at }
}

/** A clock that a test moves by hand. */
export function movableClock(start: Instant): Clock & { move(by: number): void } {
  let now = start
  return {
    now: () => now,
    move: (by) => {
      now += by
    },
  }
}
