import type { Instant } from '../audience/people/activity.ts'
import type { Price } from './price.ts'

/** What a price is at a moment. */
export interface Offer {
  /** Can it be bought now? Else why not. */
  state: 'open' | 'notYet' | 'over' | 'soldOut'
  /** What is to be paid in all, or each time of a subscription; what is suggested where buyers choose. */
  amount: number
  /** What it costs when the introductory price is over; null when it is none now. */
  usually: number | null
  /** How many can still be had: at the introductory price, else at all; null without a limit. */
  left: number | null
  /** When this offer ends by itself; null when it does not. */
  until: Instant | null
}

const instantOf = (iso: string | null): Instant | null => (iso === null ? null : Date.parse(iso))

const earliest = (ends: readonly (Instant | null)[]): Instant | null => {
  const known = ends.filter((end) => end !== null)
  return known.length === 0 ? null : Math.min(...known)
}

/** The full amount of a price, each time of a subscription. */
export function fullAmount({ pays }: Pick<Price, 'pays'>): number {
  switch (pays.by) {
    case 'once':
    case 'payments':
    case 'subscription':
      return pays.amount
    case 'choice':
      return pays.suggested
    case 'free':
      return 0
  }
}

/**
 * What a price is now.
 * @param sold how many were sold at this price so far; places that are held count too
 * @param ownEnd when the personal deadline of the price ends for the buyer; undefined when they have none, null for a
 *   look at the price that nobody takes
 */
export function offerOf(price: Price, now: Instant, sold: number, ownEnd: Instant | null | undefined): Offer {
  const { introductory, places } = price
  const opens = instantOf(price.opens)
  const own = price.deadline === null ? null : ownEnd
  // Who has no such deadline finds the price closed, as it is once the deadline is over.
  const closes = earliest([instantOf(price.closes), own === undefined ? -Infinity : own])
  const usual = fullAmount(price)
  const left = places === null ? null : Math.max(0, places - sold)
  const state =
    opens !== null && now < opens
      ? 'notYet'
      : closes !== null && now >= closes
        ? 'over'
        : left === 0
          ? 'soldOut'
          : 'open'
  const ends = instantOf(introductory?.until ?? null)
  const first = introductory?.first ?? null
  const isIntroductory =
    introductory !== null && (ends === null || now < ends) && (first === null || sold < first)
  if (!isIntroductory) return { state, amount: usual, usually: null, left, until: closes }
  const atFirst = first === null ? null : first - sold
  return {
    state,
    amount: introductory.amount,
    usually: usual,
    left: atFirst === null ? left : Math.min(atFirst, left ?? Infinity),
    until: earliest([ends, closes]),
  }
}
