import { moneyWords } from '../../core/commerce/money.ts'
import { renewal } from '../../core/commerce/cart.ts'
import { taxed } from '../../core/commerce/tax.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { queueJobs } from '../work/jobs.ts'
import { getSelling } from './selling.ts'

/** A subscription that goes on, and its payment that is due next. */
interface Running {
  line: number
  renews: unknown
  rate: number
  payment: number
  turn: number
  dueAt: Date
}

/** @returns nothing when it has ended, is no subscription, or its next payment is under way */
async function runningOf(q: Queries, order: number): Promise<Running | undefined> {
  await q.row('select from customer_order where id = $1 for update', [order])
  return q.row<Running>(
    `select order_line.n line, renews, rate, payment.id payment, turn, due_at "dueAt"
     from customer_order join order_line on order_line.order_id = customer_order.id and renews is not null
     join payment on payment.order_id = customer_order.id and payment.line = order_line.n and payment.state = 'due'
     where customer_order.id = $1 and customer_order.state = 'paid' and ended_at is null and look_at is null
     order by due_at limit 1 for update of payment`,
    [order],
  )
}

const nothingRuns = (): Problem =>
  new Problem(
    409,
    'There is nothing to change',
    'No subscription of this order goes on, or a payment is just being taken.',
  )

/** From now on its payments are counted from this moment. */
async function countFrom(q: Queries, order: number, running: Running, from: Date): Promise<void> {
  // One that is being tried again is counted anew too.
  await q.rows('update payment set due_at = $2, asked_at = null where id = $1', [running.payment, from])
  await q.rows('update order_line set renews = $3 where order_id = $1 and n = $2', [
    order,
    running.line,
    JSON.stringify({ ...renewal.parse(running.renews), from: from.getTime(), turn0: running.turn }),
  ])
}

/**
 * Lets a subscription rest: the next payment is due then, and the others a period after it each. Nothing is taken
 * meanwhile, and what was paid for stays.
 * @throws Problem 409
 */
export async function pauseSubscription(q: Queries, order: number, until: Date, now: Date): Promise<void> {
  const running = await runningOf(q, order)
  if (!running) throw nothingRuns()
  if (until <= now || until <= running.dueAt)
    throw new Problem(422, 'That is no pause', 'Choose a day after the next payment.', {
      until: 'Choose a day after the next payment',
    })
  await countFrom(q, order, running, until)
  await q.rows('update customer_order set paused_until = $2 where id = $1', [order, until])
  await announce(q, 'orders')
}

/** A subscription that rests goes on: the next payment is due now. @throws Problem 409 */
export async function resumeSubscription(q: Queries, order: number, now: Date): Promise<void> {
  const rests = await q.row('select from customer_order where id = $1 and paused_until > $2', [order, now])
  const running = rests && (await runningOf(q, order))
  if (!running) throw nothingRuns()
  await countFrom(q, order, running, now)
  await q.rows('update customer_order set paused_until = null where id = $1', [order])
  await announce(q, 'orders')
}

/**
 * Sets what a subscription costs from the next payment on; its buyer is told by email.
 * @param amount each time, in the smallest unit, as buyers read prices
 * @throws Problem 404, 409
 */
export async function changeSubscriptionPrice(q: Queries, order: number, amount: number): Promise<void> {
  const row = await q.row<{ currency: string }>('select currency from customer_order where id = $1', [order])
  if (!row) throw notFound('This order')
  const running = await runningOf(q, order)
  if (!running) throw nothingRuns()
  const { tax } = await getSelling(q)
  const sums = taxed(amount, running.rate, tax.tax)
  const before = renewal.parse(running.renews)
  if (sums.total === before.total)
    throw new Problem(422, 'That is what it costs', 'Type another amount.', {
      amount: 'It costs that already',
    })
  await q.rows('update order_line set renews = $3 where order_id = $1 and n = $2', [
    order,
    running.line,
    JSON.stringify({ ...before, ...sums }),
  ])
  await q.rows('update payment set net = $2, tax = $3, total = $4 where id = $1', [
    running.payment,
    sums.net,
    sums.tax,
    sums.total,
  ])
  const money = (each: number): string => moneyWords({ amount: each, currency: row.currency })
  await queueJobs(q, 'tellPrice', [
    { order, before: money(before.total), after: money(sums.total), from: running.dueAt.getTime() },
  ])
  await announce(q, 'orders')
}
