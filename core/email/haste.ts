import type { Instant } from '../audience/people/activity.ts'
import type { Purpose } from '../audience/people/permission.ts'

/** Nobody reads an email and follows a link so soon after it came, unless they wait for it (milliseconds). */
export const hasteLasts = 10_000

/** Whether a scanner was at work is known so long after a click that came in haste: it follows all links at once. */
export const decidedAfter = 12_000

/**
 * Did a click come so soon that it may be that of a scanner of mail? Of what somebody has asked for, and waits for,
 * haste tells nothing; nor where there is one link only. Common practice of the trade.
 */
export const isHasty = (click: {
  purpose: Purpose
  sentAt: Instant
  at: Instant
  /** How many links the email has. */
  links: number
}): boolean => click.purpose === 'marketing' && click.links > 1 && click.at - click.sentAt < hasteLasts

/** Were all links of an email followed in haste? Then it was a scanner. */
export const wasScanned = (links: readonly number[], followed: ReadonlySet<number>): boolean =>
  links.every((link) => followed.has(link))
