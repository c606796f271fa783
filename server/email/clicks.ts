import type { Target } from '../../core/email/content.ts'
import { hasJustDone, recordActivities } from '../audience/people/activities.ts'
import { personNow } from '../audience/people/contacts.ts'
import { downloadUrl } from '../capture/downloads.ts'
import { readerMark } from '../pages/readers.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../http/problems.ts'
import { recordOpen } from './opens.ts'

/** The address that a link's target has for one person. */
function addressOf(platform: Platform, target: Target, contact: number): string {
  if ('url' in target) return target.url
  if ('path' in target) {
    // Who follows a link of our email to a page of ours is known there, and nowhere else.
    const mark = target.path.startsWith('/p/') ? `?me=${readerMark(platform, contact)}` : ''
    return `${platform.settings.publicUrl}${target.path}${target.path.includes('?') ? '' : mark}`
  }
  return downloadUrl(platform, target.file, contact)
}

/**
 * Writes down that somebody clicked a link of an email.
 * @returns where it leads: always an address stored with the email, never one of the request
 * @throws Problem 404 when the token was not made here
 */
export async function followLink(platform: Platform, token: string): Promise<string> {
  const [message, link] = (platform.signer.open('click', token) ?? []).map(Number)
  if (!message || !link) throw notFound('This link')
  return platform.database.inTransaction(async (tx) => {
    const found = await tx.row<{ contact: number; clockAhead: number; email: number; target: Target }>(
      `select contact.id contact, contact.clock_ahead "clockAhead", message.email_id email, email_link.target
       from message join contact on contact.id = message.contact_id
       join email_link on email_link.id = $2 and email_link.email_id = message.email_id
       where message.id = $1 for no key update of message`,
      [message, link],
    )
    if (!found) throw notFound('This link')
    const at = personNow(platform.clock, found)
    const details = { email: found.email, message, link }
    if (!(await hasJustDone(tx, { contact: found.contact, kind: 'emailClicked', at, details }))) {
      // Who clicks has opened, also where pictures are not shown.
      await recordOpen(tx, { message, email: found.email, contact: found.contact }, at)
      await recordActivities(tx, [{ contact: found.contact, kind: 'emailClicked', at, details }])
      await announce(tx, 'audience')
    }
    return addressOf(platform, found.target, found.contact)
  })
}
