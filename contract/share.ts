import { z } from 'zod'
import type { Difference } from '../core/results/difference.ts'
import type { Share } from '../core/results/wilson.ts'

/** A share with the interval in which the true one lies (95 %). */
export const shareView = z.object({
  of: z.number().int(),
  among: z.number().int(),
  rate: z.number(),
  low: z.number(),
  high: z.number(),
}) satisfies z.ZodType<Share>

/** How much one share is above another, with its interval (95 %). */
export const differenceView = z.object({
  difference: z.number(),
  low: z.number(),
  high: z.number(),
}) satisfies z.ZodType<Difference>
