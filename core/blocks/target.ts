import { z } from 'zod'

const id = z.number().int().positive()

/** A web address that may stand in a link: nothing that a browser would run. */
export const webAddress = z
  .url({ protocol: /^(https?|mailto)$/, error: 'Use a web address such as https://example.com' })
  .max(2000)

/** Where something leads: everything that can be pressed or gone to has one of these. */
export const target = z.discriminatedUnion('to', [
  z.strictObject({ to: z.literal('nowhere') }),
  /** The step after this one in its funnel. */
  z.strictObject({ to: z.literal('nextStep') }),
  z.strictObject({ to: z.literal('page'), page: id }),
  /** A file of the Library; its link is signed for the reader. */
  z.strictObject({ to: z.literal('file'), file: id }),
  z.strictObject({ to: z.literal('web'), url: webAddress }),
  z.strictObject({ to: z.literal('popUp'), popUp: id }),
  z.strictObject({ to: z.literal('junction'), junction: id }),
  z.strictObject({ to: z.literal('quiz'), quiz: id }),
  z.strictObject({ to: z.literal('product'), product: id }),
  /** What the reader was about to buy, as they left it. */
  z.strictObject({ to: z.literal('cart') }),
  /** A named link of the Library: where it leads is set there, for all that use it. */
  z.strictObject({ to: z.literal('link'), link: id }),
  /** A path of this install, so that it survives a change of domain. */
  z.strictObject({
    to: z.literal('path'),
    path: z
      .string()
      .regex(/^\/(?![/\\])[\x21-\x7e]*$/, 'Use a path such as /p/thank-you')
      .max(500),
  }),
])
export type Target = z.infer<typeof target>
export type TargetKind = Target['to']

/** It leads nowhere yet. */
export const nowhere: Target = { to: 'nowhere' }
