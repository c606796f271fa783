import type { Instant } from '../../../core/audience/people/activity.ts'
import { recordActivities } from '../../audience/people/activities.ts'
import type { NewActivity } from '../../audience/people/newActivity.ts'
import { setMarketingState } from '../../audience/people/contacts.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import type { ClaimedMessage } from './claimed.ts'

/** What became of a message. */
export type Ending =
  | { state: 'sent' }
  | { state: 'held' | 'failed'; reason: string; badAddress?: boolean }
  /** Tried, not taken, and tried again later. */
  | { state: 'queued'; reason: string; dueAt: Instant }
  /** Not tried: the sending rules have it go later. */
  | { state: 'moved'; reason: string; dueAt: Instant }

export interface Ended {
  message: ClaimedMessage
  ending: Ending
  /** The moment on the person's clock. */
  at: Instant
}

/** What the person's history says of it; what is tried again says nothing yet. */
function activityOf({ message, ending, at }: Ended): NewActivity[] {
  const ids = { email: message.emailId, message: message.id }
  const contact = message.contact.id
  switch (ending.state) {
    case 'sent':
      return [
        {
          contact,
          kind: 'emailSent',
          at,
          details: { ...ids, ...(message.broadcast !== null && { broadcast: message.broadcast.id }) },
        },
      ]
    case 'held':
      return [{ contact, kind: 'emailHeld', at, details: { ...ids, reason: ending.reason } }]
    case 'failed':
      return [{ contact, kind: 'emailFailed', at, details: { ...ids, reason: ending.reason } }]
    case 'queued':
      return []
    case 'moved': {
      const until = new Date(ending.dueAt).toISOString()
      return [{ contact, kind: 'emailMoved', at, details: { ...ids, until, reason: ending.reason } }]
    }
  }
}

/** Writes down what became of messages, in the transaction that has claimed them: few statements, however many. */
export async function closeMessages(q: Queries, ended: readonly Ended[], now: Instant): Promise<void> {
  if (ended.length === 0) return
  await q.rows(
    `update message set state = e.state, problem = e.problem, email_version = coalesce(email_version, e.version),
       sent_at = case when e.state = 'sent' then $5::timestamptz end,
       attempts = attempts + case when e.state = 'held' or e.moved then 0 else 1 end,
       first_tried_at = case when e.due_at is null or e.moved then first_tried_at
         else coalesce(first_tried_at, $5::timestamptz) end,
       moved_from = case when e.moved then coalesce(moved_from, message.due_at) else moved_from end,
       due_at = coalesce(e.due_at, message.due_at)
     from unnest($1::bigint[], $2::text[], $3::text[], $4::int[], $6::timestamptz[], $7::boolean[])
       e (id, state, problem, version, due_at, moved)
     where message.id = e.id`,
    [
      ended.map(({ message }) => message.id),
      ended.map(({ ending }) => (ending.state === 'moved' ? 'queued' : ending.state)),
      ended.map(({ ending }) => ('reason' in ending ? ending.reason : null)),
      ended.map(({ message, ending }) => (ending.state === 'moved' ? null : message.version)),
      new Date(now),
      ended.map(({ ending }) => ('dueAt' in ending ? new Date(ending.dueAt) : null)),
      ended.map(({ ending }) => ending.state === 'moved'),
    ],
  )
  for (const { message, ending, at } of ended)
    if (ending.state === 'failed' && ending.badAddress)
      await setMarketingState(q, message.contact.id, 'bounced', at)
  await recordActivities(q, ended.flatMap(activityOf))
  await announce(q, 'email', 'audience')
}
