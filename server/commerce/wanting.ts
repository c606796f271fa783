import { togetherAt } from '../../core/commerce/choices.ts'
import type { CartItem, CartTerms, SoldProduct, WantedItem } from '../../core/commerce/cart.ts'
import { coupon as couponShape, type Coupon } from '../../core/commerce/coupon.ts'
import { isLimited, type Price } from '../../core/commerce/price.ts'
import type { Queries } from '../database/connect.ts'
import { deadlinesOf, type PersonalDeadlines } from './deadlines.ts'
import type { Selling } from './selling.ts'
import { isReverseCharge } from './vatNumber.ts'

/** A price of a product, as it is told apart from all others. */
interface Priced {
  product: { id: number }
  price: Price
}

const keyOf = (product: number, price: string): string => `${product} ${price}`

/** How many were sold at each of these prices, places that are held included; asked only where it matters. */
export async function soldAt(q: Queries, prices: readonly Priced[]): Promise<(of: Priced) => number> {
  const limited = prices.filter(({ price }) => isLimited(price))
  if (limited.length === 0) return () => 0
  const rows = await q.rows<{ product: number; price: string; sold: number }>(
    `select product_id product, price_id price, sold from price_sale
     join unnest($1::bigint[], $2::text[]) t (product, price) on product = product_id and price = price_id`,
    [limited.map(({ product }) => product.id), limited.map(({ price }) => price.id)],
  )
  const sold = new Map(rows.map((row) => [keyOf(row.product, row.price), row.sold]))
  return ({ product, price }) => sold.get(keyOf(product.id, price.id)) ?? 0
}

/** When the personal deadline of a price ends for a buyer with these. */
export const ownEnd = (
  { deadline }: Pick<Price, 'deadline'>,
  deadlines: PersonalDeadlines,
): number | undefined => (deadline === null ? undefined : deadlines[deadline])

/** The personal deadlines of a buyer, where one of these prices has any; none of somebody who is not known. */
export const deadlinesOfBuyer = async (
  q: Queries,
  contact: number | null,
  prices: readonly { price: Pick<Price, 'deadline'> }[],
): Promise<PersonalDeadlines> =>
  contact === null || prices.every(({ price }) => price.deadline === null)
    ? {}
    : ((await deadlinesOf(q, [contact])).get(contact) ?? {})

/** An item of a cart with what it is. */
type OnSaleItem = Pick<WantedItem, 'kind' | 'chosen' | 'product' | 'price' | 'together'>

/** Items with the products and prices that they are; those that are not on sale any more are left out. */
export const itemsOnSale = (
  products: ReadonlyMap<number, SoldProduct>,
  items: readonly CartItem[],
): OnSaleItem[] =>
  items.flatMap(({ kind, chosen, ...item }) => {
    const product = products.get(item.product)
    const price = product?.content.prices.find(({ id }) => id === item.price)
    const together = price && togetherAt(price, products)
    return product && price && together ? [{ kind, chosen, product, price, together }] : []
  })

/** Items with how many were sold so far and when they end for this buyer. @param deadlines of the buyer */
export async function wantedItems(
  q: Queries,
  items: readonly OnSaleItem[],
  deadlines: PersonalDeadlines,
): Promise<WantedItem[]> {
  const sold = await soldAt(q, items)
  return items.map((item) => ({ ...item, sold: sold(item), ownEnd: ownEnd(item.price, deadlines) }))
}

export interface KnownCoupon extends Coupon {
  id: number
  /** Who alone can use it; null when everybody can. */
  holder: number | null
}

/** The coupon of a code, in whichever case it is typed: one that all may type, or one that was made for somebody. */
export async function couponOf(q: Queries, code: string): Promise<KnownCoupon | null> {
  const row = await q.row<{ id: number; content: unknown; holder: number | null; endsAt: Date | null }>(
    `select id, content, null::bigint holder, null::timestamptz "endsAt" from coupon
     where code = $1 and coalesce(content->'each', 'null') = 'null'
     union all
     select coupon.id, content, contact_id, ends_at from coupon_code made join coupon on coupon.id = coupon_id
     where made.code = $1 and content->'each' <> 'null'`,
    [code.trim().toUpperCase()],
  )
  if (!row) return null
  const read = couponShape.parse(row.content)
  if (row.holder === null) return { ...read, id: row.id, holder: null }
  const ends = [read.until, row.endsAt?.toISOString() ?? null].filter((each) => each !== null).sort()
  return {
    ...read,
    id: row.id,
    holder: row.holder,
    code: code.trim().toUpperCase(),
    until: ends[0] ?? null,
    usesEach: 1,
  }
}

/** How often a coupon was used, in all and by one address. */
export async function usesOfCoupon(
  q: Queries,
  coupon: number,
  addressKey: string,
): Promise<{ all: number; own: number }> {
  const row = await q.row<{ all: number; own: number }>(
    `select count(*)::int "all", count(*) filter (where address_key = $2)::int own from coupon_use where coupon_id = $1`,
    [coupon, addressKey],
  )
  return row ?? { all: 0, own: 0 }
}

/** Is there nothing left of a coupon, in all or for this address? */
export const isUsedUp = ({ uses, usesEach }: Coupon, { all, own }: { all: number; own: number }): boolean =>
  (uses !== null && all >= uses) || (usesEach !== null && own >= usesEach)

/** What the prices of a cart rest on. */
export const termsOf = (
  { currency, zone, tax }: Selling,
  { country, vatNumber }: { country: string | null; vatNumber: string | null },
  coupon: Coupon | null,
  now: number,
): CartTerms => ({
  currency,
  zone,
  tax,
  now,
  country,
  reverseCharge: isReverseCharge(vatNumber, tax.home),
  coupon,
})
