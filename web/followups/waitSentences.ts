import { DateTime } from 'luxon'
import type { Names } from '../../core/audience/segments/names.ts'
import { describeWait } from '../../core/followups/sentences.ts'
import type { WaitStep } from '../../core/followups/step.ts'
import { spanEnds, waitEnds } from '../../core/followups/waiting.ts'

/**
 * A wait as one reads it aloud, with an example: what it would be for somebody who comes to it at a moment, and who
 * started so long before.
 */
export function waitSentence(
  wait: WaitStep,
  names: Names,
  { zone, now, elapsed }: { zone: string; now: number; elapsed: number },
): string {
  const sentence = `Wait ${describeWait(wait, names)}.`
  const waiter = {
    startedAt: now - elapsed,
    zone,
    session: null,
    dateIn: () => null,
    deadline: () => null,
  }
  const until = wait.kind === 'waitUntil' ? spanEnds(wait.atMost, now, zone) : waitEnds(wait, now, waiter)
  if (until === null) return sentence
  const tell = (at: number): string =>
    DateTime.fromMillis(at, { zone }).setLocale('en-GB').toFormat('cccc d LLLL, HH:mm')
  return until <= now
    ? `${sentence} Who comes to it ${tell(now)} goes on at once.`
    : `${sentence} Who comes to it ${tell(now)} goes on ${tell(until)}${wait.kind === 'waitUntil' ? ' at the latest' : ''}.`
}
