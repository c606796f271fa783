import { z } from 'zod'
import { referenceId } from '../blocks/reference.ts'
import { nowhere, target } from '../blocks/target.ts'
import { delivery } from './delivery.ts'
import { price } from './price.ts'

export const mostPrices = 20
export const mostPictures = 8

/** Something that is sold: what it is, what buyers get, and its price list. */
export const productContent = z.strictObject({
  /** As buyers read it. */
  title: z.string().trim().max(120).default(''),
  /** It goes on the invoice. */
  description: z.string().max(500).default(''),
  pictures: z
    .array(referenceId)
    .max(mostPictures, `A product has ${mostPictures} pictures at most`)
    .default([]),
  brings: z.array(delivery).max(20).default([]),
  /** Nothing but thanks is meant so. */
  bringsNothing: z.boolean().default(false),
  /** Where buyers go after paying. */
  after: target.default(nowhere),
  taxed: z.boolean().default(true),
  prices: z
    .array(price)
    .max(mostPrices, `A product has ${mostPrices} prices at most`)
    .refine((prices) => new Set(prices.map(({ id }) => id)).size === prices.length, {
      error: 'Two prices have the same id',
    })
    .default([]),
})
export type ProductContent = z.infer<typeof productContent>
