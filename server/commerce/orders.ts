import type { z } from 'zod'
import type { orders as routes, OrderRow, OrderShow, OrderView, takings } from '../../contract/orders.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Doing } from '../blocks/drafts.ts'
import { endSubscription } from './laterPayments.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'
import { invoicesOf } from './invoices.ts'
import { orderPath } from './orderLinks.ts'
import { getSelling } from './selling.ts'

const pageSize = 50
const month = 30 * 86_400_000

type Row = Omit<OrderRow, 'placedAt'> & { placedAt: Date }

const columns = `customer_order.id, state, failure, test, contact_id contact, trim(first_name || ' ' || last_name) name, address,
  to_json(array(select title from order_line where order_id = customer_order.id order by n)) titles, currency, total, refunded,
  placed_at "placedAt"`

/** Which orders are shown, as a condition. */
const shown: Readonly<Record<OrderShow, string>> = {
  all: 'not test',
  paid: `state = 'paid' and not test`,
  open: `state = 'open' and not test`,
  failed: `state = 'failed' and not test`,
  refunded: 'refunded > 0 and not test',
  test: 'test',
}

const read = ({ placedAt, ...row }: Row): OrderRow => ({ ...row, placedAt: placedAt.toISOString() })

/** What somebody looks for, with the signs that `like` gives a meaning to taken as they are. */
const pattern = (search: string): string => `%${search.trim().replace(/[\\%_]/g, '\\$&')}%`

/** Orders, the newest first. */
export async function listOrders(
  q: Queries,
  { search, show, after }: z.output<(typeof routes.list)['query']>,
): Promise<{ rows: OrderRow[]; next: number | null }> {
  const rows = await q.rows<Row>(
    `select ${columns} from customer_order
     where ${shown[show]} and ($1::bigint is null or id < $1)
       and ($2 = '%%' or id::text = $3 or address ilike $2 or first_name || ' ' || last_name ilike $2
         or exists (select from order_line where order_id = customer_order.id and title ilike $2))
     order by id desc limit ${pageSize + 1}`,
    [after ?? null, pattern(search), search.trim()],
  )
  const page = rows.slice(0, pageSize).map(read)
  return { rows: page, next: rows.length > pageSize ? (page.at(-1)?.id ?? null) : null }
}

/** What came in within 30 days, and whether buyers pay with money. */
export async function viewTakings(q: Queries, now: number): Promise<z.infer<typeof takings>> {
  const { takes, currency } = await getSelling(q)
  const since = new Date(now - month)
  const row = await q.row<{ paid: number; refunded: number; orders: number }>(
    `select coalesce((select sum(payment.total) from payment join customer_order on customer_order.id = order_id
         where payment.state = 'paid' and not test and payment.paid_at >= $1), 0)::bigint paid,
       coalesce((select sum(amount) from refund where state = 'done' and done_at >= $1), 0)::bigint refunded,
       (select count(*) from customer_order where state = 'paid' and not test and paid_at >= $1)::int orders`,
    [since],
  )
  return { takes, currency, paid: row?.paid ?? 0, refunded: row?.refunded ?? 0, orders: row?.orders ?? 0 }
}

type ViewRow = Row &
  Pick<
    OrderView,
    'country' | 'vatNumber' | 'coupon' | 'off' | 'net' | 'tax' | 'page' | 'renews' | 'endedBy' | 'each'
  > & { paidAt: Date | null; endedAt: Date | null; disputedAt: Date | null; pausedUntil: Date | null }
type PaymentRow = Omit<OrderView['payments'][number], 'dueAt' | 'paidAt'> & {
  dueAt: Date
  paidAt: Date | null
}
type RefundRow = Omit<OrderView['refunds'][number], 'askedAt'> & { askedAt: Date }

/** An order with all that was paid and given back. @throws Problem 404 */
export async function viewOrder(platform: Platform, id: number): Promise<OrderView> {
  const q = platform.database
  const row = await q.row<ViewRow>(
    `select ${columns}, country, vat_number "vatNumber", coupon, off, net, tax, paid_at "paidAt", ended_at "endedAt", ended_by "endedBy",
       disputed_at "disputedAt", exists (select from order_line where order_id = $1 and renews is not null) renews,
       case when paused_until > $2 then paused_until end "pausedUntil",
       (select (renews->>'total')::bigint from order_line where order_id = $1 and renews is not null limit 1) "each",
       (select json_build_object('id', page.id, 'name', page.name) from page where page.id = page_id) page
     from customer_order where id = $1`,
    [id, new Date(platform.clock.now())],
  )
  if (!row) throw notFound('This order')
  const lines = await q.rows<OrderView['lines'][number]>(
    `select product_id product, title, words, kind, rate, tax, total from order_line where order_id = $1 order by n`,
    [id],
  )
  const payments = await q.rows<PaymentRow>(
    `select id, n, due_at "dueAt", total, tax, state, failure, paid_at "paidAt" from payment where order_id = $1 order by n`,
    [id],
  )
  const refunds = await q.rows<RefundRow>(
    `select refund.id, amount, refund.state, reason, takes_back "takesBack", refund.asked_at "askedAt", asked_by "askedBy",
       refund.failure from refund join payment on payment.id = payment_id where order_id = $1 order by refund.id`,
    [id],
  )
  const paid = payments.reduce((all, { state, total }) => all + (state === 'paid' ? total : 0), 0)
  const back = refunds.reduce((all, { state, amount }) => all + (state === 'failed' ? 0 : amount), 0)
  return {
    ...row,
    placedAt: row.placedAt.toISOString(),
    paidAt: row.paidAt?.toISOString() ?? null,
    endedAt: row.endedAt?.toISOString() ?? null,
    disputedAt: row.disputedAt?.toISOString() ?? null,
    pausedUntil: row.pausedUntil?.toISOString() ?? null,
    lines,
    payments: payments.map((payment) => ({
      ...payment,
      dueAt: payment.dueAt.toISOString(),
      paidAt: payment.paidAt?.toISOString() ?? null,
    })),
    refunds: refunds.map((refund) => ({ ...refund, askedAt: refund.askedAt.toISOString() })),
    invoices: (await invoicesOf(q, id)).map(({ number, kind, issuedAt, content }) => ({
      number,
      kind,
      issuedAt: issuedAt.toISOString(),
      total: content.total,
    })),
    publicPath: orderPath(platform, id),
    refundable: paid - back,
  }
}

/** Sends the receipt of an order once more. @throws Problem 404 */
export async function resendReceipt(q: Queries, id: number): Promise<void> {
  if (!(await q.row(`select from customer_order where id = $1 and state = 'paid'`, [id])))
    throw notFound('This order')
  await queueJobs(q, 'sendReceipt', [{ order: id }])
}

/** Ends a subscription in somebody's name. @throws Problem 404, 409 when there is nothing to end */
export async function endByHand(q: Queries, id: number, { by, at }: Doing): Promise<void> {
  if (!(await q.row('select from customer_order where id = $1', [id]))) throw notFound('This order')
  if (!(await endSubscription(q, id, by, at)))
    throw new Problem(409, 'There is nothing to end', 'No subscription of this order goes on.')
  await announce(q, 'orders')
}

/** From now on buyers pay with money, or nobody does. */
export async function setTakes(q: Queries, takes: 'test' | 'live'): Promise<void> {
  await q.rows('update business set takes = $1', [takes])
  await announce(q, 'pages', 'orders')
}
