import { z } from 'zod'
import { get, post } from './route.ts'
import { searchQuery } from './search.ts'

export const messageState = z.enum(['queued', 'waiting', 'sent', 'held', 'failed'])
export type MessageState = z.infer<typeof messageState>

export const outboxQuery = z.object({
  show: z.enum(['queue', 'sent', 'problems']).default('sent'),
  search: z.string().trim().max(200).default(''),
  /** Where the page begins, as the page before it said. */
  after: z.string().max(100).optional(),
  size: z.coerce.number().int().min(1).max(200).default(50),
})
export type OutboxQuery = z.infer<typeof outboxQuery>

export const outboxRow = z.object({
  id: z.number().int(),
  contact: z.object({ id: z.number().int(), name: z.string(), address: z.string() }),
  email: z.string(),
  state: messageState,
  rehearsal: z.boolean(),
  queuedAt: z.iso.datetime(),
  sentAt: z.iso.datetime().nullable(),
  attempts: z.number().int(),
  problem: z.string().nullable(),
})
export type OutboxRow = z.infer<typeof outboxRow>

/** A page of the outbox; `next` is where the following one begins. */
export const outboxList = z.object({ rows: z.array(outboxRow), next: z.string().nullable() })
export type OutboxList = z.infer<typeof outboxList>

/** What did not go out for one cause, and what somebody can do about it. */
export const outboxGroup = z.object({
  title: z.string(),
  doing: z.string(),
  again: z.boolean(),
  people: z.number().int(),
})
export type OutboxGroup = z.infer<typeof outboxGroup>

/** What waits for one moment, of one email and from one place. */
export const outboxMoment = z.object({
  /** Null for what goes as soon as it can. */
  at: z.iso.datetime().nullable(),
  email: z.string(),
  from: z.string(),
  people: z.number().int(),
  /** Until a broadcast goes on, or its test is decided. */
  waiting: z.boolean(),
})
export type OutboxMoment = z.infer<typeof outboxMoment>

export const causeRequest = z.object({ title: z.string().max(200) })

/** More than so many are not counted: they are "1,000+". */
export const mostCounted = 1_000

/** What waits, and what did not go out: up to one more than is counted. */
export const outboxCounts = z.object({ queue: z.number().int(), problems: z.number().int() })
export type OutboxCounts = z.infer<typeof outboxCounts>

/** A message that the stand-in mail server took, as it arrived. */
export const inboxMessage = z.object({
  id: z.number().int(),
  receivedAt: z.iso.datetime(),
  /** Its `Date`: on the clock of whom it went to. */
  sentAt: z.iso.datetime().optional(),
  subject: z.string(),
  from: z.string(),
  to: z.array(z.string()),
  headers: z.record(z.string(), z.string()),
  text: z.string(),
  html: z.string(),
  raw: z.string(),
})
export type InboxMessage = z.infer<typeof inboxMessage>

export const inboxMessages = z.array(inboxMessage)

export const inboxRow = inboxMessage.pick({
  id: true,
  receivedAt: true,
  sentAt: true,
  subject: true,
  to: true,
})
export type InboxRow = z.infer<typeof inboxRow>
export const inboxRows = z.array(inboxRow)

export const email = {
  outbox: get('/outbox', { query: outboxQuery, answer: outboxList }),
  outboxProblems: get('/outbox/problems', { answer: z.array(outboxGroup) }),
  outboxQueue: get('/outbox/queue', { answer: z.array(outboxMoment) }),
  cancel: post('/outbox/:id/cancel', {}),
  hurry: post('/outbox/:id/hurry', {}),
  again: post('/outbox/:id/again', {}),
  /** Everything that did not go out for a cause. */
  causeAgain: post('/outbox/again', { body: causeRequest, answer: z.object({ people: z.number().int() }) }),
  outboxCounts: get('/outbox/counts', { answer: outboxCounts }),
  inbox: get('/inbox', { query: searchQuery, answer: inboxRows }),
  message: get('/inbox/:id', { answer: inboxMessage }),
  messageHtml: get('/inbox/:id/html', {}),
} as const
