import { z } from 'zod'

/** What a shared detail says, without its name: set in one place, and used in pages and emails as a merge field. */
export const detailContent = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('text'), text: z.string().trim().min(1, 'Write what it says').max(300) }),
  /** Of several lines. */
  z.strictObject({
    kind: z.literal('address'),
    text: z.string().trim().min(1, 'Write the address').max(500),
  }),
  z.strictObject({
    kind: z.literal('moment'),
    local: z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'Choose a date and a time'),
    /** Where that is the time. */
    zone: z.string().min(1, 'Choose a time zone').max(60),
  }),
  z.strictObject({
    kind: z.literal('picture'),
    picture: z.number().int().positive(),
    /** What it shows, for who does not see it. */
    alt: z.string().trim().min(1, 'Say what the picture shows').max(300),
  }),
])
export type DetailContent = z.infer<typeof detailContent>
export type DetailKind = DetailContent['kind']

/** A name can stand in a text in braces. */
export const detailName = z
  .string()
  .trim()
  .min(1, 'Give it a name')
  .max(60, 'Use 60 letters at most')
  .regex(/^[^{}"']*$/, 'Leave out braces and quotation marks')
  .refine(
    (name) => !/\s(as|or)\s/i.test(` ${name} `),
    'Leave out the words “as” and “or”: they have a meaning beside a name',
  )

/** A detail as documents are drawn with it; a moment as what it is on the clock of the world (ms). */
export type SharedDetail = { id: number; name: string; formerNames: readonly string[] } & (
  Exclude<DetailContent, { kind: 'moment' }> | { kind: 'moment'; at: number; zone: string }
)
