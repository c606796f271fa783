import { z } from 'zod'

/** Whether a person may be written to about offers. Receipts and deliveries are another matter. */
export const marketingState = z.enum([
  'waiting', // asked to confirm the address, not yet done
  'subscribed',
  'unsubscribed',
  'bounced', // the address does not exist: nothing is sent to it
  'complained',
  'neverAsked',
])
export type MarketingState = z.infer<typeof marketingState>

/** `transactional`: what the person asked for (the file, a receipt). `marketing`: everything else. */
export const purpose = z.enum(['transactional', 'marketing'])
export type Purpose = z.infer<typeof purpose>

/** How a marketing state is said to the marketer. */
export const marketingStateWords: Record<MarketingState, string> = {
  waiting: 'waiting for confirmation',
  subscribed: 'subscribed',
  unsubscribed: 'unsubscribed',
  bounced: 'bounced',
  complained: 'complained',
  neverAsked: 'never asked',
}

/** The same as the reason for which an offer goes to somebody, or does not. */
const marketingReasons: Record<MarketingState, string> = {
  waiting: 'the person has not confirmed the address yet',
  subscribed: 'the person is subscribed',
  unsubscribed: 'the person is unsubscribed',
  bounced: 'the address bounced: nothing is sent to it',
  complained: 'the person has complained',
  neverAsked: 'the person has never been asked',
}

/** What a person's mail depends on. */
export interface MailWishes {
  state: MarketingState
  /** They paused all email until later. */
  paused: boolean
  /** They agreed to what the email is about; an email about nothing in particular needs no more than the state. */
  agreed: boolean
}

/** May an email of this purpose go to a person with these wishes? With the reason, for the journal. */
export function mayReceive(
  what: Purpose,
  { state, paused, agreed }: MailWishes,
): { allowed: boolean; reason: string } {
  const reason = marketingReasons[state]
  if (state === 'bounced') return { allowed: false, reason }
  if (what === 'transactional') return { allowed: true, reason: 'they asked for it' }
  if (paused) return { allowed: false, reason: 'the person has paused all email' }
  if (state !== 'subscribed') return { allowed: false, reason }
  return agreed
    ? { allowed: true, reason }
    : { allowed: false, reason: 'the person did not agree to the topic' }
}
