import type { ActivityDetails, ActivityKind, Instant } from '../../core/audience/activity.ts'
import type { Queries } from '../database/connect.ts'
import { queueJobs } from '../jobs.ts'
import { queueScoringAfter } from './scoreJobs.ts'

/** An activity to be written down. */
export type NewActivity = {
  [K in ActivityKind]: { contact: number; kind: K; at: Instant; details: ActivityDetails<K> }
}[ActivityKind]

/** The kinds that can start a follow-up; each is looked at by a job of its own. */
const canStart: ReadonlySet<ActivityKind> = new Set(['formSent', 'tagAdded'])

/**
 * Writes down what happened, in the transaction in which it happened, together with the jobs that look
 * whether a follow-up starts by it.
 */
export async function recordActivities(q: Queries, activities: readonly NewActivity[]): Promise<void> {
  if (activities.length === 0) return
  await q.rows(
    `insert into activity (contact_id, kind, details, at)
     select * from unnest($1::bigint[], $2::text[], $3::jsonb[], $4::timestamptz[])`,
    [
      activities.map((each) => each.contact),
      activities.map((each) => each.kind),
      activities.map((each) => JSON.stringify(each.details)),
      activities.map((each) => new Date(each.at)),
    ],
  )
  const starting = activities.filter((each) => canStart.has(each.kind))
  await queueJobs(
    q,
    'startFollowups',
    starting.map(({ contact, kind, details, at }) => ({ contact, kind, details, at })),
  )
  await queueScoringAfter(q, activities)
}
