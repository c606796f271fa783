import { z } from 'zod'
import type { Instant } from '../audience/people/activity.ts'
import { nowhere, target } from '../blocks/target.ts'
import { spanEnds } from '../followups/waiting.ts'
import { timeSpan } from '../followups/waitShapes.ts'
import { deadlineName } from './deadlineState.ts'

/** How far it runs from its beginning: for so long, or until a date that is the same for all. */
const runs = z.discriminatedUnion('by', [
  z.strictObject({ by: z.literal('length'), lasts: timeSpan }),
  z.strictObject({ by: z.literal('date'), at: z.iso.datetime() }),
])

/**
 * A personal deadline: a date and time that belongs to one person and one offer. Pages, prices, junctions and emails
 * speak of it by its name, which stays.
 */
export const deadline = z.strictObject({
  name: deadlineName,
  /** With the first look at a page of it, with the email that shows it, or with a step of a follow-up. */
  begins: z.enum(['visit', 'sending', 'followup']),
  /** A follow-up says itself how long. */
  runs: runs.default({ by: 'length', lasts: { amount: 3, unit: 'days' } }),
  /** Where its pages lead once it is over, and before it has begun. */
  afterwards: target.default(nowhere),
})
export type Deadline = z.infer<typeof deadline>

/** When a deadline that begins now is over, on the clocks of a zone. */
export const deadlineEnds = (of: Pick<Deadline, 'runs'>, from: Instant, zone: string): Instant =>
  of.runs.by === 'date' ? Date.parse(of.runs.at) : spanEnds(of.runs.lasts, from, zone)
