import { z } from 'zod'

/** Why a card was not charged. */
export const cardFailure = z.enum([
  'declined',
  'insufficientFunds',
  'expired',
  'notConfirmed',
  'noCard',
  'cancelled',
])
export type CardFailure = z.infer<typeof cardFailure>

/** Why an order was not paid: what the gateway says, or that it could not be asked, or would not do it. */
export const paymentFailure = z.enum([...cardFailure.options, 'away', 'refused'])
export type PaymentFailure = z.infer<typeof paymentFailure>

/** A charge that is never to be made. */
export const cancelRequest = z.object({
  key: z.string().min(1).max(100),
  amount: z.number().int().min(0),
  currency: z.string().length(3),
})
export type CancelRequest = z.infer<typeof cancelRequest>

const amount = z.number().int().min(0)

/** What the card gateway is asked for. The same key is the same charge, however often it is asked for. */
export const chargeRequest = z.object({
  key: z.string().min(1).max(100),
  amount,
  currency: z.string().length(3),
  /** Where the card was typed, or a card that was kept: one of them. */
  session: z.string().max(100).nullable(),
  method: z.string().max(100).nullable(),
  /** Where the buyer comes back to from the second confirmation. */
  returnUrl: z.string().max(2_000),
})
export type ChargeRequest = z.infer<typeof chargeRequest>

export const charge = z.object({
  id: z.string(),
  key: z.string(),
  amount,
  currency: z.string(),
  /** `confirm`: the buyer must say yes at their bank first. `asked`: it takes longer, and is told by an event. */
  state: z.enum(['paid', 'failed', 'confirm', 'asked']),
  failure: cardFailure.nullable(),
  confirmUrl: z.string().nullable(),
  /** The card, to be charged again without being typed. */
  method: z.string().nullable(),
  refunded: amount,
})
export type Charge = z.infer<typeof charge>

export const refundRequest = z.object({ key: z.string().min(1).max(100), amount: amount.min(1) })
export type RefundRequest = z.infer<typeof refundRequest>

/** What the gateway reports by itself, signed as the Standard Webhooks specification has it. */
export const gatewayEvent = z.object({
  type: z.enum(['charge.changed', 'charge.disputed']),
  timestamp: z.iso.datetime(),
  data: charge,
})
export type GatewayEvent = z.infer<typeof gatewayEvent>
