import MailComposer from 'nodemailer/lib/mail-composer'
import { emailContent } from '../../core/email/email.ts'
import type { Platform } from '../platform.ts'
import { getBusiness } from '../workspace/business.ts'
import { emailDrafts } from './emailDrafts.ts'
import { senderOf } from './senders.ts'
import { previewEmail, previewHtml } from './tryingOut.ts'

const asNobody = { person: null, of: 'draft' } as const

/** The draft as a page of HTML, as nobody in particular would read it. @throws Problem 404 */
export async function exportHtml(platform: Platform, id: number): Promise<{ name: string; html: string }> {
  const { name } = await emailDrafts.thing(platform.database, id)
  return { name, html: await previewHtml(platform, id, { ...asNobody, dark: false }) }
}

/**
 * The draft as a message (RFC 5322) that mail programs open to be sent on: `X-Unsent` is how several of them are told
 * (common practice).
 * @throws Problem 404
 */
export async function exportEml(platform: Platform, id: number): Promise<{ name: string; message: Buffer }> {
  const q = platform.database
  const { name } = await emailDrafts.thing(q, id)
  const content = emailContent.parse((await emailDrafts.newest(q, id)).content)
  const { subject, text } = await previewEmail(platform, id, asNobody)
  const { sender } = await getBusiness(q)
  const message = await new MailComposer({
    from: (await senderOf(q, content.sender)) ?? { name: sender.name, address: sender.address },
    ...(content.replyTo && { replyTo: content.replyTo }),
    subject,
    text,
    ...(!content.textOnly && { html: await previewHtml(platform, id, { ...asNobody, dark: false }) }),
    date: new Date(platform.clock.now()),
    headers: { 'X-Unsent': '1' },
  })
    .compile()
    .build()
  return { name, message }
}
