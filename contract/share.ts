import { z } from 'zod'
import type { Share } from '../core/results/wilson.ts'

/** A share with the interval in which the true one lies (95 %). */
export const shareView = z.object({
  of: z.number().int(),
  among: z.number().int(),
  rate: z.number(),
  low: z.number(),
  high: z.number(),
}) satisfies z.ZodType<Share>
