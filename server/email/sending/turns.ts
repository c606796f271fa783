import type { Instant } from '../../../core/audience/people/activity.ts'
import { turnOf, type SendingRules, type Turn } from '../../../core/email/sendingRules.ts'
import { isZone } from '../../../core/followups/waiting.ts'
import type { Queries } from '../../database/connect.ts'
import { getBusiness } from '../../workspace/business.ts'
import { countsAlone, heldAlone, recentMarketing, roomThisMinute } from '../sendingRules.ts'
import type { ClaimedMessage } from './claimed.ts'

/** Says by the sending rules when each message of a batch goes. */
export interface Turns {
  /** Nobody else writes to this person just now; otherwise the message waits for the next batch. */
  isAlone(message: ClaimedMessage): boolean
  /** Takes the place of a message, if there is one now. @param at on the person's clock */
  take(message: ClaimedMessage, at: Instant): Turn
}

/** How many messages may be claimed now by the rate of the business; none while another worker counts. */
export async function roomFor(q: Queries, rules: SendingRules, now: Instant): Promise<number> {
  if (rules.perMinute === null) return Infinity
  return (await countsAlone(q)) ? roomThisMinute(q, rules, now) : 0
}

const now: Turn = { is: 'now' }

/** For a step that sends now or not at all. */
const skippedInstead = (reason: string): Turn => ({
  is: 'skipped',
  reason: reason.replace('Moved:', 'Skipped:'),
})

/** Looks at what the rules need for a batch, once. */
export async function openTurns(
  q: Queries,
  rules: SendingRules,
  messages: readonly ClaimedMessage[],
  at: Instant,
): Promise<Turns> {
  const capped = rules.aDay !== null || rules.aWeek !== null
  if (!capped && rules.quiet === null && rules.weekdays.length === 7)
    return { isAlone: () => true, take: () => now }
  const marketing = messages.filter(({ purpose }) => purpose === 'marketing')
  const contacts = marketing.map(({ contact }) => contact.id)
  const alone = capped ? await heldAlone(q, contacts) : null
  const recent = capped ? await recentMarketing(q, contacts, at) : new Map<number, Instant[]>()
  const { zone } = await getBusiness(q)
  return {
    isAlone: ({ purpose, contact }) => purpose !== 'marketing' || alone === null || alone.has(contact.id),
    take({ purpose, contact, hurried, whenFull }, onTheirClock) {
      if (purpose !== 'marketing' || hurried) return now
      const sent = recent.get(contact.id) ?? []
      const turn = turnOf(rules, {
        at: onTheirClock,
        zone: contact.zone !== null && isZone(contact.zone) ? contact.zone : zone,
        recent: sent,
      })
      // The next one to the same person in this batch sees that this one goes.
      if (turn.is === 'now') recent.set(contact.id, [...sent, onTheirClock])
      return turn.is === 'moved' && whenFull === 'skip' ? skippedInstead(turn.reason) : turn
    },
  }
}
