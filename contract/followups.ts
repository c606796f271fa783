import { z } from 'zod'
import { fieldValue } from '../core/audience/describing/field.ts'
import { marketingState } from '../core/audience/people/permission.ts'
import { builtInField, condition } from '../core/audience/segments/condition.ts'
import { outcome } from '../core/followups/enrolment.ts'
import { mend } from '../core/followups/finding.ts'
import { program } from '../core/followups/program.ts'
import { draftPlace, draftState, draftView, findingView, libraryName, saveOf } from './drafts.ts'
import { created, get, post } from './route.ts'

const id = z.number().int().positive()

export const followupState = z.enum(['draft', 'live', 'paused', 'closing', 'archived'])
export type FollowupState = z.infer<typeof followupState>

export const followupRow = z.object({
  id: z.number().int(),
  name: z.string(),
  state: followupState,
  startsWhen: z.array(z.string()),
  steps: z.number().int(),
  inside: z.number().int(),
  finished: z.number().int(),
  nextDueAt: z.iso.datetime().nullable(),
  /** Something was changed that is not live yet. */
  hasDraft: z.boolean(),
})
export type FollowupRow = z.infer<typeof followupRow>
export const followupList = z.array(followupRow)

/** What is said after each save; a finding may come with what puts it right. */
const findings = z.array(findingView.extend({ mend: mend.optional() }))
export const followupDraft = draftState.extend({ findings })
export type FollowupDraft = z.infer<typeof followupDraft>

/** A follow-up as its editor opens it. */
export const followupView = draftView.omit({ usedIn: true, state: true }).extend({
  state: followupState,
  findings,
  content: program,
  /** What runs; null while it was never live. */
  live: program.nullable(),
  /** Pages that let people in. */
  pages: z.array(z.object({ name: z.string(), path: z.string() })),
  webhookSecret: z.string(),
})
export type FollowupView = z.infer<typeof followupView>

/** What became of people at each step, and who stands there; nobody in rehearsal counts. */
export const stepNumbers = z.object({
  step: z.string(),
  waiting: z.number().int(),
  /** How often it was decided here, by outcome. */
  outcomes: z.partialRecord(outcome, z.number().int()),
  opened: z.number().int(),
  clicked: z.number().int(),
  /** Why it was skipped, the most frequent reasons first. */
  skippedBecause: z.array(z.object({ reason: z.string(), times: z.number().int() })),
})
export type StepNumbers = z.infer<typeof stepNumbers>

export const followupNumbers = z.object({
  steps: z.array(stepNumbers),
  inside: z.number().int(),
  finished: z.number().int(),
  /** Came in on each of the last days, oldest first. */
  arrivals: z.array(z.object({ day: z.string(), people: z.number().int() })),
  /** Came to the end of their lane, of those who left. */
  completed: z.number().int(),
  /** Half of those who left were through in so many milliseconds. */
  medianTime: z.number().nullable(),
  /** Bought something after they had come in. */
  orders: z.number().int(),
})
export type FollowupNumbers = z.infer<typeof followupNumbers>

/** Begins a new one: empty, or from a starting point. */
export const newFollowup = z.object({
  name: libraryName,
  starter: z.string().max(60).optional(),
  content: program.optional(),
})

/** Makes the draft live; emails among them that are drafts go live with it. */
export const goLive = z.object({
  ...draftPlace,
  publish: z.array(id).max(300).default([]),
  /** How those who were held by a pause go on. */
  resume: z.enum(['catchUp', 'shift']).optional(),
})
export type GoLive = z.infer<typeof goLive>

/** What becomes of those inside, step by step; `to` is null for those who leave. */
export const goingLivePreview = z.array(
  z.object({ step: z.string(), people: z.number().int(), to: z.string().nullable(), stays: z.boolean() }),
)
export type GoingLivePreview = z.infer<typeof goingLivePreview>

export const stateChange = z.discriminatedUnion('do', [
  z.object({ do: z.literal('pause') }),
  z.object({ do: z.literal('resume'), how: z.enum(['catchUp', 'shift']) }),
  z.object({ do: z.literal('close') }),
  z.object({ do: z.literal('reopen') }),
  z.object({ do: z.literal('archive') }),
  z.object({ do: z.literal('unarchive') }),
])
export type StateChange = z.infer<typeof stateChange>

export const insideQuery = z.object({
  step: z.string().max(40).optional(),
  search: z.string().max(200).default(''),
  after: z.string().max(100).optional(),
  size: z.coerce.number().int().min(1).max(200).default(50),
})
export type InsideQuery = z.infer<typeof insideQuery>

export const insideList = z.object({
  rows: z.array(
    z.object({
      enrolment: z.number().int(),
      contact: z.number().int(),
      name: z.string(),
      address: z.string(),
      rehearsal: z.boolean(),
      step: z.string(),
      startedAt: z.iso.datetime(),
      dueAt: z.iso.datetime().nullable(),
      /** Why their step could not be worked out. */
      setAside: z.string().nullable(),
    }),
  ),
  next: z.string().nullable(),
})
export type InsideList = z.infer<typeof insideList>

