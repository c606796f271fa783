import type { Queries } from '../database/connect.ts'
import { invoicesOf } from './invoices.ts'
import { paidOrder, type PaidOrder } from './paidOrders.ts'

/** An order as its buyer sees it among all that is theirs. */
export interface Belonging {
  order: PaidOrder
  placedAt: Date
  refunded: number
  /** Of a subscription: how it goes on; null of all else. */
  subscription: { next: Date | null; pausedUntil: Date | null; ended: boolean } | null
  invoices: { number: number; kind: 'invoice' | 'credit' }[]
}

/** So many orders are shown, the newest first. */
const most = 60

/** All that somebody has bought, the newest first. */
export async function belongingsOf(q: Queries, contact: number, now: Date): Promise<Belonging[]> {
  const rows = await q.rows<{
    id: number
    placedAt: Date
    refunded: number
    renews: boolean
    ended: boolean
    pausedUntil: Date | null
    next: Date | null
  }>(
    `select id, placed_at "placedAt", refunded, ended_at is not null ended, case when paused_until > $2 then paused_until end "pausedUntil",
       exists (select from order_line where order_id = customer_order.id and renews is not null) renews,
       (select min(due_at) from payment where order_id = customer_order.id and state = 'due' and n > 0) next
     from customer_order where contact_id = $1 and state = 'paid' and after_id is null
     order by placed_at desc, id desc limit ${most}`,
    [contact, now],
  )
  const belongings: Belonging[] = []
  for (const { id, renews, ended, pausedUntil, next, ...row } of rows) {
    const order = await paidOrder(q, id)
    if (!order) continue
    const invoices = (await invoicesOf(q, id)).map(({ number, kind }) => ({ number, kind }))
    belongings.push({
      ...row,
      order,
      subscription: renews ? { next, pausedUntil, ended } : null,
      invoices,
    })
  }
  return belongings
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
