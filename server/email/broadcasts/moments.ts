import type { Moment } from '../../../contract/broadcasts.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { firstInstantOf } from '../../../core/followups/waiting.ts'
import { Problem } from '../../http/problems.ts'

/** Whoever presses the button can call it back for so long (milliseconds). */
export const callBackFor = 60_000

/** What is planned is made ready so long before the first of its readers gets it (milliseconds). */
const preparedBefore = 2 * 60_000

/** The first clocks of the world are so far ahead of UTC (milliseconds). */
const firstClocks = 14 * 3_600_000

/** A local time as if it were UTC. */
export const wallOf = (local: string): number => Date.parse(`${local}:00Z`)

/** When a broadcast goes out, and when it has to be made ready for that. @throws Problem 422 */
export function plannedMoments(
  moment: Moment,
  zone: string,
  now: Instant,
): { goesAt: Instant; prepareAt: Instant; readerZone: boolean } {
  if (moment.when === 'now') return { goesAt: now + callBackFor, prepareAt: now, readerZone: false }
  const { local, readerZone } = moment
  const goesAt = firstInstantOf(wallOf(local), zone)
  if (!readerZone && goesAt <= now)
    throw new Problem(422, 'This moment has passed', 'Choose a later one, or send it now.')
  const first = readerZone ? wallOf(local) - firstClocks : goesAt
  if (readerZone && wallOf(local) + firstClocks <= now)
    throw new Problem(422, 'This moment has passed everywhere', 'Choose a later one, or send it now.')
  return { goesAt, prepareAt: Math.max(now, first - preparedBefore), readerZone }
}
