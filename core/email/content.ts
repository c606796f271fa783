import { z } from 'zod'

/**
 * Where a button leads: a web address, or a file of the business, which becomes a download that is signed
 * for the reader.
 */
const target = z.union([
  z.object({ url: z.url({ protocol: /^https?$/ }).max(2000) }),
  z.object({ file: z.number().int().positive() }),
  /** A path on this install, so that letters survive a change of domain. */
  z.object({
    path: z
      .string()
      .regex(/^\/[^/\\]/)
      .max(500),
  }),
])
export type Target = z.infer<typeof target>

const words = z.string().min(1).max(5000)

const block = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('heading'), words }),
  z.object({ kind: z.literal('text'), words }),
  z.object({ kind: z.literal('button'), label: z.string().min(1).max(80), target }),
])

/** The content of an email: what it says, from top to bottom. Words may hold merge fields. */
export const emailContent = z.object({
  subject: z.string().min(1).max(200),
  preheader: z.string().max(200),
  blocks: z.array(block).min(1).max(100),
})
export type EmailContent = z.infer<typeof emailContent>
export type Block = EmailContent['blocks'][number]

/** A place that an email leads to, numbered from 0 in reading order. */
export interface LetterLink {
  position: number
  label: string
  target: Target
}

/** The links of a letter. Only these may ever be redirected to. */
export function linksOf(content: EmailContent): LetterLink[] {
  return content.blocks
    .filter((each) => each.kind === 'button')
    .map((each, position) => ({ position, label: each.label, target: each.target }))
}
