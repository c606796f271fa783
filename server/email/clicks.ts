import type { Instant } from '../../core/audience/people/activity.ts'
import type { Purpose } from '../../core/audience/people/permission.ts'
import type { Target } from '../../core/blocks/target.ts'
import { decidedAfter, isHasty } from '../../core/email/haste.ts'
import type { LinkAction } from '../../core/email/linkAction.ts'
import { hasJustDone, recordActivities } from '../audience/people/activities.ts'
import { personNow } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../http/problems.ts'
import { applyLinkActions } from './linkActions.ts'
import { linkAddress } from './linkAddress.ts'
import type { Device } from '../pages/visits.ts'
import { clickNamedLink } from './namedLinks.ts'
import { recordOpen, type Asker } from './opens.ts'

/** A link of a message, and whose it is. */
export interface Followed {
  contact: number
  clockAhead: number
  email: number
  emailName: string
  purpose: Purpose
  label: string
  target: Target
  actions: LinkAction[]
  /** How many links the email has. */
  links: number
  sentAt: Instant
  /** Opens and clicks of the email are counted, and those of this person. */
  tracked: boolean
}

/** What is known of a link of a message, with the person locked, and then the message. */
export async function followed(q: Queries, message: number, link: number): Promise<Followed | undefined> {
  // People come before what is theirs: what the click does may change them.
  await q.rows(
    'select id from contact where id = (select contact_id from message where id = $1) for no key update',
    [message],
  )
  return q.row<Followed>(
    `select contact.id contact, contact.clock_ahead "clockAhead", message.email_id email, email.name "emailName",
       message.purpose, email_link.label, email_link.target, email_link.actions,
       coalesce(cardinality(version.links), 0) links,
       coalesce((version.content->>'tracked')::boolean, true) and not contact.untracked tracked,
       floor(extract(epoch from coalesce(message.sent_at, message.queued_at)) * 1000)::bigint "sentAt"
     from message join contact on contact.id = message.contact_id join email on email.id = message.email_id
     join email_link on email_link.id = $2 and email_link.email_id = message.email_id
     left join email_version version
       on version.email_id = message.email_id and version.number = message.email_version
     where message.id = $1 for no key update of message`,
    [message, link],
  )
}

/** Writes down that a person has clicked, and does what the click does. In the transaction of `q`. */
export async function countClick(
  platform: Platform,
  q: Queries,
  { contact, email, emailName, label, target, actions, tracked }: Followed,
  { message, link, at, device }: { message: number; link: number; at: Instant; device: Device },
): Promise<void> {
  const details = { email, message, link }
  if (await hasJustDone(q, { contact, kind: 'emailClicked', at, details })) return
  if (tracked) {
    // Who clicks has opened, also where pictures are not shown.
    await recordOpen(q, { message, email, contact }, at, device)
    await q.rows('update message set clicked_at = coalesce(clicked_at, $2) where id = $1', [
      message,
      new Date(at),
    ])
    await recordActivities(q, [{ contact, kind: 'emailClicked', at, details }])
  }
  await applyLinkActions(platform, q, actions, { contact, link, label, email: emailName, at })
  if (target.to === 'link') await clickNamedLink(platform, q, target.link, { contact, at })
  await announce(q, 'audience')
}

/**
 * Follows a link of an email for whoever asks. What a person does counts, and does what the click does; machines count
 * for nobody and do nothing.
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
    const hasty = machine === null && isHasty({ ...found, sentAt: found.sentAt + found.clockAhead, at })
    if (machine !== null || hasty)
      await tx.rows(
        `insert into machine_click (message_id, link_id, agent, at, device, undecided, decide_at)
         values ($1, $2, $3, $4, $5, $6, $7)`,
        [
          message,
          link,
          (machine ?? 'within seconds of delivery').slice(0, 200),
          new Date(at),
          device,
          hasty,
          hasty ? new Date(platform.clock.now() + decidedAfter) : null,
        ],
      )
    else await countClick(platform, tx, found, { message, link, at, device })
    // A click counts, whatever has become of what it leads to.
    return linkAddress(platform, tx, found.target, found.contact, found.sentAt)
  })
  if (address === null) throw notFound('This link')
  return address
}
