import type { CardFailure, Charge, PaymentFailure } from '../../contract/gateway.ts'
import type { JobPayload } from '../work/jobs.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { cartLink } from './carts.ts'
import { completeOrder, payFurther } from './completing.ts'
import { GatewayAway, GatewayRefuses, gatewayOf } from './gateway.ts'
import { planNext, retryLater } from './laterPayments.ts'
import { orderPath } from './orderLinks.ts'
import { buyerOfOrder, contactOfOrder } from './orderContact.ts'

/** A charge whose answer did not come is asked for so soon, and each minute after it (ms). */
const firstLook = 5_000
export const nextLook = 60_000
/** After so many looks that found nothing the charge is called off. */
const mostLooks = 4

interface Asked {
  id: number
  order: number
  total: number
  currency: string
  session: string
  method: string | null
  state: string
  attempt: number
}

/** The key by which the gateway knows a payment: the same however often it is asked for, another for each later try. */
export const keyOf = ({ id, attempt }: { id: number; attempt: number }): string =>
  attempt === 0 ? `payment ${id}` : `payment ${id} again ${attempt}`

/**
 * Charges a payment that is due: the work of the job `takePayment`. However often it runs, the gateway charges once,
 * since it is always asked by the same key.
 */
export async function takePayment(platform: Platform, { payment }: JobPayload<'takePayment'>): Promise<void> {
  const { clock, settings } = platform
  const q = platform.database.prepared
  const asked = await q.row<Asked>(
    `select payment.id, order_id "order", payment.total, currency, card_session session, method, payment.state, attempt
     from payment join customer_order on customer_order.id = order_id where payment.id = $1`,
    [payment],
  )
  if (asked?.state !== 'due') return
  if (asked.session === '') {
    // Nothing is paid, now or later: no card is asked for.
    await settle(platform, payment, 'free')
    return
  }
  try {
    const { total, currency, session, method, order } = asked
    const charge = await gatewayOf(settings).charge({
      key: keyOf(asked),
      amount: total,
      currency,
      session: method === null ? session : null,
      method,
      returnUrl: `${settings.publicUrl}${orderPath(platform, order)}?go=1`,
    })
    await settle(platform, payment, charge)
  } catch (error) {
    if (error instanceof GatewayAway) await settle(platform, payment, 'away')
    else if (error instanceof GatewayRefuses) {
      platform.log.warn({ err: error, payment }, 'the gateway refused a charge')
      await settle(platform, payment, 'refused')
    } else
      await q.rows(
        `update payment set state = 'asked', asked_at = $2, look_at = $3 where id = $1 and state = 'due'`,
        [payment, new Date(clock.now()), new Date(clock.now() + firstLook)],
      )
  }
}

/** What is known of a payment: a charge, or that there is none. */
type Outcome = Charge | 'free' | Exclude<PaymentFailure, CardFailure>

/** Why it was not paid; null when it was, or nobody knows yet. */
function failureOf(outcome: Outcome): PaymentFailure | null {
  if (outcome === 'free') return null
  if (typeof outcome === 'string') return outcome
  return outcome.state === 'failed' ? (outcome.failure ?? 'declined') : null
}

const isPaid = (outcome: Outcome): boolean =>
  outcome === 'free' || (typeof outcome === 'object' && outcome.state === 'paid')

/** An order that was not paid gives back its places and its coupon, and its cart is open again. */
async function letGo(q: Queries, order: number, failure: PaymentFailure): Promise<void> {
  const row = await q.row<{ cart: number | null; test: boolean }>(
    `update customer_order set state = 'failed', failure = $2 where id = $1 and state = 'open'
     returning cart_id cart, test`,
    [order, failure],
  )
  if (!row) return
  if (!row.test)
    await q.rows(
      `update price_sale set sold = greatest(0, sold - 1) from order_line
       where order_id = $1 and order_line.product_id = price_sale.product_id and order_line.price_id = price_sale.price_id`,
      [order],
    )
  await q.rows('delete from coupon_use where order_id = $1', [order])
  await q.rows('update cart set ordered_at = null where id = $1', [row.cart])
}

/**
 * Writes down what became of a payment, once: whether it is told by the answer, by an event or twice, before or after.
 * What is paid completes its order in the same transaction.
 */
