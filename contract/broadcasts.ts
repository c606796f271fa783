import { z } from 'zod'
import { selection } from './audience/people.ts'

const id = z.number().int().positive()

/** An email to everybody who is meant and may get it. */
export const broadcastRequest = z.object({
  who: selection,
  email: id,
  /** What it is about: then only who agreed to that gets it. */
  topic: id.nullable().default(null),
})
export type BroadcastRequest = z.infer<typeof broadcastRequest>

const leftOut = z.array(z.object({ reason: z.string(), people: z.number().int() }))
export type LeftOut = z.infer<typeof leftOut>

/** Who would get it now, and who would not and why, most first. */
export const broadcastForecast = z.object({ gets: z.number().int(), leftOut })
export type BroadcastForecast = z.infer<typeof broadcastForecast>

export const broadcastState = z.enum(['preparing', 'goingOut', 'out', 'stopped', 'notSent'])
export type BroadcastState = z.infer<typeof broadcastState>

export const broadcastView = z.object({
  id,
  email: z.string(),
  topic: z.string().nullable(),
  /** For whom it was meant, as one reads it aloud. */
  sentence: z.string(),
  by: z.string(),
  createdAt: z.iso.datetime(),
  state: broadcastState,
  /** Why it was not sent, or who stopped it. */
  said: z.string(),
  queued: z.number().int(),
  sent: z.number().int(),
  held: z.number().int(),
  failed: z.number().int(),
  leftOut,
})
export type BroadcastView = z.infer<typeof broadcastView>
export const broadcastList = z.array(broadcastView)
