import { z } from 'zod'
import type { ActivityKind } from '../audience/people/activity.ts'
import { trigger } from './trigger.ts'
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
/** The kind of activity by which a rule of this kind starts; none when it is looked at by itself. */
export function startingActivity(kind: StartKind): ActivityKind | null {
  switch (kind) {
    case 'dateComes':
    case 'segmentEntered':
      return null
    case 'fieldChanged':
      return 'contactChanged'
    case 'imported':
      return 'contactAdded'
    default:
      return kind
  }
}
export type DateComes = Extract<StartRule, { kind: 'dateComes' }>

/** How often one person may come in. */
export const reentry = z.enum(['never', 'afterLeaving', 'afterDays', 'always'])
export type Reentry = z.infer<typeof reentry>

/** Days to keep apart for `afterDays`, when nothing else is said. */
export const usualReentryDays = 90