export async function settle(platform: Platform, payment: number, outcome: Outcome): Promise<void> {
  const { database, clock } = platform
  await database.inTransaction(async ({ prepared: tx }) => {
    const of = await tx.row<{ order: number }>('select order_id "order" from payment where id = $1', [
      payment,
    ])
    if (!of) return
    // People are locked before what is theirs.
    const whose = await (isPaid(outcome)
      ? buyerOfOrder(platform, tx, of.order)
      : contactOfOrder(tx, of.order))
    const known = await tx.row<{ state: string; n: number; tries: number; attempt: number }>(
      'select state, n, tries, attempt from payment where id = $1 for update',
      [payment],
    )
    if (!known || known.state === 'paid') return
    const at = new Date(clock.now())
    const charge = typeof outcome === 'string' ? null : outcome
    const failure = failureOf(outcome)
    if (charge && charge.key !== keyOf({ id: payment, attempt: known.attempt }) && !isPaid(outcome)) return
    if (isPaid(outcome)) {
      await tx.rows(
        `update payment set state = 'paid', charge = $2, failure = null, look_at = null, confirm_url = null, paid_at = $3
         where id = $1`,
        [payment, charge?.id ?? null, at],
      )
      if (charge?.method)
        await tx.rows('update customer_order set method = $2 where id = $1', [of.order, charge.method])
      if (known.n === 0) await completeOrder(platform, tx, { order: of.order, payment, whose })
      else await payFurther(platform, tx, { order: of.order, payment, whose })
      if (known.n > 0) await planNext(tx, payment)
    } else if (failure !== null) {
      if (known.state === 'failed') return
      await tx.rows(
        `update payment set state = 'failed', charge = $2, failure = $3, look_at = null, confirm_url = null where id = $1`,
        [payment, charge?.id ?? null, failure],
      )
      if (known.n === 0) await letGo(tx, of.order, failure)
      else await retryLater(tx, { payment, order: of.order, failure, at })
    } else {
      // An event may have told of more than an answer that comes after it.
      if (known.state === 'failed') return
      await tx.rows(
        `update payment set state = $2, charge = $3, confirm_url = $4, asked_at = coalesce(asked_at, $5), look_at = $6
         where id = $1`,
        [
          payment,
          charge?.state === 'confirm' ? 'confirming' : 'asked',
          charge?.id ?? null,
          charge?.confirmUrl ?? null,
          at,
          new Date(at.getTime() + (known.tries === 0 ? firstLook : nextLook)),
        ],
      )
    }
    await announce(tx, 'orders')
  })
}

/** The payment that a charge is for; null when it is none of ours. */
export function paymentOfCharge({ key }: Charge): number | null {
  const id = Number(/^payment (\d+)(?: again \d+)?$/.exec(key)?.[1])
  return Number.isSafeInteger(id) ? id : null
}

/** Somebody who has to say yes at their bank is waited for so long (ms). */
const confirmsWithin = 30 * 60_000

/** A payment of which the gateway is asked. */
interface Looked {
  id: number
  attempt: number
  tries: number
  state: string
  asked: Date
  amount: number
  currency: string
}

/** Asks what became of charges whose answer did not come, and calls off those of which nobody knows anything. */
export async function lookAfterPayments(platform: Platform): Promise<void> {
  const { database: q, clock, settings } = platform
  const now = clock.now()
  const open = await q.rows<Looked>(
    `update payment set tries = tries + 1, look_at = $2 where id in (
       select id from payment where look_at <= $1 and state in ('asked', 'confirming') order by look_at limit 20
       for update skip locked)
     returning id, attempt, tries, state, asked_at asked, total amount,
       (select currency from customer_order where id = order_id) currency`,
    [new Date(now), new Date(now + nextLook)],
  )
  const gateway = gatewayOf(settings)
  for (const { id, attempt, tries, state, asked, amount, currency } of open) {
    const key = keyOf({ id, attempt })
    const found = await gateway.find(key)
    const isGivenUp =
      state === 'confirming' ? now - asked.getTime() > confirmsWithin : found === null && tries >= mostLooks
    // What is called off is never charged, also not by a request that is still on its way.
    if (isGivenUp) await settle(platform, id, await gateway.cancel({ key, amount, currency }))
    else if (found) await settle(platform, id, found)
  }
}

/** The way back to the cart of an order that was not paid. */
export async function cartAgain(
  platform: Platform,
  order: number,
): Promise<{ page: number; cart: string } | null> {
  const row = await platform.database.row<{ page: number | null; cart: number }>(
    `select cart.page_id page, cart.id cart from customer_order join cart on cart.id = cart_id where customer_order.id = $1`,
    [order],
  )
  return row && row.page !== null ? { page: row.page, cart: cartLink(platform, row.cart).token } : null
}
