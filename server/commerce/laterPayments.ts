import type { PaymentFailure } from '../../contract/gateway.ts'
import { renewal } from '../../core/commerce/cart.ts'
import { nthTime } from '../../core/commerce/payments.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'
import { getSelling } from './selling.ts'

const day = 86_400_000

/** A card that failed is tried again so many days after the first time (common practice). */
const retryDays = [1, 3, 5, 7] as const

/** Has payments charged that have come due: those of orders in parts, and renewals. */
export async function chargeDue({ database, clock }: Platform): Promise<void> {
  await database.inTransaction(async (tx) => {
    // While a job has it, nobody asks for it again: a worker that was killed lets go of it after ten minutes.
    const due = await tx.rows<{ id: number }>(
      `with candidate as (
         select id from payment where state = 'due' and n > 0 and due_at <= $1
         union select payment.id from payment join customer_order on customer_order.id = order_id and test
           join contact on contact.id = contact_id
           where payment.state = 'due' and n > 0 and due_at <= $1::timestamptz + clock_ahead * interval '1 millisecond')
       update payment set look_at = $1::timestamptz + interval '10 minutes' where id in (
         select payment.id from payment join customer_order on customer_order.id = order_id
         where payment.id in (select id from candidate) and (look_at is null or look_at <= $1)
           and customer_order.state = 'paid' and ended_at is null
         order by due_at limit 100 for update of payment skip locked)
       returning id`,
      [new Date(clock.now())],
    )
    await queueJobs(
      tx,
      'takePayment',
      due.map(({ id }) => ({ payment: id })),
    )
  })
}

/** A renewal was paid: the next one is due a period later, counted from the first day. */
export async function planNext(q: Queries, payment: number): Promise<void> {
  const row = await q.row<{ order: number; line: number; turn: number; renews: unknown; ended: Date | null }>(
    `select payment.order_id "order", line, turn, renews, ended_at ended
     from payment join order_line on order_line.order_id = payment.order_id and order_line.n = line
     join customer_order on customer_order.id = payment.order_id
     where payment.id = $1 and renews is not null`,
    [payment],
  )
  if (!row || row.ended) return
  const { every, times, from, turn0, net, tax, total } = renewal.parse(row.renews)
  const turn = row.turn + 1
  if (times !== null && turn >= times) return
  const { zone } = await getSelling(q)
  await q.rows(
    `insert into payment (order_id, n, line, turn, due_at, net, tax, total, state)
     select $1, max(n) + 1, $2, $3, $4, $5, $6, $7, 'due' from payment where order_id = $1`,
    [row.order, row.line, turn, new Date(nthTime(from, every, turn - turn0, zone)), net, tax, total],
  )
}

/**
 * A later payment failed: it is tried again on days 1, 3, 5 and 7, and its buyer is asked for another card; after the
 * last try nothing more is due.
 * @returns whether it is tried again
 */
export async function retryLater(
  q: Queries,
  { payment, order, failure, at }: { payment: number; order: number; failure: PaymentFailure; at: Date },
): Promise<boolean> {
  const row = await q.row<{ attempt: number; first: Date }>(
    `select attempt, coalesce(asked_at, due_at) first from payment where id = $1`,
    [payment],
  )
  const days = retryDays[row?.attempt ?? retryDays.length]
  await queueJobs(q, 'askForCard', [{ payment }])
  if (!row || days === undefined) {
    await q.rows(
      `update customer_order set ended_at = $2, ended_by = 'card' where id = $1 and ended_at is null`,
      [order, at],
    )
    return false
  }
  await q.rows(
    `update payment set state = 'due', attempt = attempt + 1, failure = $2, charge = null, confirm_url = null, tries = 0,
       asked_at = $3, due_at = $4, look_at = null where id = $1`,
    [payment, failure, row.first, new Date(row.first.getTime() + days * day)],
  )
  return true
}

/** Nothing more is due of an order: its subscription ends now. @returns whether there was something to end */
export async function endSubscription(q: Queries, order: number, by: string, at: Date): Promise<boolean> {
  const row = await q.row(
    `update customer_order set ended_at = $2, ended_by = $3 where id = $1 and ended_at is null and state = 'paid'
       and exists (select from order_line where order_id = $1 and renews is not null) returning id`,
    [order, at, by],
  )
  if (!row) return false
  await q.rows(`delete from payment where order_id = $1 and state = 'due' and n > 0`, [order])
  return true
}

/** Another card pays from now on: what is due and failed before is tried at once. */
export async function useCard(q: Queries, order: number, method: string, at: Date): Promise<void> {
  await q.rows('update customer_order set method = $2 where id = $1', [order, method])
  await q.rows(
    `update customer_order set ended_at = null, ended_by = null where id = $1 and ended_by = 'card'`,
    [order],
  )
  await q.rows(
    `update payment set state = 'due', due_at = $2, attempt = attempt + 1, look_at = null, charge = null
     where order_id = $1 and n > 0 and (state = 'failed' or (state = 'due' and attempt > 0))`,
    [order, at],
  )
}
