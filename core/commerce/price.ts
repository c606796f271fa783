import { z } from 'zod'
import { referenceId } from '../blocks/reference.ts'
import { partId } from '../blocks/richText.ts'
import { deadlineName } from './deadlineState.ts'
import { delivery } from './delivery.ts'
import { largestAmount } from './money.ts'

/** In the smallest unit of the business's currency. */
const amount = z
  .number()
  .int()
  .min(0, 'An amount is not negative')
  .max(largestAmount, 'This amount is too large')
const some = amount.min(1, 'Type an amount, or choose “free”')
const instant = z.iso.datetime()

/** How often something is paid. */
export const period = z.strictObject({
  count: z.number().int().min(1).max(366),
  unit: z.enum(['day', 'week', 'month', 'year']),
})
export type Period = z.infer<typeof period>

/** How a price is paid. */
export const pays = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('once'), amount: some }),
  /** The whole in so many payments, the first at once. */
  z.strictObject({
    by: z.literal('payments'),
    amount: some,
    payments: z.number().int().min(2, 'Two payments at least').max(36, '36 payments at most'),
    every: period,
  }),
  /** Until it is cancelled, or for so many payments. */
  z.strictObject({
    by: z.literal('subscription'),
    amount: some,
    every: period,
    trialDays: z.number().int().min(0).max(365).default(0),
    payments: z.number().int().min(1).max(1_000).nullable().default(null),
  }),
  /** Buyers say how much. */
  z.strictObject({ by: z.literal('choice'), least: amount, suggested: amount }),
  z.strictObject({ by: z.literal('free') }),
])
export type Pays = z.infer<typeof pays>
export type PaysBy = Pays['by']

/** For a while, or for those who come first, it costs less. */
export const introductory = z.strictObject({
  amount: some,
  until: instant.nullable().default(null),
  first: z.number().int().min(1).max(1_000_000).nullable().default(null),
})

export const mostTogether = 20

/** A row of a price list. */
export const price = z.strictObject({
  id: partId,
  /** As buyers read it; may be empty where there is only one. */
  name: z.string().trim().max(60).default(''),
  pays,
  /** What buyers get at this price. */
  brings: z.array(delivery).max(20).default([]),
  /** Instead of what the product brings, not besides it: a service, something kept elsewhere. */
  instead: z.boolean().default(false),
  /** Other products that this price sells together with its own. */
  products: z
    .array(referenceId)
    .max(mostTogether, `A price sells ${mostTogether} other products together at most`)
    .default([]),
  introductory: introductory.nullable().default(null),
  /** How many can be sold in all. */
  places: z.number().int().min(1).max(1_000_000).nullable().default(null),
  /** Only who has this personal deadline buys at it, and only while it runs. */
  deadline: deadlineName.nullable().default(null),
  opens: instant.nullable().default(null),
  closes: instant.nullable().default(null),
})
export type Price = z.infer<typeof price>

/** Does what it costs, or whether it can be bought, depend on how many were sold? */
export const isLimited = ({ places, introductory: first }: Pick<Price, 'places' | 'introductory'>): boolean =>
  places !== null || (first !== null && first.first !== null)

/** A price to begin with. */
export const freshPrice = (id: string): Price => price.parse({ id, pays: { by: 'once', amount: 1_000 } })
