import { z } from 'zod'
import { trigger, type Trigger } from './trigger.ts'
import { clockTime } from './waitShapes.ts'

const id = z.number().int().positive()

/** What lets people into a follow-up. */
export const startRule = z.discriminatedUnion('kind', [
  ...trigger.options,
  /** A date of theirs comes: on that day, or some days before or after it, every year or just once. */
  z.object({
    kind: z.literal('dateComes'),
    field: id,
    days: z.number().int().min(0).max(366).default(0),
    side: z.enum(['before', 'after']).default('before'),
    every: z.enum(['year', 'once']).default('year'),
    time: clockTime.default('09:00'),
  }),
  /** They come to belong to a segment; who belongs to it already when the follow-up goes live does not count. */
  z.object({ kind: z.literal('segmentEntered'), segment: id }),
])
export type StartRule = z.infer<typeof startRule>
export type StartKind = StartRule['kind']
/** Is it something that happens at a moment? The others are looked for by themselves. */
export const isTrigger = (rule: StartRule): rule is Trigger =>
  rule.kind !== 'dateComes' && rule.kind !== 'segmentEntered'

export type DateComes = Extract<StartRule, { kind: 'dateComes' }>

/** How often one person may come in. */
export const reentry = z.enum(['never', 'afterLeaving', 'afterDays', 'always'])
export type Reentry = z.infer<typeof reentry>

/** Days to keep apart for `afterDays`, when nothing else is said. */
export const usualReentryDays = 90
