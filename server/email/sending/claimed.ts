import type { Instant } from '../../../core/audience/people/activity.ts'
import type { FieldValue } from '../../../core/audience/describing/field.ts'
import type { MarketingState, Purpose } from '../../../core/audience/people/permission.ts'
import type { Condition } from '../../../core/audience/segments/condition.ts'
import type { Mailbox } from '../mime/headers.ts'
import type { Queries } from '../../database/connect.ts'

/** A message that this worker has, with whom it is for. */
export interface ClaimedMessage {
  id: number
  emailId: number
  /** The version that goes out; null while nothing of the email is published. */
  version: number | null
  purpose: Purpose
  attempts: number
  /** Somebody wants it out at once, whatever the sending rules say. */
  hurried: boolean
  /** What becomes of it when the sending rules have no place for it now. */
  whenFull: 'move' | 'skip'
  firstTriedAt: Instant | null
  broadcast: { id: number; stoppedBy: string | null } | null
  /** What the variant of the broadcast that they get has in place of the email's own. */
  subject: string | null
  senderName: string | null
  /** They still want what it is about. */
  agreed: boolean
  contact: {
    id: number
    address: string
    firstName: string
    lastName: string
    rehearsal: boolean
    marketingState: MarketingState
    clockAhead: number
    pausedUntil: Instant | null
    zone: string | null
    /** They do not want their opens and clicks counted. */
    untracked: boolean
    fields: Readonly<Record<number, FieldValue>>
  }
}

/** A published version of an email, as messages are made of it. */
export interface SendableVersion {
  emailId: number
  version: number
  subject: string
  html: string | null
  text: string
  replyTo: string
  /** From whom it comes; the usual sender of the business when null. */
  sender: Mailbox | null
  tracked: boolean
  links: number[]
  conditions: Condition[]
}

/**
 * Takes messages that are due, the most urgent first; other workers take others. They are this transaction's until it
 * ends, however it ends: a worker that is killed holds nothing. People are held before what is theirs, see
 * `contactById`, so that nobody is erased while their message is on its way.
 */
export async function claimMessages(q: Queries, now: Instant, most: number): Promise<ClaimedMessage[]> {
  const due = await q.rows<{ id: number }>(
    `select due.id from unnest('{0,1,2}'::smallint[]) of_priority
     cross join lateral (
       select message.id from message join contact on contact.id = contact_id
       where (message.state = 'queued') is true and priority = of_priority and due_at <= $1
       order by due_at, message.id limit $2
       for update of message skip locked for key share of contact skip locked) due
     limit $2`,
    [new Date(now), most],
  )
  if (due.length === 0) return []
  return q.rows<ClaimedMessage>(
    `select message.id, message.email_id "emailId", coalesce(email_version, email.published_version) version,
       message.purpose, attempts, hurried, when_full "whenFull", floor(extract(epoch from first_tried_at) * 1000)::bigint "firstTriedAt",
       case when broadcast.id is not null
         then json_build_object('id', broadcast.id, 'stoppedBy', broadcast.stopped_by) end broadcast,
       variant.subject, variant.sender_name "senderName",
       message.topic_id is null or exists (select from contact_topic
         where contact_id = contact.id and topic_id = message.topic_id and agreed) agreed,
       json_build_object('id', contact.id, 'address', contact.address, 'firstName', contact.first_name,
         'lastName', contact.last_name, 'rehearsal', contact.rehearsal,
         'marketingState', contact.marketing_state, 'clockAhead', contact.clock_ahead,
         'pausedUntil', extract(epoch from contact.paused_until) * 1000, 'zone', contact.zone, 'untracked', contact.untracked,
         'fields', contact.fields) contact
     from message join contact on contact.id = contact_id join email on email.id = message.email_id
       left join broadcast on broadcast.id = message.broadcast_id
       left join broadcast_variant variant on variant.broadcast_id = message.broadcast_id
         and variant.number = message.variant
     where message.id = any($1) order by priority, due_at, message.id`,
    [due.map(({ id }) => id)],
  )
}

/** The versions that these messages are made of. What has no template is a draft still. */
export function loadVersions(q: Queries, messages: readonly ClaimedMessage[]): Promise<SendableVersion[]> {
  const wanted = new Map(
    messages.flatMap(({ emailId, version }) =>
      version === null ? [] : [[`${emailId} ${version}`, [emailId, version] as const]],
    ),
  )
  const pairs = [...wanted.values()]
  if (pairs.length === 0) return Promise.resolve([])
  return q.rows<SendableVersion>(
    `select email_id "emailId", number version, subject_template subject, html_template html, text_template "text",
       coalesce(content->>'replyTo', '') "replyTo",
       (select json_build_object('name', name, 'address', address) from sender
         where id = (content->>'sender')::bigint and confirmed_at is not null) sender, coalesce((content->>'tracked')::boolean, true) tracked,
       to_json(links) links, conditions
     from email_version join unnest($1::bigint[], $2::int[]) wanted (email, version)
       on email_id = wanted.email and number = wanted.version
     where html_template is not null or text_template is not null`,
    [pairs.map(([email]) => email), pairs.map(([, version]) => version)],
  )
}
