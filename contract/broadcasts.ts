import { z } from 'zod'
import { testMeasure } from '../core/email/splitTest.ts'
import { selection } from './audience/people.ts'
import { created, get, post } from './route.ts'

const id = z.number().int().positive()

/** The broadcasts that go out, or went, in a span of time; the last ones without. */
export const broadcastQuery = z.object({
  from: z.iso.datetime({ offset: true }).optional(),
  to: z.iso.datetime({ offset: true }).optional(),
})
export type BroadcastQuery = z.infer<typeof broadcastQuery>

/** A date and time without a zone. */
export const localTime = z.string().regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, 'Choose a date and a time')

export const moment = z.discriminatedUnion('when', [
  z.object({ when: z.literal('now') }),
  /** A local time of the business's zone, or of each reader's own. */
  z.object({ when: z.literal('at'), local: localTime, readerZone: z.boolean().default(false) }),
])
export type Moment = z.infer<typeof moment>

/** What some of the readers get in place of the email as it is; what is empty is as it is. */
export const variant = z.object({
  email: id.nullable().default(null),
  subject: z.string().trim().max(300).default(''),
  senderName: z.string().trim().max(120).default(''),
})
export type Variant = z.infer<typeof variant>

export const splitTest = z.object({
  /** What others get beside the email as it is. */
  variants: z.array(variant).min(1).max(3),
  /** Percent of all who get it. */
  share: z.number().int().min(2).max(100),
  by: testMeasure,
  afterHours: z.number().int().min(1).max(168),
  /** Decided by itself when the time is over; otherwise somebody says which one. */
  itself: z.boolean(),
})
export type SplitTest = z.infer<typeof splitTest>

/** An email to everybody who is meant and may get it. */
export const broadcastRequest = z.object({
  who: selection,
  email: id,
  /** What it is about: then only who agreed to that gets it. */
  topic: id.nullable().default(null),
  moment: moment.default({ when: 'now' }),
  test: splitTest.nullable().default(null),
})
export type BroadcastRequest = z.infer<typeof broadcastRequest>
export type BroadcastRequestInput = z.input<typeof broadcastRequest>

const leftOut = z.array(z.object({ reason: z.string(), people: z.number().int() }))
export type LeftOut = z.infer<typeof leftOut>

/** Who would get it now, and who would not and why, most first. */
export const broadcastForecast = z.object({
  gets: z.number().int(),
  leftOut,
  /** How many of them a follow-up emails within an hour of it. */
  soon: z.number().int(),
  /** For how many the local time has passed where they are: they get it at once. */
  past: z.number().int(),
  /** How many of a hundred opened what was sent to many before; null when too few have got anything. */
  openRate: z.number().nullable(),
})
export type BroadcastForecast = z.infer<typeof broadcastForecast>

/** Somebody who would get it, with the subject as they will read it. */
export const sampleReader = z.object({ id, name: z.string(), address: z.string(), subject: z.string() })
export const sampleReaders = z.array(sampleReader)
export type SampleReader = z.infer<typeof sampleReader>

export const broadcastState = z.enum([
  'planned',
  'preparing',
  'calling',
  'goingOut',
  'paused',
  'testing',
  'out',
  'stopped',
  'calledBack',
  'notSent',
])
export type BroadcastState = z.infer<typeof broadcastState>

export const variantView = z.object({
  number: z.number().int(),
  email: z.string(),
  subject: z.string(),
  senderName: z.string(),
  sent: z.number().int(),
  opened: z.number().int(),
  clicked: z.number().int(),
  signedUp: z.number().int(),
})
export type VariantView = z.infer<typeof variantView>

export const broadcastView = z.object({
  id,
  email: z.string(),
  emailId: id,
  topic: z.string().nullable(),
  /** For whom it was meant, as one reads it aloud. */
  sentence: z.string(),
  by: z.string(),
  createdAt: z.iso.datetime(),
  /** When it goes out, as it is planned or was. */
  goesAt: z.iso.datetime(),
  readerZone: z.boolean(),
  state: broadcastState,
  /** Why it was not sent, or who stopped it. */
  said: z.string(),
  queued: z.number().int(),
  sent: z.number().int(),
  opened: z.number().int(),
  clicked: z.number().int(),
  held: z.number().int(),
  failed: z.number().int(),
  leftOut,
  /** More than one when it is a test. */
  variants: z.array(variantView),
  test: z
    .object({
      share: z.number().int(),
      by: testMeasure,
      decideAt: z.iso.datetime().nullable(),
      itself: z.boolean(),
      winner: z.number().int().nullable(),
      decidedBy: z.string().nullable(),
    })
    .nullable(),
  /** The broadcast whose readers had not opened it. */
  againOf: id.nullable(),
  wasSentAgain: z.boolean(),
})
export type BroadcastView = z.infer<typeof broadcastView>
export const broadcastList = z.array(broadcastView)

export const planMove = z.object({ local: localTime })
export const decision = z.object({ variant: z.number().int().min(1).max(4) })
export const againRequest = z.object({ subject: z.string().trim().min(1, 'Write a subject').max(300) })

export const broadcasts = {
  list: get('/broadcasts', { query: broadcastQuery, answer: broadcastList }),
  view: get('/broadcasts/:id', { answer: broadcastView }),
  forecast: post('/broadcasts/forecast', { body: broadcastRequest, answer: broadcastForecast }),
  /** Ten of those who would get it. */
  sample: post('/broadcasts/sample', { body: broadcastRequest, answer: sampleReaders }),
  create: post('/broadcasts', { body: broadcastRequest, answer: created }),
  callBack: post('/broadcasts/:id/call-back', {}),
  /** Not to be called back any more: it goes out at once. */
  hurry: post('/broadcasts/:id/hurry', {}),
  pause: post('/broadcasts/:id/pause', {}),
  resume: post('/broadcasts/:id/resume', {}),
  stop: post('/broadcasts/:id/stop', {}),
  move: post('/broadcasts/:id/move', { body: planMove }),
  decide: post('/broadcasts/:id/decide', { body: decision }),
  again: post('/broadcasts/:id/again', { body: againRequest, answer: created }),
} as const
