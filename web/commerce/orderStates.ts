import type { PaymentFailure } from '../../contract/gateway.ts'
import type { OrderRow, OrderShow } from '../../contract/orders.ts'

/** What an order is, at a glance. */
export function orderMark({ state, refunded, total }: Pick<OrderRow, 'state' | 'refunded' | 'total'>) {
  if (state === 'failed') return { tone: 'soft', words: 'not paid' } as const
  if (state === 'open') return { tone: 'lamp', words: 'under way' } as const
  if (refunded === 0) return { tone: 'clear', words: 'paid' } as const
  return { tone: 'stop', words: refunded < total ? 'partly refunded' : 'refunded' } as const
}

/** Why an order was not paid, as the team reads it. */
const failures: Readonly<Record<PaymentFailure, string>> = {
  declined: 'the card was declined',
  insufficientFunds: 'not enough money on the card',
  expired: 'the card has expired',
  notConfirmed: 'not confirmed with the bank',
  noCard: 'no card was typed',
  cancelled: 'the bank did not answer: called off',
  away: 'the card gateway could not be reached',
  refused: 'the card gateway refused it',
}
export const failureOf = (reason: PaymentFailure | null): string => (reason === null ? '' : failures[reason])

export const shows: readonly { value: OrderShow; title: string }[] = [
  { value: 'all', title: 'All orders' },
  { value: 'paid', title: 'Paid' },
  { value: 'open', title: 'Under way' },
  { value: 'failed', title: 'Not paid' },
  { value: 'refunded', title: 'Refunded' },
  { value: 'test', title: 'Tests' },
]
