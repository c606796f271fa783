import { placeOf, type Place } from '../../core/commerce/delivery.ts'
import type { Queries } from '../database/connect.ts'
import type { OrderLine } from './orderLines.ts'

/** A way to something that was bought. */
export interface Way {
  label: string
  to: Place
}

function labelOf(place: Place, title: string): string {
  if ('file' in place) return `Download ${title}`
  return 'url' in place ? `Go to ${title}` : `Open ${title}`
}

/** The ways to what these lines bring, each once. */
export function waysOf(lines: readonly Pick<OrderLine, 'title' | 'brings'>[]): Way[] {
  const ways = new Map<string, Way>()
  for (const { title, brings } of lines)
    for (const each of brings) {
      const to = placeOf(each)
      if (to) ways.set(JSON.stringify(to), { label: labelOf(to, title), to })
    }
  return [...ways.values()]
}

/** Lines of orders that brought something which was not taken back with a refund. */
export async function keptLines(q: Queries, lines: readonly OrderLine[]): Promise<OrderLine[]> {
  const orders = [...new Set(lines.map(({ order }) => order))]
  const rows = await q.rows<{ order: number }>(
    `select distinct order_id "order" from refund join payment on payment.id = payment_id
     where order_id = any($1::bigint[]) and takes_back and refund.state = 'done'`,
    [orders],
  )
  const taken = new Set(rows.map(({ order }) => order))
  return lines.filter(({ order }) => !taken.has(order))
}
