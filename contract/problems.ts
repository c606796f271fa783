import { z } from 'zod'

/** What went wrong, as RFC 9457 problem details. `fields` names each value at fault. */
export const problemDetails = z.object({
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
  fields: z.record(z.string(), z.string()).optional(),
  /** Seconds after which the same is worth trying again. */
  retryAfter: z.number().int().optional(),
})
export type ProblemDetails = z.infer<typeof problemDetails>
