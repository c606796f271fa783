import { z } from 'zod'

/** When somebody has left the checkout, and how it is found out what writing to them brings. */
export const recoverySettings = z.strictObject({
  /** So many minutes without an order after the last change. */
  afterMinutes: z
    .number()
    .int()
    .min(5, 'Give people 5 minutes at least')
    .max(10_080, 'A week at most')
    .default(60),
  /** So many of a hundred people get no email about what they left, as a yardstick. */
  heldOut: z.number().int().min(0).max(50, 'Half of them at most').default(0),
})
export type RecoverySettings = z.infer<typeof recoverySettings>
