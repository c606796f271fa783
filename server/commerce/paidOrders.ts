import type { Contact } from '../audience/people/contacts.ts'
import { survivorOf } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { invoiceNumbers } from './invoices.ts'
import { linesOf, type OrderLine } from './orderLines.ts'
import { keptLines, waysOf, type Way } from './ways.ts'

/** How far an order has come, as whoever placed it must know. */
export interface OrderStatus {
  id: number
  state: 'open' | 'paid' | 'failed'
  failure: string | null
  payment: number
  /** Of its first payment. */
  paying: 'due' | 'asked' | 'confirming' | 'paid' | 'failed'
  confirmUrl: string | null
  test: boolean
}

export const orderStatus = async (q: Queries, order: number): Promise<OrderStatus | null> =>
  (await q.row<OrderStatus>(
    `select customer_order.id, customer_order.state, customer_order.failure, payment.id payment, payment.state paying,
       confirm_url "confirmUrl", test
     from customer_order join payment on order_id = customer_order.id and n = 0 where customer_order.id = $1`,
    [order],
  )) ?? null

/** What somebody has bought, with the ways to it. */
export interface PaidOrder {
  id: number
  firstName: string
  currency: string
  total: number
  /** The page on which it was bought. */
  page: number | null
  contact: Contact | null
  /** The order form has just put them on the list: that of the order before, where it was taken with one click. */
  trusted: boolean
  lines: OrderLine[]
  ways: Way[]
  /** The number of its invoice; null when it has none. */
  invoice: number | null
}

/** With all that was taken with one click after it. @returns null when there is no such order, or it is not paid */
export async function paidOrder(q: Queries, order: number): Promise<PaidOrder | null> {
  const row = await q.row<
    Pick<PaidOrder, 'id' | 'firstName' | 'currency' | 'total' | 'page'> & {
      contact: number | null
      trusted: boolean | null
    }
  >(
    `select customer_order.id, customer_order.first_name "firstName", customer_order.currency, customer_order.total,
       customer_order.page_id page,
       customer_order.contact_id contact, trusted
     from customer_order left join customer_order before on before.id = customer_order.after_id
     left join cart on cart.id = coalesce(customer_order.cart_id, before.cart_id) where customer_order.id = $1 and customer_order.state = 'paid'`,
    [order],
  )
  if (!row) return null
  const more = await q.rows<{ id: number; total: number }>(
    `select id, total from customer_order where after_id = $1 and state = 'paid' order by id`,
    [order],
  )
  const orders = [order, ...more.map(({ id }) => id)]
  const lines = await linesOf(q, ...orders)
  return {
    ...row,
    total: more.reduce((sum, { total }) => sum + total, row.total),
    contact: row.contact === null ? null : ((await survivorOf(q, row.contact)) ?? null),
    trusted: row.trusted === true,
    lines,
    ways: waysOf(await keptLines(q, lines)),
    invoice: (await invoiceNumbers(q, [order]))[0]?.number ?? null,
  }
}
