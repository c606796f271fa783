import { cartItem } from '../../core/commerce/cart.ts'
import { z } from 'zod'
import type { Queries } from '../database/connect.ts'

/** The newest cart of each that was not bought. */
const newest = `select distinct on (contact_id) id, contact_id, page_id, items from cart
  where contact_id = any($1) and ordered_at is null order by contact_id, changed_at desc, id desc`

/** What is in the newest open cart of each of these people, in words. */
export async function cartWords(q: Queries, contacts: readonly number[]): Promise<Map<number, string>> {
  const rows = await q.rows<{ contact: number; items: unknown }>(
    `select contact_id contact, items from (${newest}) cart`,
    [contacts],
  )
  const carts = rows.map(({ contact, items }) => ({ contact, items: z.array(cartItem).parse(items) }))
  const products = await q.rows<{ id: number; title: string }>(
    `select product.id, content->>'title' title from product
     join product_version on product_id = product.id and number = published_version where product.id = any($1)`,
    [[...new Set(carts.flatMap(({ items }) => items.map(({ product }) => product)))]],
  )
  const titles = new Map(products.map(({ id, title }) => [id, title]))
  return new Map(
    carts.flatMap(({ contact, items }) => {
      const words = items.flatMap(({ product }) => titles.get(product) ?? []).join(', ')
      return words === '' ? [] : [[contact, words] as const]
    }),
  )
}

/** The newest cart of somebody that was not bought, and the page where it was filled; null when there is none. */
export async function openCartOf(
  q: Queries,
  contact: number,
): Promise<{ cart: number; page: number } | null> {
  const row = await q.row<{ cart: number; page: number | null }>(
    `select id cart, page_id page from (${newest}) cart`,
    [[contact]],
  )
  return row && row.page !== null ? { cart: row.cart, page: row.page } : null
}
