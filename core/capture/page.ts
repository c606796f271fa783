import { z } from 'zod'

const line = z.string().min(1).max(200)

/** Where the next offer's button leads: on this install or on the web. */
const href = z.union([z.string().regex(/^\/[^/\\]/), z.url({ protocol: /^https?$/ })])

/** A capture page and its thank-you page: what they say. How they look is the renderer's. */
export const pageContent = z.object({
  headline: line,
  promise: z.string().max(1000),
  points: z.array(line).max(8),
  form: z.object({
    button: line,
    /** Shown beside the box that is ticked; kept word for word with each consent. */
    consentWording: z.string().min(1).max(1000),
  }),
  thanks: z.object({
    headline: line,
    next: z.array(line).max(8),
    offer: z.object({ words: z.string().max(500), button: line, href }).optional(),
  }),
})
export type PageContent = z.infer<typeof pageContent>
