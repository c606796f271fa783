import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'

/** A buyer disputes a payment with their bank: the team is told, and the order says so. */
export async function noteDispute({ database, clock }: Platform, payment: number): Promise<void> {
  await database.inTransaction(async (tx) => {
    const row = await tx.row<{ order: number; contact: number | null }>(
      `update customer_order set disputed_at = $2 from payment
       where payment.id = $1 and customer_order.id = order_id and disputed_at is null
       returning customer_order.id "order", contact_id contact`,
      [payment, new Date(clock.now())],
    )
    if (row?.contact)
      await queueJobs(tx, 'tellTeam', [
        {
          contact: row.contact,
          order: row.order,
          words: `The payment of order ${row.order} is disputed. Answer the bank within the time that it gives you.`,
        },
      ])
    await announce(tx, 'orders')
  })
}
