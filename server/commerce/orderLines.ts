import type { LineKind } from '../../core/commerce/cart.ts'
import { broughtAt, type Delivery } from '../../core/commerce/delivery.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { productContent } from '../../core/commerce/product.ts'
import type { Queries } from '../database/connect.ts'

/** A line of an order, with the product in the version that was bought. */
export interface OrderLine {
  order: number
  kind: LineKind
  product: number
  price: string
  title: string
  words: string
  description: string
  /** What it brings: its product, and its price besides. */
  brings: Delivery[]
  rate: number
  net: number
  tax: number
  total: number
}

type Row = Omit<OrderLine, 'brings' | 'description'> & { content: unknown }

/** The lines of these orders, one order after the other. */
export async function linesOf(q: Queries, ...orders: readonly number[]): Promise<OrderLine[]> {
  const rows = await q.rows<Row>(
    `select order_id "order", kind, order_line.product_id product, price_id price, title, words, rate, net, tax, total, content
     from order_line join product_version on product_version.product_id = order_line.product_id
       and number = order_line.version
     where order_id = any($1) order by order_id, n`,
    [orders],
  )
  return rows.map(({ content, ...line }) => {
    const product = productContent.parse(content)
    return { ...line, description: product.description, brings: broughtAt(product, line.price) }
  })
}

/** What was paid for a line of an order; how it is paid, where nothing was by itself. */
export const paidWords = (
  { kind, total, words }: Pick<OrderLine, 'kind' | 'total' | 'words'>,
  order: { total: number; currency: string },
): string =>
  order.total === 0 || kind === 'together' ? words : moneyWords({ amount: total, currency: order.currency })

/** What an order is called where all of it is meant. */
export const titlesOf = (lines: readonly Pick<OrderLine, 'title'>[]): string =>
  lines.map(({ title }) => title).join(', ')
