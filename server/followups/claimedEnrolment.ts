import type { Instant } from '../../core/audience/people/activity.ts'
import type { Advance, Enrolment } from '../../core/followups/enrolment.ts'

/** An enrolment that a transaction works on, with whose it is; `clockAhead` in milliseconds. */
export interface ClaimedEnrolment extends Enrolment {
  id: number
  followup: number
  contact: number
  clockAhead: number
}

/** Columns of an enrolment as `ClaimedEnrolment`, with times as milliseconds. */
export const claimedColumns = `enrolment.id, followup_id followup, contact_id contact, step,
  contact.clock_ahead "clockAhead", session_id session, shifted,
  floor(extract(epoch from started_at) * 1000)::bigint "startedAt",
  floor(extract(epoch from due_at) * 1000)::bigint "dueAt",
  to_json(array(select message.step from message where message.enrolment_id = enrolment.id and message.step is not null)) sent`

/** What `advance` says of an enrolment at a moment. */
export interface PlannedAdvance {
  claimed: ClaimedEnrolment
  at: Instant
  result: Advance
}