/** Moves people on by hand, or takes them out. */
export const movePeople = z.object({
  who: z.union([
    z.object({ people: z.array(id).min(1).max(10_000) }),
    z.object({ step: z.string().max(40) }),
  ]),
  to: z.discriminatedUnion('where', [
    z.object({ where: z.literal('next') }),
    z.object({ where: z.literal('step'), step: z.string().max(40) }),
    z.object({ where: z.literal('out') }),
  ]),
})
export type MovePeople = z.infer<typeof movePeople>

export const journalList = z.object({
  rows: z.array(
    z.object({
      id: z.number().int(),
      at: z.iso.datetime(),
      contact: z.number().int(),
      name: z.string(),
      step: z.string().nullable(),
      outcome,
      reason: z.string(),
    }),
  ),
  next: z.string().nullable(),
})
export type JournalList = z.infer<typeof journalList>

export const enrolmentView = z.object({
  id: z.number().int(),
  followup: z.object({ id: z.number().int(), name: z.string() }),
  startedAt: z.iso.datetime(),
  endedAt: z.iso.datetime().nullable(),
  dueAt: z.iso.datetime().nullable(),
  /** What would go out then, if nothing changed until then. */
  next: z.string().nullable(),
})
export type EnrolmentView = z.infer<typeof enrolmentView>

export const enrolmentViews = z.array(enrolmentView)

/** What a rehearsal in the browser needs besides the draft: the follow-ups that run, and what is known of somebody. */
export const rehearsalMaterial = z.object({
  followups: z.array(z.object({ id: z.number().int(), name: z.string(), program })),
  emails: z.record(
    z.string(),
    z.object({ purpose: z.enum(['transactional', 'marketing']), sells: z.boolean() }),
  ),
  segments: z.record(z.string(), condition),
  /** What is known of the person who was asked for. */
  known: z
    .object({
      marketing: marketingState,
      tags: z.array(z.number().int()),
      topics: z.array(z.number().int()),
      fields: z.record(z.string(), fieldValue),
      builtIn: z.partialRecord(builtInField, z.string()),
    })
    .nullable(),
  now: z.iso.datetime(),
  /** How people of this list behave, of a hundred, where enough is known. */
  usual: z.object({ opens: z.number(), clicks: z.number() }).nullable(),
})
export type RehearsalMaterial = z.infer<typeof rehearsalMaterial>

/** Begins anew with somebody in rehearsal: as one who has agreed to marketing email, or whom nobody has asked. */
export const startOverRequest = z.object({ agreed: z.boolean().default(false) }).default({ agreed: false })

export const rehearsalRequest = z.object({ on: z.boolean() })

/** How far a rehearsal person's clock goes: to what is due next, and no further than `until`. */
export const jumpRequest = z.object({ until: z.iso.datetime({ offset: true }).optional() }).default({})
export type JumpRequest = z.infer<typeof jumpRequest>

/** What a jump did: the person's new time, how many follow-ups moved on, and whether `until` has come. */
export const jumpResult = z.object({
  now: z.iso.datetime(),
  moved: z.number().int(),
  arrived: z.boolean(),
})
export type JumpResult = z.infer<typeof jumpResult>

/** What somebody in rehearsal has before them: their mail, and the pages as they come to them. */
export const rehearsalStage = z.object({
  /** In the test inbox, newest first, with the moment on their own clock. */
  mail: z.array(z.object({ id: z.number().int(), subject: z.string(), at: z.iso.datetime() })),
  /** Why there is no mail to show; the rest of the stage goes on. */
  mailProblem: z.string().nullable(),
  pages: z.array(z.object({ name: z.string(), url: z.string() })),
})
export type RehearsalStage = z.infer<typeof rehearsalStage>

export const followups = {
  list: get('/followups', { answer: followupList }),
  view: get('/followups/:id', { answer: followupView }),
  create: post('/followups', { body: newFollowup, answer: created }),
  rename: post('/followups/:id/rename', { body: z.object({ name: libraryName }) }),
  save: post('/followups/:id/draft', { body: saveOf(program), answer: followupDraft }),
  goBack: post('/followups/:id/go-back', { body: z.object({ version: id }) }),
  copy: post('/followups/:id/copy', { answer: created }),
  delete: post('/followups/:id/delete', {}),
  goingLive: get('/followups/:id/going-live', { answer: goingLivePreview }),
  goLive: post('/followups/:id/go-live', { body: goLive }),
  changeState: post('/followups/:id/state', { body: stateChange }),
  numbers: get('/followups/:id/numbers', { answer: followupNumbers }),
  inside: get('/followups/:id/people', { query: insideQuery, answer: insideList }),
  move: post('/followups/:id/people/move', {
    body: movePeople,
    answer: z.object({ moved: z.number().int() }),
  }),
  journal: get('/followups/:id/journal', {
    query: z.object({ after: z.coerce.number().int().positive().optional() }),
    answer: journalList,
  }),
  rehearsal: get('/followups/:id/rehearsal', {
    query: z.object({ person: z.coerce.number().int().positive().optional() }),
    answer: rehearsalMaterial,
  }),
} as const
