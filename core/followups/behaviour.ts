import { z } from 'zod'
import { trigger } from './trigger.ts'
import { timeSpan } from './waitShapes.ts'

const percent = z.number().int().min(0).max(100)

/** Something a rehearsed person does by themselves. */
export const deed = z.object({
  does: trigger,
  /** So long after the start, or after the nth email that they get. */
  after: z.discriminatedUnion('what', [
    z.object({ what: z.literal('start'), span: timeSpan }),
    z.object({ what: z.literal('email'), nth: z.number().int().min(1).max(500), span: timeSpan }),
  ]),
})
export type Deed = z.infer<typeof deed>

/** How a rehearsed person behaves. */
export const behaviour = z.object({
  /** Of a hundred emails, how many they open; of a hundred that they open, in how many they click. */
  opens: percent,
  clicks: percent,
  /** Minutes from an email to its opening, and from there to the click. */
  opensAfter: z.number().int().min(1).max(100_000).default(120),
  does: z.array(deed).max(30).default([]),
})
export type Behaviour = z.infer<typeof behaviour>
