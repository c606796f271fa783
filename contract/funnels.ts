import { z } from 'zod'
import { emailContent } from '../core/email/email.ts'
import { program } from '../core/followups/program.ts'
import { funnelProgress } from '../core/funnels/checklist.ts'
import { funnelMend } from '../core/funnels/finding.ts'
import { goal, label, stations } from '../core/funnels/funnel.ts'
import { funnelSettings } from '../core/funnels/settings.ts'
import { pageContent, pagePath, pagePurpose } from '../core/pages/page.ts'
import { archiveRequest, draftPlace, findingView, libraryName, thingState } from './drafts.ts'
import { followupState } from './followups.ts'
import { moneyIn } from './money.ts'
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
  /** What was bought on its pages in these days; null where nothing was. */
  money: moneyIn.nullable(),
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

/** A page on a track of a station, with what it has counted. */
const track = {
  title: z.string(),
  /** Null where it is an address elsewhere. */
  purpose: pagePurpose.nullable(),
  state: z.enum(['draft', 'live', 'archived', 'outside', 'gone']),
  page: id.nullable(),
  /** The junction that it is; null for all else. */
  junction: id.nullable(),
  /** The quiz that it is. */
  quiz: id.nullable(),
  /** Where it is found by the public. */
  url: z.string().nullable(),
  /** A path that shows the page as it is written now. */
  preview: z.string().nullable(),
  visitors: z.number().int(),
  /** Whom a form on it took in; null where it has none. */
  contacts: z.number().int().nullable(),
}

/** A station as its diagram shows it. */
export const stationView = z.object({
  id: z.string(),
  ...track,
  /** The other page that shares its visitors. */
  other: z.object({ ...track, share: z.number().int() }).nullable(),
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

/** What a funnel is called, what it is for, and by what it is found. */
const about = { name: libraryName, goal, labels: z.array(label).max(10) }

export const funnelEdit = z.object({ ...about, revision, settings: funnelSettings })
export type FunnelEdit = z.infer<typeof funnelEdit>

export const funnelView = funnelEdit.extend({
  id,
  state: thingState,
  /** People in rehearsal may see its pages, and nobody else. */
  rehearsing: z.boolean(),
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

/** What the check says, what puts it right, and who has accepted it. `part` is where one goes to mend it by hand. */
export const funnelCheck = z.array(
  findingView.extend({
    mend: funnelMend.optional(),
    accepted: z.object({ by: z.string(), why: z.string(), at: z.iso.datetime() }).nullable(),
  }),
)
export type FunnelCheck = z.infer<typeof funnelCheck>

/** What was changed, and as it was before; its draft is saved over with that to undo it. */
export const mended = z.discriminatedUnion('thing', [
  z.object({ thing: z.literal('page'), id, ...draftPlace, before: pageContent }),
  z.object({ thing: z.literal('email'), id, ...draftPlace, before: emailContent }),
  z.object({ thing: z.literal('followup'), id, ...draftPlace, before: program }),
  z.object({ thing: z.literal('line'), id, revision, before: stations }),
  /** An email was published: that stays. */
  z.object({ thing: z.literal('none') }),
])
export type Mended = z.infer<typeof mended>

/** Takes a finding as it is, with a reason; without one it is a finding again. */
export const acceptRequest = z.object({
  words: z.string().max(1_000),
  why: z.string().trim().max(300).nullable(),
})

/** Begins a funnel by a starter. */
export const newFunnel = z.object({
  ...about,
  starter: z.string().max(40),
  /** The first part of the addresses of its pages. */
  path: pagePath,
  currency: funnelSettings.shape.currency,
  /** Of a starter that needs one. */
  opens: z.iso.date().nullable().default(null),
  /** Pages that there are already, for one that starts with nothing. */
  line: stations.default([]),
})
export type NewFunnel = z.infer<typeof newFunnel>

/** A copy with pages, forms, emails and follow-ups of its own, or another line through the same pages. */
export const funnelCopy = z.object({
  name: libraryName,
  path: pagePath.nullable(),
  whole: z.boolean(),
  tags: z.enum(['shared', 'new']),
})
export type FunnelCopy = z.infer<typeof funnelCopy>

export const funnelSave = z.object({ revision, line: stations })

export const funnels = {
  list: get('/funnels', { answer: z.array(funnelRow) }),
  create: post('/funnels', { body: newFunnel, answer: created }),
  view: get('/funnels/:id', { query: funnelSpan, answer: funnelView }),
  check: get('/funnels/:id/check', { answer: funnelCheck }),
  /** Puts right what one press can; with what undoes it. */
  mend: post('/funnels/:id/mend', { body: funnelMend, answer: mended }),
  accept: post('/funnels/:id/accept', { body: acceptRequest }),
  progress: get('/funnels/:id/progress', { answer: funnelProgress }),
  /** The file that the funnel gives away, put wherever something waits for it. */
  giveFile: post('/funnels/:id/give-file', { body: z.object({ file: id }) }),
  save: post('/funnels/:id/line', { body: funnelSave, answer: z.object({ revision }) }),
  settings: post('/funnels/:id/settings', { body: funnelEdit, answer: z.object({ revision }) }),
  /** For whom it is open; all of it that is a draft is published with it. */
  open: post('/funnels/:id/open', { body: z.object({ to: z.enum(['nobody', 'rehearsal', 'everybody']) }) }),
  /** Leaves out of its numbers what was there until now, or takes that back. */
  countAnew: post('/funnels/:id/count-anew', { body: z.object({ anew: z.boolean() }) }),
  copy: post('/funnels/:id/copy', { body: funnelCopy, answer: created }),
  /** The funnel with all that belongs to it, as one JSON file. */
  export: get('/funnels/:id/funnel.json', {
    query: z.object({ media: z.enum(['yes', 'no']).default('yes') }),
  }),
  /** The body is such a file. */
  import: post('/funnels/import', {
    query: z.object({ name: libraryName.optional(), tags: z.enum(['shared', 'new']).default('shared') }),
    answer: created,
  }),
  archive: post('/funnels/:id/archive', { body: archiveRequest }),
  delete: post('/funnels/:id/delete', {}),
} as const
