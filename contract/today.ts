import { z } from 'zod'
import { moneyIn } from './money.ts'
import { get } from './route.ts'
import { searchHits, searchQuery } from './search.ts'
import { clockStrip } from './workspace.ts'

/** What leaves in one minute from one follow-up or broadcast. */
export const departure = z.object({
  at: z.iso.datetime(),
  what: z.string(),
  from: z.string(),
  /** The screen of what it comes from; empty when there is none. */
  to: z.string(),
  people: z.number().int(),
  /** How many there are in all, of something that is on its way. */
  of: z.number().int().nullish(),
  gone: z.boolean(),
})
export type Departure = z.infer<typeof departure>

export const arrival = z.object({
  at: z.iso.datetime(),
  contact: z.number().int(),
  name: z.string(),
  address: z.string(),
  cameBy: z.string(),
  firstTag: z.string().nullable(),
})
export type Arrival = z.infer<typeof arrival>

export const needsAHand = z.object({
  what: z.string(),
  doing: z.string(),
  to: z.string(),
  /** The follow-up whose people can try again. */
  retry: z.number().int().nullable(),
})
export type NeedsAHand = z.infer<typeof needsAHand>

export const todayView = z.object({
  now: z.iso.datetime(),
  zone: z.string(),
  departures: z.array(departure),
  arrivals: z.array(arrival),
  arrivedToday: z.number().int(),
  arrived30Days: z.number().int(),
  /** Since midnight, and within 30 days; null where nothing was ever sold. */
  money: z.object({ today: moneyIn, month: moneyIn }).nullable(),
  needsAHand: z.array(needsAHand),
})
export type TodayView = z.infer<typeof todayView>

export const today = {
  view: get('/today', { answer: todayView }),
  clockStrip: get('/clock-strip', { answer: clockStrip }),
  search: get('/search', { query: searchQuery, answer: searchHits }),
} as const
