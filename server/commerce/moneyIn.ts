import type { MoneyIn } from '../../contract/money.ts'
import type { Queries } from '../database/connect.ts'
import { getBusiness } from '../workspace/business.ts'

type Sum = Omit<MoneyIn, 'currency'>

const noMoney: Sum = { amount: 0, orders: 0 }

/** What was paid for orders and not given back, over rows of `customer_order`, renewals and parts with it. */
const sum = `coalesce(sum((select sum(total) from payment where order_id = customer_order.id and state = 'paid') - refunded), 0)::bigint
  amount, count(*)::int orders`

/** Of orders that count: paid, and no trial. */
const counts = `customer_order.state = 'paid' and not test`

async function inCurrency(q: Queries, found: Sum | undefined): Promise<MoneyIn> {
  const { currency } = await getBusiness(q)
  return { currency, ...(found ?? noMoney) }
}

/** What was paid between two moments, of whichever order, less what was given back then. */
export async function moneyBetween(q: Queries, from: Date, to: Date): Promise<MoneyIn> {
  const row = await q.row<Sum>(
    `select (coalesce((select sum(payment.total) from payment join customer_order on customer_order.id = order_id
         where payment.state = 'paid' and not test and payment.paid_at >= $1 and payment.paid_at < $2), 0)
       - coalesce((select sum(amount) from refund where state = 'done' and done_at >= $1 and done_at < $2), 0))::bigint amount,
       (select count(*)::int from customer_order where ${counts} and paid_at >= $1 and paid_at < $2) orders`,
    [from, to],
  )
  return inCurrency(q, row)
}

/** What one person has paid in all. */
export const moneyOfPerson = async (q: Queries, contact: number): Promise<MoneyIn> =>
  inCurrency(
    q,
    await q.row<Sum>(`select ${sum} from customer_order where contact_id = $1 and ${counts}`, [contact]),
  )

/** So long after a click an order is told beside the email that led to it (a week: common practice). */
const afterClick = '7 days'

/**
 * What was bought within a week after a click in an email, each order beside the email that was clicked last before
 * it: what several emails led to is counted once.
 */
export const moneyOfEmail = async (q: Queries, email: number): Promise<MoneyIn> =>
  inCurrency(
    q,
    await q.row<Sum>(
      `select ${sum} from customer_order
       where ${counts} and contact_id in (select contact_id from message where email_id = $1 and clicked_at is not null)
         and $1 = (select (details->>'email')::bigint from activity
           where contact_id = customer_order.contact_id and kind = 'emailClicked'
             and at <= paid_at and at > paid_at - interval '${afterClick}' order by at desc, id desc limit 1)`,
      [email],
    ),
  )

/** What was bought since a moment on the pages of each funnel that sells, by the funnel's id. */
export async function moneyOfFunnels(q: Queries, since: Date): Promise<ReadonlyMap<number, Sum>> {
  const rows = await q.rows<Sum & { funnel: number }>(
    `with line as (
       select distinct id, greatest($1::timestamptz, coalesce(counted_since, $1)) since,
         jsonb_path_query(stations, '$.**.page ? (@.type() == "number")')::bigint page from funnel)
     select line.id funnel, ${sum} from line
     join customer_order on page_id = page and ${counts} and paid_at >= line.since group by line.id`,
    [since],
  )
  return new Map(rows.map(({ funnel, ...row }) => [funnel, row]))
}
