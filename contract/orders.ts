import { z } from 'zod'
import { lineKind } from '../core/commerce/cart.ts'
import { largestAmount } from '../core/commerce/money.ts'
import { paymentFailure } from './gateway.ts'
import { get, post } from './route.ts'
import { recoverySettings } from '../core/commerce/recovery.ts'
import { differenceView, shareView } from './share.ts'

const amount = z.number().int()
const id = z.number().int().positive()
const moment = z.iso.datetime()

/** What became of an order: open while its payment is under way. */
export const orderState = z.enum(['open', 'paid', 'failed'])

export const orderRow = z.object({
  id,
  state: orderState,
  /** Why it was not paid. */
  failure: paymentFailure.nullable(),
  test: z.boolean(),
  contact: id.nullable(),
  name: z.string(),
  address: z.string(),
  titles: z.array(z.string()),
  currency: z.string(),
  total: amount,
  refunded: amount,
  placedAt: moment,
})
export type OrderRow = z.infer<typeof orderRow>

export const orderPayment = z.object({
  id,
  n: z.number().int(),
  dueAt: moment,
  total: amount,
  tax: amount,
  state: z.enum(['due', 'asked', 'confirming', 'paid', 'failed']),
  failure: paymentFailure.nullable(),
  paidAt: moment.nullable(),
})

export const orderRefund = z.object({
  id,
  amount,
  state: z.enum(['asked', 'done', 'failed']),
  reason: z.string(),
  takesBack: z.boolean(),
  askedAt: moment,
  askedBy: z.string(),
  failure: z.string().nullable(),
})

export const orderView = orderRow.extend({
  country: z.string().nullable(),
  vatNumber: z.string().nullable(),
  coupon: z.string().nullable(),
  off: amount,
  net: amount,
  tax: amount,
  paidAt: moment.nullable(),
  /** A subscription goes on until it has ended. */
  renews: z.boolean(),
  endedAt: moment.nullable(),
  endedBy: z.string().nullable(),
  /** It rests until then; null when it does not. */
  pausedUntil: moment.nullable(),
  /** What it costs each time; null of what is no subscription. */
  each: amount.nullable(),
  disputedAt: moment.nullable(),
  page: z.object({ id, name: z.string() }).nullable(),
  lines: z.array(
    z.object({
      product: id,
      title: z.string(),
      words: z.string(),
      kind: lineKind,
      rate: z.number().int(),
      tax: amount,
      total: amount,
    }),
  ),
  payments: z.array(orderPayment),
  refunds: z.array(orderRefund),
  invoices: z.array(
    z.object({
      number: z.number().int(),
      kind: z.enum(['invoice', 'credit']),
      issuedAt: moment,
      total: amount,
    }),
  ),
  /** The page that the buyer has of it. */
  publicPath: z.string(),
  /** What can still be given back. */
  refundable: amount,
})
export type OrderView = z.infer<typeof orderView>

export const refundOrder = z.object({
  amount: z.number().int().min(1, 'Type an amount').max(largestAmount, 'This amount is too large'),
  reason: z.string().trim().max(300).default(''),
  takesBack: z.boolean().default(false),
})

export const newPrice = refundOrder.pick({ amount: true })

export const orderShow = z.enum(['all', 'paid', 'open', 'failed', 'refunded', 'test'])
export type OrderShow = z.infer<typeof orderShow>

const orderQuery = z.object({
  /** Part of a name, an address, a product, or an order's number. */
  search: z.string().max(200).default(''),
  show: orderShow.default('all'),
  /** The number of the last order of the page before. */
  after: z.coerce.number().int().positive().optional(),
})

/** Orders, the newest first, a page of them. */
const orderPage = z.object({ rows: z.array(orderRow), next: z.number().int().nullable() })

/** Whether buyers pay with money, and what came in. */
export const takings = z.object({
  takes: z.enum(['test', 'live']),
  currency: z.string(),
  /** Paid and given back within the last 30 days, trials left out. */
  paid: amount,
  refunded: amount,
  orders: z.number().int(),
})

const recoveredCart = z.object({
  id,
  contact: id.nullable(),
  name: z.string(),
  address: z.string(),
  titles: z.array(z.string()),
  leftAt: moment,
  state: z.enum(['left', 'heldOut', 'written', 'back']),
  /** What was paid for it by who came back. */
  paid: amount.nullable(),
})
export type RecoveredCart = z.infer<typeof recoveredCart>

/** Who left the checkout, who of them was written to and came back, and what that brought. */
export const recovery = z.object({
  currency: z.string(),
  left: z.number().int(),
  written: shareView,
  back: shareView,
  money: amount,
  /** Who came back of those who could be written to, beside those who were held out; null while nobody was. */
  comparison: z.object({ mailed: shareView, heldOut: shareView, gain: differenceView }).nullable(),
  settings: recoverySettings,
  rows: z.array(recoveredCart),
})

export const orders = {
  list: get('/orders', { query: orderQuery, answer: orderPage }),
  takings: get('/orders/takings', { answer: takings }),
  recovery: get('/orders/recovery', {
    query: z.object({ days: z.coerce.number().int().min(1).max(3_660).default(30) }),
    answer: recovery,
  }),
  saveRecovery: post('/orders/recovery', { body: recoverySettings }),
  view: get('/orders/:id', { answer: orderView }),
  refund: post('/orders/:id/refund', { body: refundOrder }),
  resend: post('/orders/:id/receipt', {}),
  /** Ends a subscription: nothing more is due of it. */
  end: post('/orders/:id/end', {}),
  /** Lets a subscription rest until then; null has it go on. */
  pause: post('/orders/:id/pause', { body: z.object({ until: moment.nullable() }) }),
  /** Sets what a subscription costs from the next payment on; its buyer is told. */
  changePrice: post('/orders/:id/price', { body: newPrice }),
  setTakes: post('/takes', { body: z.object({ takes: z.enum(['test', 'live']) }) }),
} as const
