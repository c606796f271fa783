import type { Instant } from '../audience/people/activity.ts'

/**
 * A message that a mail server cannot take is tried for two days. RFC 5321 §4.5.4.1 advises to wait half an hour and
 * more, and to give up after four to five days; mail that somebody waits for is tried sooner, and what is two days
 * late is of no use any more (common practice).
 */
export const triedFor = 2 * 86_400_000

const minute = 60_000
const pauses = [10_000, minute, 5 * minute, 15 * minute, 30 * minute, 60 * minute]
const longest = 2 * 60 * minute

/**
 * When a message is tried again that was not taken.
 * @param attempts how often it has been tried, this time with it
 * @param firstTriedAt when it was tried first
 * @returns null when it is given up
 */
export function nextTry(attempts: number, firstTriedAt: Instant, now: Instant): Instant | null {
  const next = now + (pauses[attempts - 1] ?? longest)
  return next - firstTriedAt > triedFor ? null : next
}
