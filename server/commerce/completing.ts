import { moneyWords } from '../../core/commerce/money.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { personNow, type Contact } from '../audience/people/contacts.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import { setTopics } from '../audience/describing/topics.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'
import { agreeAtOrder, type Agreed } from './agreeing.ts'
import { deliver } from './delivering.ts'
import { issueInvoice } from './invoices.ts'
import { linesOf, titlesOf, type OrderLine } from './orderLines.ts'

/** A payment that came in. */
interface Paid {
  order: number
  payment: number
  /** Whose order it is, locked; nobody, of a trial. */
  whose: Contact | null
}

interface Row {
  firstName: string
  lastName: string
  currency: string
  test: boolean
  total: number
  agreed: Agreed | null
  trusted: boolean | null
  place: string | null
}

/** An order that is paid, by whom. */
interface Completed {
  order: number
  whose: Contact
  row: Row
  lines: readonly OrderLine[]
}

/** What a buyer said of themselves fills in what is not known of them. */
const fillIn = (q: Queries, { id }: Contact, { firstName, lastName }: Row, at: Date): Promise<object[]> =>
  q.rows(
    `update contact set first_name = coalesce(nullif(first_name, ''), $2), last_name = coalesce(nullif(last_name, ''), $3),
       updated_at = $4 where id = $1 and (first_name = '' or last_name = '')`,
    [id, firstName, lastName, at],
  )

/**
 * An order is paid: the activity that starts follow-ups, what the products bring, the invoice and the receipt. Called
 * once for an order, by the transaction that writes down its first payment.
 */
export async function completeOrder(
  platform: Platform,
  q: Queries,
  { order, payment, whose }: Paid,
): Promise<void> {
  const now = new Date(platform.clock.now())
  const row = await q.row<Row>(
    `update customer_order set state = 'paid', failure = null, paid_at = $2 from customer_order mine
     left join cart on cart.id = mine.cart_id left join page on page.id = mine.page_id
     where customer_order.id = $1 and mine.id = $1 and customer_order.state <> 'paid'
     returning mine.first_name "firstName", mine.last_name "lastName", mine.currency, mine.test, mine.total,
       cart.agreed, cart.trusted, page.name place`,
    [order, now],
  )
  if (!row) return
  // Nobody is told of what an address gets for nothing that must not come back by itself.
  if (!whose && !row.test) return
  const lines = await linesOf(q, order)
  if (whose && (await isRepeated(q, { order, whose, row, lines, now }))) return
  if (whose) await completeFor(platform, q, { order, whose, row, lines })
  if (!row.test && row.total > 0) await issueInvoice(q, { order, payment, at: now })
  await queueJobs(q, 'sendReceipt', [{ order }])
}

/** What costs nothing goes to one address at most so often (ms): a stranger must not fill somebody's mailbox. */
const freePause = 3_600_000

/** Has this address just got the same for nothing? */
async function isRepeated(
  q: Queries,
  { order, whose, row, lines, now }: Completed & { now: Date },
): Promise<boolean> {
  if (row.total > 0) return false
  const before = await q.row(
    `select from customer_order join order_line on order_id = id
     where contact_id = $1 and id <> $2 and state = 'paid' and customer_order.total = 0 and paid_at > $3
       and product_id = any($4) limit 1`,
    [whose.id, order, new Date(now.getTime() - freePause), lines.map(({ product }) => product)],
  )
  return before !== undefined
}

async function completeFor(
  platform: Platform,
  q: Queries,
  { order, whose, row, lines }: Completed,
): Promise<void> {
  const at = personNow(platform.clock, whose)
  const contact = whose.id
  const { currency, agreed, total } = row
  const trusted = total > 0 || row.trusted === true
  const by = `order ${order}`
  await fillIn(q, whose, row, new Date(at))
  if (agreed && trusted) {
    if (whose.marketingState === 'subscribed')
      await setTopics(
        q,
        agreed.topics.map((topic) => ({ contact, topic, agreed: true, wording: agreed.wording, by, at })),
      )
    else await agreeAtOrder(q, { contact, agreed, at, place: row.place ?? by, ip: null })
  }
  await recordActivities(
    q,
    lines.map((line): NewActivity => ({
      contact,
      kind: 'productBought',
      at,
      details: { product: line.product, price: line.price, amount: line.total, currency, order },
    })),
  )
  const titles = titlesOf(lines)
  const bought = {
    contact,
    at,
    order,
    by,
    trusted,
    wording: `Bought “${titles}”`,
    note: `Bought ${titles} for ${moneyWords({ amount: total, currency })}.`,
  }
  await deliver(
    platform,
    q,
    lines.flatMap(({ brings }) => brings),
    bought,
  )
}

/** A later payment of an order came in: its invoice, and its receipt. */
export async function payFurther(platform: Platform, q: Queries, { order, payment }: Paid): Promise<void> {
  const row = await q.row<{ test: boolean }>('select test from customer_order where id = $1', [order])
  if (row && !row.test) await issueInvoice(q, { order, payment, at: new Date(platform.clock.now()) })
  await queueJobs(q, 'sendReceipt', [{ order }])
}
