import { z } from 'zod'
import { goal, label, stations } from '../core/funnels/funnel.ts'
import { pagePurpose } from '../core/pages/page.ts'
import { archiveRequest, findingView, libraryName, thingState } from './drafts.ts'
import { followupState } from './followups.ts'
import { created, get, post } from './route.ts'

const id = z.number().int().positive()
const revision = z.number().int().positive()

export const funnelRow = z.object({
  id,
  name: z.string(),
  goal,
  labels: z.array(z.string()),
  state: thingState,
  stations: z.number().int(),
  /** Of the last 30 days: who came by its first page, and whom a form on its line took in. */
  visitors: z.number().int(),
  contacts: z.number().int(),
  /** Visitors on each of the last 14 days, oldest first. */
  trend: z.array(z.number().int()),
  changedAt: z.iso.datetime(),
})
export type FunnelRow = z.infer<typeof funnelRow>

/** A follow-up that a station starts, with the emails that it sends. */
export const hangingFollowup = z.object({
  id,
  name: z.string(),
  state: followupState,
  inside: z.number().int(),
  nextDueAt: z.iso.datetime().nullable(),
  emails: z.array(z.object({ id, name: z.string() })),
})
export type HangingFollowup = z.infer<typeof hangingFollowup>

/** A station as its diagram shows it. */
export const stationView = z.object({
  id: z.string(),
  title: z.string(),
  /** Null where it is an address elsewhere. */
  purpose: pagePurpose.nullable(),
  state: z.enum(['draft', 'live', 'archived', 'outside', 'gone']),
  page: id.nullable(),
  /** Where it is found by the public. */
  url: z.string().nullable(),
  /** A path that shows the page as it is written now. */
  preview: z.string().nullable(),
  visitors: z.number().int(),
  /** Whom a form on it took in; null where it has none. */
  contacts: z.number().int().nullable(),
  followups: z.array(hangingFollowup),
})
export type StationView = z.infer<typeof stationView>

/** Between a station and the next one. */
export const stretchView = z.object({
  here: z.number().int(),
  there: z.number().int(),
  rate: z.number(),
  low: z.number(),
  high: z.number(),
  readable: z.boolean(),
  weakest: z.string().nullable(),
})
export type StretchView = z.infer<typeof stretchView>

export const funnelSettings = z.object({
  name: libraryName,
  goal,
  labels: z.array(label).max(10),
})
export type FunnelSettings = z.infer<typeof funnelSettings>

export const funnelView = funnelSettings.extend({
  id,
  state: thingState,
  revision,
  changedAt: z.iso.datetime(),
  changedBy: z.string(),
  countedSince: z.iso.datetime().nullable(),
  line: stations,
  stations: z.array(stationView),
  stretches: z.array(stretchView),
})
export type FunnelView = z.infer<typeof funnelView>

/** The span that its numbers are of. */
export const funnelSpan = z.object({ days: z.coerce.number().int().min(1).max(365).default(30) })

export const newFunnel = funnelSettings.extend({ line: stations.default([]) })
export type NewFunnel = z.infer<typeof newFunnel>

export const funnelSave = z.object({ revision, line: stations })

export const funnels = {
  list: get('/funnels', { answer: z.array(funnelRow) }),
  create: post('/funnels', { body: newFunnel, answer: created }),
  view: get('/funnels/:id', { query: funnelSpan, answer: funnelView }),
  /** `part` is where one goes to mend it. */
  check: get('/funnels/:id/check', { answer: z.array(findingView) }),
  save: post('/funnels/:id/line', { body: funnelSave, answer: z.object({ revision }) }),
  settings: post('/funnels/:id/settings', { body: funnelSettings }),
  goLive: post('/funnels/:id/live', { body: z.object({ live: z.boolean() }) }),
  /** Leaves out of its numbers what was there until now, or takes that back. */
  countAnew: post('/funnels/:id/count-anew', { body: z.object({ anew: z.boolean() }) }),
  copy: post('/funnels/:id/copy', { answer: created }),
  archive: post('/funnels/:id/archive', { body: archiveRequest }),
  delete: post('/funnels/:id/delete', {}),
} as const
