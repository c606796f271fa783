import { z } from 'zod'

export const searchQuery = z.object({ q: z.string().trim().max(100).default('') })

/** Something that search can go to; `to` is a path of the application. */
export const searchHit = z.object({
  kind: z.enum(['person', 'followup', 'funnel']),
  title: z.string(),
  detail: z.string(),
  to: z.string(),
})
export type SearchHit = z.infer<typeof searchHit>
export const searchHits = z.array(searchHit)
