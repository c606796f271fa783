import { z } from 'zod'

const id = z.number().int().positive()

/** A time of day, as clocks show it. */
export const clockTime = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Give a time of day, such as 09:00')

/** Whose clocks count: those of the follow-up's zone, or of the person's own where it is known. */
export const clocks = z.enum(['followup', 'person'])
export type Clocks = z.infer<typeof clocks>

/** A step keeps its id for ever: people inside a follow-up stand on it through every new version. */
export const stepId = z.string().regex(/^[a-z0-9-]{1,40}$/)

export const waitUnit = z.enum(['minutes', 'hours', 'days', 'weeks'])
export type WaitUnit = z.infer<typeof waitUnit>

/** Milliseconds of a unit when no day is longer than another: for drawing and limits, never for running. */
export const nominalUnit: Readonly<Record<WaitUnit, number>> = {
  minutes: 60_000,
  hours: 3_600_000,
  days: 86_400_000,
  weeks: 604_800_000,
}

/** Nobody remembers after more what they are in. */
const longestWait = 731 * nominalUnit.days

const span = { amount: z.number().int().min(1, 'A wait is at least 1'), unit: waitUnit }
const isShort = ({ amount, unit }: { amount: number; unit: WaitUnit }): boolean =>
  amount * nominalUnit[unit] <= longestWait
const tooLong = 'A wait can last two years at most'

/** A length of time. */
export const timeSpan = z.object(span).refine(isShort, tooLong)
export type TimeSpan = z.infer<typeof timeSpan>

/** Minutes and hours are exact; days and weeks keep the time on the wall. */
export const waitFor = z
  .object({ kind: z.literal('waitFor'), id: stepId, ...span, clocks: clocks.optional() })
  .refine(isShort, tooLong)

/** Until so many days after the start, whatever came between. */
export const waitDay = z.object({
  kind: z.literal('waitDay'),
  id: stepId,
  day: z.number().int().min(0).max(731, tooLong),
  /** The time of the start when missing. */
  time: clockTime.optional(),
  clocks: clocks.optional(),
})

/** Until the next moment in a window; who is in it goes on at once. From after to: over midnight. */
export const waitTime = z.object({
  kind: z.literal('waitTime'),
  id: stepId,
  /** 1 is Monday, 7 Sunday. */
  weekdays: z.array(z.number().int().min(1).max(7)).min(1, 'Choose at least one day').max(7),
  from: clockTime,
  to: clockTime,
  clocks: clocks.optional(),
})

/** Until a date and time on the clocks of the follow-up's zone. */
export const waitDate = z.object({
  kind: z.literal('waitDate'),
  id: stepId,
  date: z.iso.date(),
  time: clockTime,
  past: z.enum(['goOn', 'leave']),
})

/** Relative to a moment of theirs. */
export const waitRelative = z.object({
  kind: z.literal('waitRelative'),
  id: stepId,
  to: z.discriminatedUnion('what', [
    /** The session that the start spoke of. */
    z.object({ what: z.literal('session') }),
    /** An own field that is a date. */
    z.object({ what: z.literal('field'), field: id, time: clockTime }),
    /** A personal deadline, by the offer's name. */
    z.object({ what: z.literal('deadline'), offer: z.string().trim().min(1).max(80) }),
  ]),
  amount: z.number().int().min(0).max(1000),
  unit: waitUnit,
  side: z.enum(['before', 'after']),
  /** When its moment has passed: the steps up to the next wait are skipped, or they go on. */
  past: z.enum(['skip', 'goOn']),
})

export type WaitDay = z.infer<typeof waitDay>
export type WaitTime = z.infer<typeof waitTime>
export type WaitRelative = z.infer<typeof waitRelative>
