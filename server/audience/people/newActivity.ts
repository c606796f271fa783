import type { ActivityDetails, ActivityKind, Instant } from '../../../core/audience/people/activity.ts'

/** An activity to be written down. */
export type NewActivity = {
  [K in ActivityKind]: { contact: number; kind: K; at: Instant; details: ActivityDetails<K> }
}[ActivityKind]
