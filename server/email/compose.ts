import type { SendMailOptions } from 'nodemailer'
import type { Instant } from '../../core/audience/people/activity.ts'
import type { EmailContent } from '../../core/email/content.ts'
import { mergeHtml, mergeLine, mergeText, type MergeValues } from '../../core/email/merge.ts'
import { preferencesUrl } from '../audience/people/preferences.ts'
import type { Platform } from '../platform.ts'
import { openUrl } from './opens.ts'

/** A message with all that composing needs. */
export interface Outgoing {
  id: number
  email: { id: number; content: EmailContent; htmlTemplate: string; textTemplate: string; links: number[] }
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

/**
 * The message as it goes to the mail server. Composing it again gives the same Message-ID, so that a mailbox
 * can tell a second try from a second email.
 * @param at the moment of sending on the person's clock
 */
export function compose(platform: Platform, out: Outgoing, at: Instant): SendMailOptions {
  const unsubscribe = unsubscribeUrl(platform, out.contact.id, out.id)
  const values: MergeValues = {
    person: {
      first_name: out.contact.firstName,
      last_name: out.contact.lastName,
      address: out.contact.address,
    },
    business: { name: out.business.name, postal_address: out.business.postalAddress },
    links: out.email.links.map((link) => clickUrl(platform, out.id, link)),
    unsubscribe_url: unsubscribe,
    preferences_url: preferencesUrl(platform, out.contact.id),
    open_url: openUrl(platform, out.id),
  }
  const domain = out.business.senderAddress.split('@')[1] ?? 'localhost'
  return {
    messageId: `<${platform.signer.alias('message', out.id)}@${domain}>`,
    date: new Date(at),
    from: { name: out.business.senderName, address: out.business.senderAddress },
    to: { name: `${out.contact.firstName} ${out.contact.lastName}`.trim(), address: out.contact.address },
    subject: mergeLine(out.email.content.subject, values),
    text: mergeText(out.email.textTemplate, values),
    html: mergeHtml(out.email.htmlTemplate, values),
    // RFC 2369 and RFC 8058: both lines together make the mailbox's own unsubscribe button work by one POST.
    headers: {
      'List-Unsubscribe': { prepared: true, value: `<${unsubscribe}>` },
      'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
    },
  }
}
