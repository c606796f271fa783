import { productContent } from '../../core/commerce/product.ts'
import { pageContent } from '../../core/pages/page.ts'
import { composer } from '../../core/blocks/compose.ts'
import { cartLink } from '../../server/commerce/carts.ts'
import { setTakes } from '../../server/commerce/orders.ts'
import { productDrafts } from '../../server/commerce/productDrafts.ts'
import { createProduct } from '../../server/commerce/products.ts'
import { saveTax } from '../../server/commerce/selling.ts'
import { pageDrafts } from '../../server/pages/drafts.ts'
import { createPage } from '../../server/pages/pages.ts'
import type { TestInstall } from '../../testing/install.ts'
import { numberedIds } from '../../testing/documents.ts'

const { block, section, document } = composer(numberedIds('bench'))
const amount = 700

/** A product with its order page. */
export interface Sold {
  product: number
  page: number
  path: string
}

/** Puts something on sale, on a page of its own. @param places how many there are; as many as one likes when null */
export async function sell(
  { platform }: TestInstall,
  path: string,
  places: number | null = null,
): Promise<Sold> {
  const { database, clock } = platform
  const doing = { by: 'bench', at: new Date(clock.now()) }
  return database.inTransaction(async (tx) => {
    await saveTax(tx, { tax: 'inside', home: 'IE', rates: [{ country: 'IE', rate: 2_300 }] })
    await setTakes(tx, 'live')
    const content = productContent.parse({
      title: path,
      description: path,
      bringsNothing: true,
      prices: [{ id: 'priceone', pays: { by: 'once', amount }, places }],
    })
    const product = await createProduct(tx, { name: path, content }, doing)
    await productDrafts.publish(tx, product, { version: 1, revision: 1 }, doing)
    const offers = [{ product, price: null }]
    const page = await createPage(
      tx,
      {
        path,
        name: path,
        purpose: 'order',
        course: null,
        content: pageContent.parse({
          title: path,
          listed: false,
          document: document(section([{ blocks: [block('orderForm', { offers, label: 'Pay' })] }])),
        }),
      },
      doing.by,
      doing.at,
    )
    await pageDrafts.publish(tx, page, { version: 1, revision: 1 }, doing)
    return { product, page, path }
  })
}

/** Carts of people whom nobody knows, with a card that was typed; as their address stands in a link. */
export async function fillCarts(
  { platform }: TestInstall,
  { product, page, path }: Sold,
  count: number,
  session: (n: number) => string,
): Promise<string[]> {
  const { database: q, clock } = platform
  const blocks = await q.row<{ block: string }>(
    `select jsonb_path_query(content, '$.document.** ? (@.kind == "orderForm").id')->>0 block from page_version where page_id = $1`,
    [page],
  )
  const at = new Date(clock.now())
  const rows = await q.rows<{ id: number }>(
    `with bought as (
       insert into contact (address, address_key, first_name, marketing_state, created_at, updated_at)
       select a, a, 'Ada', 'neverAsked', $2::timestamptz, $2 from (
         select $1 || i || '@postbox.test' a from generate_series(1, $3::int) i) t returning id, address)
     insert into cart (token_hash, page_id, block, contact_id, address, address_key, first_name, trusted, items, card_session,
       began_at, changed_at)
     select sha256(convert_to($1 || id, 'UTF8')), $4, $5, id, address, address, 'Ada', true, $6, 'open', $2, $2 from bought
     returning id`,
    [
      path,
      at,
      count,
      page,
      blocks?.block ?? '',
      JSON.stringify([{ kind: 'main', product, price: 'priceone', chosen: null }]),
    ],
  )
  await q.rows(
    `update cart set card_session = session from unnest($1::bigint[], $2::text[]) t (cart, session) where id = cart`,
    [rows.map(({ id }) => id), rows.map((_, n) => session(n))],
  )
  return rows.map(({ id }) => cartLink(platform, id).token)
}

/** What the button of an order form posts. */
export const payBody = (block: string, product: number, token: string): string =>
  new URLSearchParams({
    form: block,
    offer: `${product}:priceone`,
    seen: String(amount),
    token,
    do: 'pay',
  }).toString()
