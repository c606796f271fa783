import type { Instant } from '../../core/audience/people/activity.ts'
import type { Target } from '../../core/blocks/target.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import { hasJustDone, recordActivities } from '../audience/people/activities.ts'
import { personNow } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../http/problems.ts'
import { applyLinkActions } from './linkActions.ts'
import { linkAddress } from './linkAddress.ts'
import { recordOpen, type Asker } from './opens.ts'

interface Followed {
  contact: number
  clockAhead: number
  email: number
  emailName: string
  label: string
  target: Target
  actions: LinkAction[]
  sentAt: Instant
  /** Opens and clicks of the email are counted. */
  tracked: boolean
}

/** What is known of a link of a message, with the person locked, and then the message. */
async function followed(q: Queries, message: number, link: number): Promise<Followed | undefined> {
  // People come before what is theirs: what the click does may change them.
  await q.rows(
    'select id from contact where id = (select contact_id from message where id = $1) for no key update',
    [message],
  )
  return q.row<Followed>(
    `select contact.id contact, contact.clock_ahead "clockAhead", message.email_id email, email.name "emailName",
       email_link.label, email_link.target, email_link.actions,
       coalesce((select (content->>'tracked')::boolean from email_version
         where email_id = message.email_id and number = message.email_version), true) tracked,
       floor(extract(epoch from coalesce(message.sent_at, message.queued_at)) * 1000)::bigint "sentAt"
     from message join contact on contact.id = message.contact_id join email on email.id = message.email_id
     join email_link on email_link.id = $2 and email_link.email_id = message.email_id
     where message.id = $1 for no key update of message`,
    [message, link],
  )
}

/**
 * Writes down that somebody clicked a link of an email, and does what the click does. Machines count for nobody.
 * @returns where it leads: always an address stored with the email, never one of the request
 * @throws Problem 404 when the token was not made here, or what it leads to is gone
 */
export async function followLink(
  platform: Platform,
  token: string,
  { machine, device }: Asker,
): Promise<string> {
  const [message, link] = (platform.signer.open('click', token) ?? []).map(Number)
  if (!message || !link) throw notFound('This link')
  const address = await platform.database.inTransaction(async (tx) => {
    const found = await followed(tx, message, link)
    if (!found) return null
    const at = personNow(platform.clock, found)
    const { contact } = found
    const details = { email: found.email, message, link }
    if (machine !== null)
      await tx.rows('insert into machine_click (message_id, link_id, agent, at) values ($1, $2, $3, $4)', [
        message,
        link,
        machine.slice(0, 200),
        new Date(at),
      ])
    else if (!(await hasJustDone(tx, { contact, kind: 'emailClicked', at, details }))) {
      if (found.tracked) {
        // Who clicks has opened, also where pictures are not shown.
        await recordOpen(tx, { message, email: found.email, contact }, at, device)
        await tx.rows('update message set clicked_at = coalesce(clicked_at, $2) where id = $1', [
          message,
          new Date(at),
        ])
        await recordActivities(tx, [{ contact, kind: 'emailClicked', at, details }])
      }
      const click = { contact, link, label: found.label, email: found.emailName, at }
      await applyLinkActions(platform, tx, found.actions, click)
      await announce(tx, 'audience')
    }
    // A click counts, whatever has become of what it leads to.
    return linkAddress(platform, tx, found.target, contact, found.sentAt)
  })
  if (address === null) throw notFound('This link')
  return address
}
