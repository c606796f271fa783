import type { SendMailOptions } from 'nodemailer'
import type { Instant } from '../../core/audience/people/activity.ts'
import { mergeHtml, mergeLine, mergeText, type MergeValues } from '../../core/email/merge.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { preferencesUrl } from '../audience/people/preferences.ts'
import { loadReader } from '../pages/readers.ts'
import type { Platform } from '../platform.ts'
import { getBusiness } from '../workspace/business.ts'
import { openUrl } from './opens.ts'
import type { EmailTemplates } from './renderEmail.ts'

/** A message with all that composing needs. */
export interface Outgoing {
  id: number
  email: {
    id: number
    version: number
    replyTo: string
    links: number[]
    conditions: Condition[]
  } & EmailTemplates
  contact: { id: number; address: string; firstName: string; lastName: string; rehearsal: boolean }
  business: { name: string; postalAddress: string; senderName: string; senderAddress: string }
}

/** The address behind a link of this message: it tells who clicked what, and can be changed by nobody. */
export function clickUrl(platform: Platform, message: number, link: number): string {
  return `${platform.settings.publicUrl}/go/${platform.signer.sign('click', [message, link])}`
}

export function unsubscribeUrl(platform: Platform, contact: number, message: number): string {
  return `${platform.settings.publicUrl}/unsubscribe/${platform.signer.sign('unsubscribe', [contact, message])}`
}

/** Which parts of an email somebody sees of those that not everybody sees; a stranger when null. */
export async function showsFor(
  platform: Platform,
  conditions: readonly Condition[],
  contact: number | null,
): Promise<boolean[]> {
  if (conditions.length === 0) return []
  const { zone } = await getBusiness(platform.database)
  const reader = await loadReader(platform, contact, conditions, zone)
  return conditions.map((each) => reader.shows(each))
}

/** What the readers of templates see. */
export interface MergedEmail {
  subject: string
  text: string
  html: string | null
}

/** Fills the templates of an email. @throws when one of them cannot be read */
export const mergeEmail = ({ subject, text, html }: EmailTemplates, values: MergeValues): MergedEmail => ({
  subject: mergeLine(subject, values),
  text: mergeText(text, values),
  html: html === null ? null : mergeHtml(html, values),
})

/**
 * The message as it goes to the mail server. Composing it again gives the same Message-ID, so that a mailbox
 * can tell a second try from a second email.
 * @param at the moment of sending on the person's clock
 */
export async function compose(platform: Platform, out: Outgoing, at: Instant): Promise<SendMailOptions> {
  const unsubscribe = unsubscribeUrl(platform, out.contact.id, out.id)
  const values: MergeValues = {
    person: {
      first_name: out.contact.firstName,
      last_name: out.contact.lastName,
      address: out.contact.address,
    },
    business: { name: out.business.name, postal_address: out.business.postalAddress },
    base_url: platform.settings.publicUrl,
    shows: await showsFor(platform, out.email.conditions, out.contact.id),
    links: out.email.links.map((link) => clickUrl(platform, out.id, link)),
    unsubscribe_url: unsubscribe,
    preferences_url: preferencesUrl(platform, out.contact.id),
    open_url: openUrl(platform, out.id),
  }
  const merged = mergeEmail(out.email, values)
  const domain = out.business.senderAddress.split('@')[1] ?? 'localhost'
  return {
    messageId: `<${platform.signer.alias('message', out.id)}@${domain}>`,
    date: new Date(at),
    from: { name: out.business.senderName, address: out.business.senderAddress },
    to: { name: `${out.contact.firstName} ${out.contact.lastName}`.trim(), address: out.contact.address },
    ...(out.email.replyTo && { replyTo: out.email.replyTo }),
    subject: merged.subject,
    text: merged.text,
    ...(merged.html !== null && { html: merged.html }),
    // RFC 2369 and RFC 8058: both lines together make the mailbox's own unsubscribe button work by one POST.
    headers: {
      'List-Unsubscribe': { prepared: true, value: `<${unsubscribe}>` },
      'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
    },
  }
}
