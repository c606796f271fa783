import type { ThingState } from '../../contract/drafts.ts'
import type { productSettings, ProductRow, ProductView } from '../../contract/products.ts'
import type { z } from 'zod'
import { isFor } from '../../core/commerce/coupon.ts'
import { offerOf } from '../../core/commerce/offer.ts'
import { paysWords } from '../../core/commerce/priceWords.ts'
import type { ProductContent } from '../../core/commerce/product.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { randomPartId } from '../pages/partIds.ts'
import { usesOf } from '../pages/usage.ts'
import { listCoupons } from './coupons.ts'
import { productDrafts } from './productDrafts.ts'
import { getSelling } from './selling.ts'

const month = 30 * 86_400_000

/** Makes a product whose first version is a draft. @returns its id */
export async function createProduct(
  q: Queries,
  { name, content, labels = [] }: { name: string; content: ProductContent; labels?: readonly string[] },
  doing: Doing,
): Promise<number> {
  const row = await q.row<{ id: number }>(
    'insert into product (name, labels, created_at) values ($1, $2, $3) returning id',
    [name, labels, doing.at],
  )
  if (!row) throw new Error('an insert returned no row')
  await productDrafts.begin(q, row.id, content, doing)
  await announce(q, 'pages')
  return row.id
}

interface Row extends Omit<ProductRow, 'usedIn' | 'changedAt' | 'prices'> {
  state: ThingState
  changedAt: Date
  list: ProductContent['prices']
}

/** Every product with what it costs now and what came of it in 30 days, the one changed last first. */
export async function listProducts(q: Queries, now: number): Promise<ProductRow[]> {
  const { currency } = await getSelling(q)
  const rows = await q.rows<Row>(
    `with bought as (
       select (details->>'product')::bigint product, count(*)::int sold,
         sum((details->>'amount')::bigint) filter (where details->>'currency' = $2) income
       from activity join contact on contact.id = contact_id
       where kind = 'productBought' and at >= $1 and not rehearsal group by 1)
     select product.id, name, to_json(labels) labels,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       published_version is not null and newest.number > published_version "hasDraft",
       coalesce(published.content, newest.content)->'prices' list, newest.made_at "changedAt",
       coalesce(sold, 0) sold, coalesce(income, 0)::bigint income
     from product join lateral (select number, content, made_at from product_version where product_id = product.id
       order by number desc limit 1) newest on true
     left join product_version published on published.product_id = product.id and published.number = published_version
     left join bought on bought.product = product.id
     order by newest.made_at desc, product.id desc`,
    [new Date(now - month), currency],
  )
  const uses = await usesOf(
    q,
    'product',
    rows.map(({ id }) => id),
  )
  return rows.map(({ changedAt, list, ...row }) => ({
    ...row,
    prices: list.map((price) => paysWords(price.pays, currency, offerOf(price, now, 0, null).amount)),
    usedIn: uses.get(row.id) ?? [],
    changedAt: changedAt.toISOString(),
  }))
}

/** A product with its draft, as its editor opens it. @throws Problem 404 */
export async function viewProduct(q: Queries, id: number, doing: Doing): Promise<ProductView> {
  const row = await q.row<{ labels: string[] }>('select to_json(labels) labels from product where id = $1', [
    id,
  ])
  if (!row) throw notFound('This product')
  const usedIn = (await usesOf(q, 'product', [id])).get(id) ?? []
  return {
    ...(await productDrafts.view(q, id, doing)),
    ...row,
    usedIn,
    selling: await getSelling(q),
    coupons: (await listCoupons(q)).filter((each) => isFor(each, id)),
  }
}

/** Sets what a product is called here, and its labels. @throws Problem 404 */
export async function setProduct(
  q: Queries,
  id: number,
  { name, labels }: z.infer<typeof productSettings>,
): Promise<void> {
  const row = await q.row('update product set name = $2, labels = $3 where id = $1 returning id', [
    id,
    name,
    labels,
  ])
  if (!row) throw notFound('This product')
  await announce(q, 'pages')
}

/** Makes a draft that sells the same. @returns its id */
export async function copyProduct(q: Queries, id: number, doing: Doing): Promise<number> {
  const { name } = await productDrafts.thing(q, id)
  const { content } = await productDrafts.newest(q, id)
  const row = await q.row<{ labels: string[] }>('select to_json(labels) labels from product where id = $1', [
    id,
  ])
  const prices = content.prices.map((price) => ({ ...price, id: randomPartId() }))
  return createProduct(
    q,
    { name: `${name} (copy)`.slice(0, 120), content: { ...content, prices }, labels: row?.labels ?? [] },
    doing,
  )
}

/** Deletes a product that nobody can have bought. @throws Problem 404, 409 */
export async function deleteProduct(q: Queries, id: number): Promise<void> {
  const found = await q.row<{ name: string; published: boolean }>(
    'select name, published_version is not null published from product where id = $1 for update',
    [id],
  )
  if (!found) throw notFound('This product')
  if (found.published)
    throw new Problem(
      409,
      'This product has been on sale',
      'Who has bought it keeps it in their history. Archive it instead: then nobody can buy it.',
    )
  const usedIn = (await usesOf(q, 'product', [id])).get(id)
  if (usedIn && usedIn.length > 0)
    throw new Problem(409, 'This product is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  await q.rows('delete from product where id = $1', [id])
  await announce(q, 'pages')
}
