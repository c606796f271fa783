import type { Contact } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { invoiceNumbers, type Issued } from './invoices.ts'
import { linesOf } from './orderLines.ts'
import type { PaidOrder } from './paidOrders.ts'
import { keptLines, waysOf } from './ways.ts'

/** An order as its buyer sees it among all that is theirs. */
export interface Belonging {
  order: PaidOrder
  placedAt: Date
  refunded: number
  /** Of a subscription: how it goes on; null of all else. */
  subscription: { next: Date | null; pausedUntil: Date | null; ended: boolean } | null
  invoices: readonly Pick<Issued, 'number' | 'kind'>[]
}

/** So many orders are shown, the newest first. */
const most = 60

interface Row {
  id: number
  firstName: string
  currency: string
  total: number
  page: number | null
  placedAt: Date
  refunded: number
  renews: boolean
  ended: boolean
  pausedUntil: Date | null
  next: Date | null
}

/** All that somebody has bought, the newest first: what was taken with one click after an order stands by itself. */
export async function belongingsOf(q: Queries, contact: Contact, now: Date): Promise<Belonging[]> {
  const rows = await q.rows<Row>(
    `select id, first_name "firstName", currency, total, page_id page, placed_at "placedAt", refunded,
       ended_at is not null ended, case when paused_until > $2 then paused_until end "pausedUntil",
       exists (select from order_line where order_id = customer_order.id and renews is not null) renews,
       (select min(due_at) from payment where order_id = customer_order.id and state = 'due' and n > 0) next
     from customer_order where contact_id = $1 and state = 'paid' order by placed_at desc, id desc limit ${most}`,
    [contact.id, now],
  )
  const orders = rows.map(({ id }) => id)
  const lines = await linesOf(q, ...orders)
  const kept = await keptLines(q, lines)
  const invoices = await invoiceNumbers(q, orders)
  return rows.map(({ placedAt, refunded, renews, ended, pausedUntil, next, ...row }) => {
    const mine = lines.filter(({ order }) => order === row.id)
    const issued = invoices.filter(({ order }) => order === row.id)
    return {
      order: {
        ...row,
        contact,
        trusted: true,
        lines: mine,
        ways: waysOf(kept.filter(({ order }) => order === row.id)),
        invoice: issued[0]?.number ?? null,
      },
      placedAt,
      refunded,
      subscription: renews ? { next, pausedUntil, ended } : null,
      invoices: issued,
    }
  })
}

/** The courses that somebody has bought or begun. */
export const coursesOf = async (q: Queries, contact: number): Promise<number[]> =>
  (
    await q.rows<{ id: number }>(
      `select course_id id from course_learner where contact_id = $1 and bought_at is not null
       union select course_id from lesson_seen join page on page.id = page_id
       where contact_id = $1 and course_id is not null order by id`,
      [contact],
    )
  ).map(({ id }) => id)
