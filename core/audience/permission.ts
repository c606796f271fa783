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

/** May an email of this purpose go to a person in this state? With the reason, for the journal. */
export function mayReceive(
  what: Purpose,
  state: MarketingState,
  paused = false,
): { allowed: boolean; reason: string } {
  if (state === 'bounced') return { allowed: false, reason: 'the address bounced: nothing is sent to it' }
  if (what === 'transactional') return { allowed: true, reason: 'they asked for it' }
  if (paused) return { allowed: false, reason: 'the person has paused all email' }
  return { allowed: state === 'subscribed', reason: `the person is ${marketingStateWords[state]}` }
}
