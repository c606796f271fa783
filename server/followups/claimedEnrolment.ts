import type { Instant } from '../../core/audience/people/activity.ts'
import type { Advance, Enrolment } from '../../core/followups/advance.ts'

/** An enrolment that a transaction works on, with whose it is; `clockAhead` in milliseconds. */
export interface ClaimedEnrolment extends Enrolment {
  id: number
  followup: number
  contact: number
  clockAhead: number
}

/** Columns of an enrolment as `ClaimedEnrolment`, with times as milliseconds. */
export const claimedColumns = `enrolment.id, followup_id followup, contact_id contact, step,
  contact.clock_ahead "clockAhead",
  floor(extract(epoch from started_at) * 1000)::bigint "startedAt",
  floor(extract(epoch from due_at) * 1000)::bigint "dueAt"`

/** What `advance` says of an enrolment at a moment. */
export interface PlannedAdvance {
  claimed: ClaimedEnrolment
  at: Instant
  result: Advance
}
