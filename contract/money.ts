import { z } from 'zod'

/** What came in, in the smallest unit of a currency, and from how many orders; trials are never in it. */
export const moneyIn = z.object({
  currency: z.string(),
  amount: z.number().int(),
  orders: z.number().int(),
})
export type MoneyIn = z.infer<typeof moneyIn>
