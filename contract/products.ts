import { z } from 'zod'
import { labels } from '../core/blocks/publicPath.ts'
import { productContent } from '../core/commerce/product.ts'
import { taxSettings } from '../core/commerce/tax.ts'
import { couponView } from './coupons.ts'
import { draftState, labelledRow, draftView, libraryName, saveOf, versionRoutes } from './drafts.ts'
import { created, get, post } from './route.ts'

const count = z.number().int()

export const productRow = labelledRow.extend({
  /** What it costs now, in words, by price: as it is on sale, or as it is written before. */
  prices: z.array(z.string()),
  /** Bought within 30 days: how often, and for how much in all, in the currency of the business. */
  sold: count,
  income: count,
})
export type ProductRow = z.infer<typeof productRow>

/** What prices rest on: the currency of the business, its clock, and how it taxes. */
const selling = z.object({ currency: z.string(), zone: z.string(), tax: taxSettings })

export const productView = draftView.extend({
  labels,
  content: productContent,
  selling,
  /** Those that can be used for it. */
  coupons: z.array(couponView),
})
export type ProductView = z.infer<typeof productView>

const newProduct = z.object({ name: libraryName, content: productContent })

/** What a product is called here, and its labels. */
export const productSettings = z.object({ name: libraryName, labels })

export const products = {
  ...versionRoutes('/products'),
  list: get('/products', { answer: z.array(productRow) }),
  view: get('/products/:id', { answer: productView }),
  create: post('/products', { body: newProduct, answer: created }),
  settings: post('/products/:id/settings', { body: productSettings }),
  save: post('/products/:id/save', { body: saveOf(productContent), answer: draftState }),
  saveTax: post('/tax', { body: taxSettings }),
} as const
