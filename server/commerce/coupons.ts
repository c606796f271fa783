import type { CouponView } from '../../contract/coupons.ts'
import { coupon, type Coupon } from '../../core/commerce/coupon.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'

interface Row {
  id: number
  content: unknown
  changedAt: Date
  changedBy: string
}

/** Every coupon, by its code. */
export async function listCoupons(q: Queries): Promise<CouponView[]> {
  const names = new Map(
    (await q.rows<{ id: number; name: string }>('select id, name from product')).map(({ id, name }) => [
      id,
      name,
    ]),
  )
  const rows = await q.rows<Row>(
    'select id, content, changed_at "changedAt", changed_by "changedBy" from coupon order by code',
  )
  return rows.map(({ id, content, changedAt, changedBy }) => {
    const read = coupon.parse(content)
    return {
      ...read,
      id,
      productNames: read.products.map((product) => names.get(product) ?? 'a product that was deleted'),
      changedAt: changedAt.toISOString(),
      changedBy,
    }
  })
}

async function refuseUnfit(q: Queries, id: number | null, { code, products }: Coupon): Promise<void> {
  if (await q.row('select from coupon where code = $1 and id is distinct from $2', [code, id]))
    throw new Problem(409, 'This code is taken', `There is a coupon “${code}”. Choose another code.`, {
      code: `There is a coupon “${code}”`,
    })
  const known = await q.rows<{ id: number }>('select id from product where id = any($1)', [products])
  if (known.length < new Set(products).size)
    throw new Problem(422, 'A product was deleted', 'Choose the products again.', {
      products: 'One of them was deleted: choose again',
    })
}

/** @throws Problem 409 when the code is taken, 422 */
export async function createCoupon(q: Queries, content: Coupon, { by, at }: Doing): Promise<number> {
  await refuseUnfit(q, null, content)
  const row = await q.row<{ id: number }>(
    'insert into coupon (code, content, changed_at, changed_by) values ($1, $2, $3, $4) returning id',
    [content.code, JSON.stringify(content), at, by],
  )
  if (!row) throw new Error('an insert returned no row')
  await announce(q, 'pages')
  return row.id
}

/** @throws Problem 404, 409 when the code is taken, 422 */
export async function saveCoupon(q: Queries, id: number, content: Coupon, { by, at }: Doing): Promise<void> {
  await refuseUnfit(q, id, content)
  const row = await q.row(
    'update coupon set code = $2, content = $3, changed_at = $4, changed_by = $5 where id = $1 returning id',
    [id, content.code, JSON.stringify(content), at, by],
  )
  if (!row) throw notFound('This coupon')
  await announce(q, 'pages')
}

/** @throws Problem 404 */
export async function deleteCoupon(q: Queries, id: number): Promise<void> {
  if (!(await q.row('delete from coupon where id = $1 returning id', [id]))) throw notFound('This coupon')
  await announce(q, 'pages')
}
