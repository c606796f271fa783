import { z } from 'zod'
import type { Instant } from '../audience/people/activity.ts'
import { referenceId } from '../blocks/reference.ts'
import { timeSpan } from '../followups/waitShapes.ts'
import { largestAmount } from './money.ts'

/** What a coupon takes off: a share of what is paid, or so much of it. */
export const off = z.discriminatedUnion('by', [
  z.strictObject({
    by: z.literal('percent'),
    percent: z.number().int().min(1, 'Take off one per cent at least').max(100, '100 % is all of it'),
  }),
  z.strictObject({
    by: z.literal('amount'),
    amount: z.number().int().min(1, 'Type an amount').max(largestAmount, 'This amount is too large'),
  }),
])
export type Off = z.infer<typeof off>

/** A word that buyers type, and what it takes off. */
export const coupon = z
  .object({
    /** Letters are the same in either case. */
    code: z
      .string()
      .trim()
      .toUpperCase()
      .regex(
        /^[A-Z0-9]([A-Z0-9-]{0,28}[A-Z0-9])$/,
        'Use 2 to 30 letters, digits and hyphens, such as AUTUMN-20',
      ),
    off,
    /** Of a subscription each payment is less, not the first alone. */
    everyTime: z.boolean().default(false),
    /** Nobody types its own code: follow-ups make one for each person, which is good once and for so long. */
    each: z.strictObject({ lasts: timeSpan.nullable() }).nullable().default(null),
    /** Only these products; all when empty. */
    products: z.array(referenceId).max(100).default([]),
    from: z.iso.datetime().nullable().default(null),
    until: z.iso.datetime().nullable().default(null),
    /** How often it can be used, in all and by one person. */
    uses: z.number().int().min(1).max(1_000_000).nullable().default(null),
    usesEach: z.number().int().min(1).max(1_000).nullable().default(null),
  })
  .refine(({ from, until }) => from === null || until === null || from < until, {
    path: ['until'],
    error: 'It ends before it begins',
  })
export type Coupon = z.infer<typeof coupon>

/** Can it be used now, by its dates? */
export function couponState(
  { from, until }: Pick<Coupon, 'from' | 'until'>,
  now: Instant,
): 'open' | 'notYet' | 'over' {
  if (from !== null && now < Date.parse(from)) return 'notYet'
  return until !== null && now >= Date.parse(until) ? 'over' : 'open'
}

/** Does it hold for this product? */
export const isFor = ({ products }: Pick<Coupon, 'products'>, product: number): boolean =>
  products.length === 0 || products.includes(product)

/** What is left to pay: a share is rounded half up to the smallest unit, and nothing is ever below nothing. */
export function discounted(amount: number, each: Off): number {
  if (each.by === 'amount') return Math.max(0, amount - each.amount)
  return amount - Math.floor((2 * amount * each.percent + 100) / 200)
}
