import { recordActivities } from '../audience/people/activities.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import type { Platform } from '../platform.ts'

/** So long after the last change a cart without an order counts as left (ms). */
export const leftAfter = 60 * 60_000

/** Somebody is told of a cart at most so often (ms): a stranger who types their address cannot have them written to without end. */
const pause = 24 * 3_600_000

/**
 * Notes who has left a cart: that can start a follow-up. Of somebody known, whose address anybody may have typed, only
 * while they want our mail. Time runs on their own clock.
 */
export async function noteLeftCarts({ database, clock }: Platform): Promise<void> {
  await database.inTransaction(async (tx) => {
    const now = clock.now()
    const left = await tx.rows<{ contact: number; cart: number; product: number | null; ahead: number }>(
      // People are locked with what is theirs: who is busy with one of them is waited for by the next look.
      `with due as (
         select cart.id, contact.clock_ahead, contact.id contact,
           trusted or marketing_state = 'subscribed' wanted,
           exists (select from activity where contact_id = contact.id and kind = 'checkoutLeft'
             and at > $2::timestamptz + contact.clock_ahead * interval '1 millisecond') told
         from cart join contact on contact.id = cart.contact_id
         where cart.id in (
             (select id from cart where left_at is null and ordered_at is null and not rehearsal and changed_at <= $1
               order by changed_at limit 500)
             union all select id from cart where left_at is null and ordered_at is null and rehearsal)
           and changed_at <= $1::timestamptz + contact.clock_ahead * interval '1 millisecond'
         order by cart.id for no key update of contact, cart skip locked)
       , noted as (
         update cart set left_at = $3 from due where cart.id = due.id
         returning cart.id cart, contact, items, clock_ahead, wanted, told)
       select contact, cart, (items->0->>'product')::bigint product, clock_ahead ahead from noted where wanted and not told`,
      [new Date(now - leftAfter), new Date(now - pause), new Date(now)],
    )
    await recordActivities(
      tx,
      left.map(({ contact, cart, product, ahead }): NewActivity => ({
        contact,
        kind: 'checkoutLeft',
        at: now + ahead,
        details: { cart, ...(product !== null && { product }) },
      })),
    )
  })
}
