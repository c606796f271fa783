import { coupon } from '../../core/commerce/coupon.ts'
import { renumber } from '../../core/blocks/renumber.ts'
import type { FunnelFile } from '../../core/funnels/funnelFile.ts'
import { createCoupon } from '../commerce/coupons.ts'
import { createDeadline } from '../commerce/deadlines.ts'
import { productDrafts } from '../commerce/productDrafts.ts'
import { createProduct } from '../commerce/products.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { byName, existing, type Numbers } from './placedThings.ts'

/**
 * Products get their numbers first, since pages name them; those of the same name that are here already stand for them.
 * @returns what writes them anew once all else has its number
 */
export async function placeProducts(
  q: Queries,
  file: FunnelFile,
  numbers: Numbers,
  called: (name: string) => string,
  doing: Doing,
): Promise<{ connect: () => Promise<void> }> {
  const made: { id: number; content: FunnelFile['products'][number]['content'] }[] = []
  for (const { id, name, content } of file.products) {
    const known = await byName(q, 'product', called(name))
    const here = known ?? (await createProduct(q, { name: called(name), content }, doing))
    numbers.set('products', id, here)
    if (known === undefined) made.push({ id: here, content })
  }
  return {
    async connect() {
      for (const { id, content } of made) {
        const connected = renumber(content, numbers.of)
        const pictures = connected.pictures.filter((picture) => existing(picture) !== null)
        const prices = connected.prices.map((price) => ({
          ...price,
          products: price.products.filter((product) => existing(product) !== null),
        }))
        const { number: version, revision } = await productDrafts.newest(q, id)
        await productDrafts.save(
          q,
          id,
          { version, revision, over: false, content: { ...connected, pictures, prices } },
          doing,
        )
      }
    },
  }
}

/** Deadlines and coupons by their names: those that are here already stay as they are. */
export async function placeOffers(
  q: Queries,
  file: FunnelFile,
  numbers: Numbers,
  doing: Doing,
): Promise<void> {
  for (const each of file.deadlines)
    if (!(await q.row('select from deadline where name = $1', [each.name])))
      await createDeadline(q, renumber(each, numbers.of), doing)
  for (const each of file.coupons) {
    const here = coupon.parse(renumber(each, numbers.of))
    const products = here.products.filter((product) => existing(product) !== null)
    if (!(await q.row('select from coupon where code = $1', [here.code])))
      await createCoupon(q, { ...here, products }, doing)
  }
}
