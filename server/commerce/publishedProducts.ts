import { productContent, type ProductContent } from '../../core/commerce/product.ts'
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

/** A product as somebody bought it, whatever became of it since; null when it is gone. */
export async function productVersion(
  q: Queries,
  product: number,
  version: number,
): Promise<ProductContent | null> {
  const row = await q.row<{ content: unknown }>(
    'select content from product_version where product_id = $1 and number = $2',
    [product, version],
  )
  return row ? productContent.parse(row.content) : null
}

/** The pages on which each product can be bought, the first that was made before others. */
export async function loadOrderPages(q: Queries): Promise<ReadonlyMap<number, number>> {
  const rows = await q.rows<{ page: number; product: number }>(
    `select page.id page, product::bigint product from page
     join page_version on page_id = page.id and number = published_version,
     jsonb_path_query(content, '$.document.** ? (@.kind == "orderForm").offers[*].product ? (@.type() == "number")') product
     where archived_at is null order by page.id desc`,
  )
  return new Map(rows.map(({ page, product }) => [product, page]))
}
