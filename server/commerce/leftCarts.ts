import { recordActivities } from '../audience/people/activities.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { recoverySettings, type RecoverySettings } from '../../core/commerce/recovery.ts'

/** When a cart counts as left, and how many are held out; each look for left carts asks for it. */
export async function getRecovery(q: Queries): Promise<RecoverySettings> {
  const row = await q.row<{ recovery: unknown }>('select recovery from business')
  return recoverySettings.parse(row?.recovery ?? {})
}

export async function saveRecovery(q: Queries, settings: RecoverySettings): Promise<void> {
  await q.rows('update business set recovery = $1', [JSON.stringify(settings)])
  await announce(q, 'orders')
}

/**
 * Is somebody held out, in SQL: the same people each time, since one who gets mail about some carts and not about others
 * is no yardstick. @param share how many of a hundred
 */
export const isHeldOut = (contact: string, share: string): string =>
  `('x' || substr(md5('held out ' || ${contact}), 1, 7))::bit(28)::int % 100 < ${share}`

/** Somebody is told of a cart at most so often (ms): a stranger who types their address cannot have them written to without end. */
const pause = 24 * 3_600_000

/**
 * Notes who has left a cart: that can start a follow-up. Of somebody known, whose address anybody may have typed, only
 * while they want our mail. Time runs on their own clock.
 */
export async function noteLeftCarts({ database, clock }: Platform): Promise<void> {
  await database.inTransaction(async (tx) => {
    const now = clock.now()
    const { afterMinutes, heldOut } = await getRecovery(tx)
    const left = await tx.rows<{
      contact: number
      cart: number
      product: number | null
      ahead: number
      heldOut: boolean
    }>(
      // People are locked with what is theirs: who is busy with one of them is waited for by the next look.
      `with due as (
         select cart.id, contact.clock_ahead, contact.id contact,
           not contact.rehearsal and ${isHeldOut('contact.id', '$4')} held_out,
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
         update cart set left_at = $3, held_out = case when wanted and not told and $4 > 0 then due.held_out end
         from due where cart.id = due.id
         returning cart.id cart, contact, items, clock_ahead, due.held_out, wanted and not told noted)
       select contact, cart, (items->0->>'product')::bigint product, clock_ahead ahead, held_out "heldOut" from noted
       where noted`,
      [new Date(now - afterMinutes * 60_000), new Date(now - pause), new Date(now), heldOut],
    )
    await recordActivities(
      tx,
      left.map(({ contact, cart, product, ahead, heldOut }): NewActivity => ({
        contact,
        kind: 'checkoutLeft',
        at: now + ahead,
        details: { cart, ...(product !== null && { product }), ...(heldOut && { heldOut }) },
      })),
    )
  })
}
