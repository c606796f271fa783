import type { Queries } from '../database/connect.ts'

/**
 * Forgets who bought, before they are erased: orders stay as sums without a name, and nothing more is due of them.
 * Invoices stay as they were issued, since books must be kept (common practice).
 */
export async function forgetBuyer(q: Queries, contact: number): Promise<void> {
  await q.rows(
    `update coupon_use set address_key = '' from customer_order
     where customer_order.id = order_id and contact_id = $1`,
    [contact],
  )
  await q.rows(
    `delete from payment using customer_order where customer_order.id = order_id and contact_id = $1
       and payment.state = 'due' and n > 0`,
    [contact],
  )
  await q.rows(
    `update customer_order set address = '', first_name = '', last_name = '', vat_number = null, method = null,
       contact_id = null where contact_id = $1`,
    [contact],
  )
}

/** Throws away the orders and carts of somebody made up, who begins again: they were trials. */
export async function forgetTrials(q: Queries, contact: number): Promise<void> {
  await q.rows('delete from customer_order where contact_id = $1 and test', [contact])
  await q.rows('delete from cart where contact_id = $1', [contact])
}
