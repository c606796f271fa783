import { blockReferences, walk } from '../../core/blocks/walk.ts'
import { productContent, type ProductContent } from '../../core/commerce/product.ts'
import { findingsOfProduct } from '../../core/commerce/productFindings.ts'
import type { FunnelFinding } from '../../core/funnels/finding.ts'
import { pageContent } from '../../core/pages/page.ts'
import { productSurroundings } from '../commerce/productDrafts.ts'
import type { Queries } from '../database/connect.ts'

/** What the order forms and offers of pages sell, as the pages are written now: products by page. */
export async function soldOn(q: Queries, pages: readonly number[]): Promise<Map<number, number[]>> {
  const rows = await q.rows<{ page: number; content: unknown }>(
    `select distinct on (page_id) page_id page, content from page_version
     where page_id = any($1) order by page_id, number desc`,
    [pages],
  )
  return new Map(
    rows.flatMap(({ page, content }) => {
      const { document } = pageContent.parse(content)
      const sold = [...walk(document)].flatMap(({ block }) =>
        block.kind === 'orderForm' || block.kind === 'nextOffer'
          ? blockReferences(block).flatMap(({ kind, id }) => (kind === 'products' ? [id] : []))
          : [],
      )
      return sold.length > 0 ? [[page, [...new Set(sold)]] as const] : []
    }),
  )
}

/** A product that pages sell, as buyers get it: what is on sale, or else its draft. */
export interface FunnelProduct {
  id: number
  name: string
  onSale: boolean
  content: ProductContent
}

/** The products of these pages; drafts go on sale with them. */
export async function soldProducts(q: Queries, pages: readonly number[]): Promise<FunnelProduct[]> {
  const ids = [...new Set([...(await soldOn(q, pages)).values()].flat())]
  const rows = await q.rows<Omit<FunnelProduct, 'content'> & { content: unknown }>(
    `select distinct on (product.id) product.id, name, published_version is not null "onSale", content from product
     join product_version on product_id = product.id and number = coalesce(published_version, number)
     where product.id = any($1) and archived_at is null order by product.id, number desc`,
    [ids],
  )
  return rows.map((row) => ({ ...row, content: productContent.parse(row.content) }))
}

/** What is wrong with products that pages sell. @param livePages those that are live by then */
export async function findingsOfProducts(
  q: Queries,
  products: readonly FunnelProduct[],
  livePages: ReadonlySet<number>,
  at: Date,
): Promise<FunnelFinding[]> {
  if (products.length === 0) return []
  const now = await productSurroundings(q, at)
  // Those that go on sale with the funnel are on sale by then.
  const onSale = new Set([...now.onSale, ...products.map(({ id }) => id)])
  const around = { ...now, livePages, onSale }
  return products.flatMap(({ id, name, content }) =>
    findingsOfProduct(id, content, around).map(({ level, words }) => ({
      level,
      words: `“${name}”: ${words}`,
      part: `/library/products/${id}`,
    })),
  )
}
