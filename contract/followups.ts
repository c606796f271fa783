import { z } from 'zod'
import { outcome } from '../core/followups/enrolment.ts'
import { reentry } from '../core/followups/start.ts'
import { stepKind } from '../core/followups/step.ts'
import { get, post } from './route.ts'

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
})
export type FollowupRow = z.infer<typeof followupRow>
export const followupList = z.array(followupRow)

/** A step as the timetable shows it. */
export const stepView = z.object({
  id: z.string(),
  kind: stepKind,
  title: z.string(),
  detail: z.string(),
  /** What a sending step sends. */
  email: z.number().int().nullable(),
  /** People who stand on it now. */
  waiting: z.number().int(),
  /** How often it was decided here, by outcome. */
  outcomes: z.partialRecord(outcome, z.number().int()),
})
export type StepView = z.infer<typeof stepView>

const columnIndex = z.number().int()

export const timetableView = z.object({
  columns: z.array(z.object({ at: z.number(), label: z.string() })),
  lanes: z.array(
    z.object({
      id: z.string(),
      parent: z.string().nullable(),
      label: z.string(),
      opensAt: columnIndex,
      joinsAt: columnIndex.nullable(),
    }),
  ),
  cells: z.array(
    z.object({ step: z.string(), column: columnIndex, rank: z.number().int(), lane: z.number().int() }),
  ),
  stretches: z.array(
    z.object({ step: z.string(), lane: z.number().int(), from: columnIndex, to: columnIndex }),
  ),
})
export type TimetableView = z.infer<typeof timetableView>

export const followupView = followupRow.extend({
  zone: z.string(),
  reentry,
  page: z.object({ name: z.string(), path: z.string() }).nullable(),
  stepViews: z.array(stepView),
  timetable: timetableView,
  /** The same columns with the dates of somebody who starts now. */
  datedColumns: z.array(z.string()),
})
export type FollowupView = z.infer<typeof followupView>

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

export const rehearsalRequest = z.object({ on: z.boolean() })

/** What a jump did: the person's new time, and how many follow-ups moved on. */
export const jumpResult = z.object({ now: z.iso.datetime(), moved: z.number().int() })
export type JumpResult = z.infer<typeof jumpResult>

export const followups = {
  list: get('/followups', { answer: followupList }),
  view: get('/followups/:id', { answer: followupView }),
  retry: post('/followups/:id/retry', {}),
} as const
