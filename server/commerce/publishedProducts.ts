import { productContent } from '../../core/commerce/product.ts'
import type { SoldProduct } from '../../core/commerce/cart.ts'
import type { Queries } from '../database/connect.ts'

/** Every product as it is on sale, by its number. */
export async function loadProducts(q: Queries): Promise<ReadonlyMap<number, SoldProduct>> {
  const rows = await q.rows<{ id: number; version: number; content: unknown }>(
    `select product.id, number as version, content from product
     join product_version on product_id = product.id and number = published_version
     where archived_at is null order by product.id`,
  )
  return new Map(rows.map((row) => [row.id, { ...row, content: productContent.parse(row.content) }]))
}

const sellingPages = `select page.id page, product::bigint product from page
  join page_version on page_id = page.id and number = published_version,
  jsonb_path_query(content, '$.document.** ? (@.kind == "orderForm").offers[*].product ? (@.type() == "number")') product
  where archived_at is null`

/** The pages on which each product can be bought, the first that was made before others. */
export async function loadOrderPages(q: Queries): Promise<ReadonlyMap<number, number>> {
  const rows = await q.rows<{ page: number; product: number }>(`${sellingPages} order by page.id desc`)
  return new Map(rows.map(({ page, product }) => [product, page]))
}

/** The page on which a product can be bought; null when it stands on none. */
export async function orderPageOf(q: Queries, product: number): Promise<number | null> {
  const row = await q.row<{ page: number }>(
    `${sellingPages} and content->'document' @? '$.** ? (@.kind == "orderForm")' and product = to_jsonb($1::bigint)
     order by page.id limit 1`,
    [product],
  )
  return row?.page ?? null
}
