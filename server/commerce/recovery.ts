import type { z } from 'zod'
import type { recovery as shape, RecoveredCart } from '../../contract/orders.ts'
import { differenceOf } from '../../core/results/difference.ts'
import { wilson } from '../../core/results/wilson.ts'
import type { Queries } from '../database/connect.ts'
import { getRecovery } from './leftCarts.ts'
import { getSelling } from './selling.ts'

const rowsShown = 100
const day = 86_400_000

/** Carts that were left since a moment, with what came of each; those of people made up are left out. */
const left = `select cart.id, cart.contact_id contact, trim(cart.first_name || ' ' || cart.last_name) name, cart.address, left_at, held_out,
    bought.total, bought.paid_at,
    exists (select from enrolment join followup on followup.id = followup_id
      where enrolment.contact_id = cart.contact_id and started_at >= left_at
        and program->'startsWhen' @> '[{"kind": "checkoutLeft"}]') written,
    to_json(array(select content->>'title' from jsonb_array_elements(cart.items) item
      join product on product.id = (item->>'product')::bigint
      join product_version on product_id = product.id and number = published_version)) titles
  from cart left join lateral (
    select total, paid_at from customer_order where cart_id = cart.id and state = 'paid' and not test limit 1) bought on true
  where left_at >= $1 and not cart.rehearsal`

type Row = Omit<RecoveredCart, 'leftAt'> & { leftAt: Date }

const nothing = { left: 0, written: 0, back: 0, money: 0, mailed: 0, mailedBack: 0, held: 0, heldBack: 0 }
type Sums = typeof nothing

/** What writing to people brings beyond who comes back by themselves; null while nobody has been held out. */
function comparisonOf(sums: Sums): z.infer<typeof shape>['comparison'] {
  if (sums.held === 0) return null
  const [mailed, heldOut] = [wilson(sums.mailedBack, sums.mailed), wilson(sums.heldBack, sums.held)]
  return { mailed, heldOut, gain: differenceOf(mailed, heldOut) }
}

/** How many left the checkout, were written to, came back, and what that brought. */
export async function viewRecovery(q: Queries, days: number, now: number): Promise<z.infer<typeof shape>> {
  const since = new Date(now - days * day)
  const sums = await q.row<Sums>(
    `select count(*)::int "left", count(*) filter (where written)::int written,
       count(*) filter (where paid_at >= left_at)::int back,
       coalesce(sum(total) filter (where paid_at >= left_at), 0)::bigint money,
       count(*) filter (where not held_out)::int mailed,
       count(*) filter (where not held_out and paid_at >= left_at)::int "mailedBack",
       count(*) filter (where held_out)::int held,
       count(*) filter (where held_out and paid_at >= left_at)::int "heldBack"
     from (${left}) carts`,
    [since],
  )
  const rows = await q.rows<Row>(
    `select id, contact, name, address, titles, left_at "leftAt",
       case when paid_at >= left_at then 'back' when held_out then 'heldOut' when written then 'written'
         else 'left' end state,
       case when paid_at >= left_at then total end paid
     from (${left}) carts order by left_at desc, id desc limit ${rowsShown}`,
    [since],
  )
  const found = sums ?? nothing
  return {
    currency: (await getSelling(q)).currency,
    left: found.left,
    written: wilson(found.written, found.left),
    back: wilson(found.back, found.left),
    money: found.money,
    comparison: comparisonOf(found),
    settings: await getRecovery(q),
    rows: rows.map(({ leftAt, ...row }) => ({ ...row, leftAt: leftAt.toISOString() })),
  }
}
