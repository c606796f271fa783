import type { Instant } from '../../core/audience/people/activity.ts'
import { mayReceive, type MarketingState, type Purpose } from '../../core/audience/people/permission.ts'
import { recordActivities, type NewActivity } from '../audience/people/activities.ts'
import { personNow, setMarketingState } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { compose, type Outgoing } from './compose.ts'
import { readRefusal, type Transports } from './transport.ts'

type Queued = Omit<Outgoing, 'email'> & {
  /** Null while nothing of it is published. */
  email: Outgoing['email'] | null
  emailId: number
  purpose: Purpose
  /** The broadcast that it is of, and who stopped that. */
  broadcast: { id: number; stoppedBy: string | null } | null
  /** They still want what it is about. */
  agreed: boolean
  contact: Outgoing['contact'] & {
    marketingState: MarketingState
    clockAhead: number
    pausedUntil: number | null
  }
}

/** The message when it still waits to be sent. */
function queuedMessage(q: Queries, id: number): Promise<Queued | undefined> {
  return q.row<Queued>(
    `select message.id, message.purpose, message.email_id "emailId",
       case when broadcast.id is not null
         then json_build_object('id', broadcast.id, 'stoppedBy', broadcast.stopped_by) end broadcast,
       message.topic_id is null or exists (select from contact_topic
         where contact_id = contact.id and topic_id = message.topic_id and agreed) agreed,
       case when version.html_template is not null or version.text_template is not null then
         json_build_object('id', email.id, 'version', version.number,
           'subject', version.subject_template, 'html', version.html_template, 'text', version.text_template,
           'replyTo', coalesce(version.content->>'replyTo', ''), 'links', to_json(version.links),
           'conditions', version.conditions) end email,
       json_build_object('id', contact.id, 'address', contact.address, 'firstName', contact.first_name,
         'lastName', contact.last_name, 'rehearsal', contact.rehearsal,
         'marketingState', contact.marketing_state,
         'pausedUntil', extract(epoch from contact.paused_until) * 1000, 'clockAhead', contact.clock_ahead) contact,
       (select json_build_object('name', name, 'postalAddress', postal_address, 'senderName', sender_name,
         'senderAddress', sender_address) from business) business
     from message join email on email.id = message.email_id join contact on contact.id = contact_id
       left join email_version version on version.email_id = email.id
         and version.number = coalesce(message.email_version, email.published_version)
       left join broadcast on broadcast.id = broadcast_id
     where message.id = $1 and message.state = 'queued'`,
    [id],
  )
}

/** A worker that has not come back for so long was killed, and another one takes its message. */
const takenFor = '2 minutes'

/**
 * Takes a message for sending, so that no other worker sends it at the same time.
 * @throws when another one has it now; the queue tries again, and finds it sent
 */
async function take(q: Queries, id: number): Promise<void> {
  const taken = await q.row(
    `update message set taken_at = now() where id = $1 and state = 'queued'
       and (taken_at is null or taken_at < now() - interval '${takenFor}') returning id`,
    [id],
  )
  if (!taken) throw new Error('another worker is sending this message')
}

type Ending = { state: 'sent' } | { state: 'held' | 'failed'; reason: string; badAddress?: boolean }

async function close(platform: Platform, out: Queued, ending: Ending, at: Instant): Promise<void> {
  const ids = { email: out.emailId, message: out.id }
  const contact = out.contact.id
  const activity: NewActivity =
    ending.state === 'sent'
      ? {
          contact,
          kind: 'emailSent',
          at,
          details: { ...ids, ...(out.broadcast && { broadcast: out.broadcast.id }) },
        }
      : {
          contact,
          kind: ending.state === 'held' ? 'emailHeld' : 'emailFailed',
          at,
          details: { ...ids, reason: ending.reason },
        }
  await platform.database.inTransaction(async (tx) => {
    const closed = await tx.row(
      `update message set state = $2, sent_at = $3, problem = $4, attempts = attempts + 1,
         email_version = coalesce($5, email_version)
       where id = $1 and state = 'queued' returning id`,
      [
        out.id,
        ending.state,
        ending.state === 'sent' ? new Date(platform.clock.now()) : null,
        ending.state === 'sent' ? null : ending.reason,
        out.email?.version ?? null,
      ],
    )
    if (!closed) return
    if (ending.state === 'failed' && ending.badAddress) await setMarketingState(tx, contact, 'bounced', at)
    await recordActivities(tx, [activity])
    await announce(tx, 'email', 'audience')
  })
}

function mayLeave(out: Queued, at: Instant): { allowed: boolean; reason: string } {
  const stoppedBy = out.broadcast?.stoppedBy
  if (stoppedBy) return { allowed: false, reason: `${stoppedBy} stopped the broadcast` }
  const { marketingState: state, pausedUntil } = out.contact
  return mayReceive(out.purpose, { state, paused: (pausedUntil ?? 0) > at, agreed: out.agreed })
}

/**
 * Sends one message: the work of the job `sendMessage`. Looks again whether it may go, since a person can
 * unsubscribe between the decision and the sending.
 * @throws when the mail server cannot take it now; the queue tries again later, each time after a longer pause
 */
export async function sendMessage(platform: Platform, transports: Transports, id: number): Promise<void> {
  const out = await queuedMessage(platform.database, id)
  if (!out) return
  const at = personNow(platform.clock, out.contact)
  const mayGo = mayLeave(out, at)
  if (!mayGo.allowed) return close(platform, out, { state: 'held', reason: mayGo.reason }, at)

  const { email } = out
  if (!email)
    return close(platform, out, { state: 'held', reason: 'the email is a draft: publish it first' }, at)

  await take(platform.database, id)
  let mail
  try {
    mail = await compose(platform, { ...out, email }, at)
  } catch (error) {
    const reason = `The email cannot be put together: ${error instanceof Error ? error.message : String(error)}`
    return close(platform, out, { state: 'failed', reason: reason.slice(0, 300) }, at)
  }
  try {
    await transports.send(mail, out.contact.rehearsal)
  } catch (error) {
    const refusal = readRefusal(error)
    if (refusal.permanent) {
      const { words: reason, badAddress } = refusal
      return close(platform, out, { state: 'failed', reason, badAddress }, at)
    }
    await platform.database.inTransaction(async (tx) => {
      await tx.rows(
        'update message set attempts = attempts + 1, problem = $2, taken_at = null where id = $1',
        [id, refusal.words],
      )
      await announce(tx, 'email')
    })
    throw error
  }
  await close(platform, out, { state: 'sent' }, at)
}
