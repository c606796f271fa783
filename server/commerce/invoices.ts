import { shared } from '../../core/commerce/money.ts'
import { invoiceContent, type InvoiceContent } from '../../core/commerce/invoice.ts'
import type { Queries } from '../database/connect.ts'
import { getBusiness } from '../workspace/business.ts'
import { taxSettings } from '../../core/commerce/tax.ts'
import { linesOf } from './orderLines.ts'

interface OrderRow {
  currency: string
  name: string
  address: string
  country: string | null
  vatNumber: string | null
}
interface PaymentRow {
  n: number
  /** The line that a later payment stands for. */
  at: number
  all: number
  net: number
  tax: number
  total: number
}

async function contentOf(
  q: Queries,
  order: number,
  { n, at, all, net, tax, total }: PaymentRow,
): Promise<InvoiceContent> {
  const business = await getBusiness(q)
  const row = await q.row<OrderRow>(
    `select currency, trim(first_name || ' ' || last_name) name, address, country, vat_number "vatNumber"
     from customer_order where id = $1`,
    [order],
  )
  if (!row) throw new Error(`there is no order ${order}`)
  const lines = (await linesOf(q, order)).map(({ title, words, description, rate, ...sums }) => ({
    title,
    words,
    description,
    rate,
    net: sums.net,
    tax: sums.tax,
    total: sums.total,
  }))
  return invoiceContent.parse({
    currency: row.currency,
    seller: {
      name: business.name,
      postalAddress: business.postalAddress,
      country: taxSettings.parse(business.tax).home,
    },
    buyer: { name: row.name, address: row.address, country: row.country, vatNumber: row.vatNumber },
    order,
    of: null,
    note: all > 1 ? `Payment ${n + 1} of ${all}` : '',
    // A later payment stands for the line that is paid by parts: its own amounts, not those of the order.
    lines: n === 0 ? lines : lines.slice(at, at + 1).map((line) => ({ ...line, net, tax, total })),
    net,
    tax,
    total,
  })
}

/** The next number: the row of the business is locked until the transaction ends, so that none is left out. */
async function nextNumber(q: Queries): Promise<number> {
  const row = await q.row<{ number: number }>(
    'update business set last_invoice = last_invoice + 1 returning last_invoice number',
  )
  if (!row) throw new Error('there is no business')
  return row.number
}

/** Issues the invoice of a payment that came in. Its number is given last: others wait for it shortly. */
export async function issueInvoice(
  q: Queries,
  { order, payment, at }: { order: number; payment: number; at: Date },
): Promise<void> {
  const paid = await q.row<PaymentRow>(
    `select n, coalesce(line, 0) at, (select count(*)::int from payment where order_id = $2) "all", net, tax, total from payment where id = $1`,
    [payment, order],
  )
  if (!paid || paid.total === 0) return
  const content = await contentOf(q, order, paid)
  await q.rows(
    `insert into invoice (number, order_id, payment_id, kind, issued_at, content) values ($1, $2, $3, 'invoice', $4, $5)`,
    [await nextNumber(q), order, payment, at, JSON.stringify(content)],
  )
}

/** Issues the credit note of a refund: what is given back, shared out among the lines of its invoice. */
export async function issueCredit(
  q: Queries,
  { refund, payment, amount, at }: { refund: number; payment: number; amount: number; at: Date },
): Promise<void> {
  const issued = await q.row<{ number: number; order: number; content: unknown }>(
    `select number, order_id "order", content from invoice where payment_id = $1 and kind = 'invoice'`,
    [payment],
  )
  if (!issued) return
  const content = invoiceContent.parse(issued.content)
  const { currency } = content
  const totals = shared(
    { amount, currency },
    content.lines.map(({ total }) => total),
  )
  const lines = content.lines.map((line, i) => {
    const total = -(totals[i] ?? 0)
    // The tax in proportion, rounded to the smallest unit.
    const tax = line.total === 0 ? 0 : Math.round((total * line.tax) / line.total)
    return { ...line, net: total - tax, tax, total }
  })
  const sum = (of: (line: (typeof lines)[number]) => number): number =>
    lines.reduce((all, line) => all + of(line), 0)
  const credit: InvoiceContent = {
    ...content,
    of: issued.number,
    note: '',
    lines,
    net: sum(({ net }) => net),
    tax: sum(({ tax }) => tax),
    total: -amount,
  }
  await q.rows(
    `insert into invoice (number, order_id, refund_id, kind, issued_at, content) values ($1, $2, $3, 'credit', $4, $5)`,
    [await nextNumber(q), issued.order, refund, at, JSON.stringify(credit)],
  )
}

/** An invoice or a credit note as it was issued. */
export interface Issued {
  number: number
  kind: 'invoice' | 'credit'
  issuedAt: Date
  content: InvoiceContent
}

/** Everything that was issued for an order, by number. */
export async function invoicesOf(q: Queries, order: number): Promise<Issued[]> {
  const rows = await q.rows<Omit<Issued, 'content'> & { content: unknown }>(
    `select number, kind, issued_at "issuedAt", content from invoice where order_id = $1 order by number`,
    [order],
  )
  return rows.map((row) => ({ ...row, content: invoiceContent.parse(row.content) }))
}

/** What was issued for these orders, without what it says, by number. */
export const invoiceNumbers = (
  q: Queries,
  orders: readonly number[],
): Promise<(Pick<Issued, 'number' | 'kind'> & { order: number })[]> =>
  q.rows('select order_id "order", number, kind from invoice where order_id = any($1) order by number', [
    orders,
  ])
