import type { EmailList } from '../../contract/email.ts'
import { emailContent, linksOf, type EmailContent } from '../../core/email/content.ts'
import { plainText } from '../../core/email/plainText.ts'
import type { Purpose } from '../../core/audience/people/permission.ts'
import type { Queries } from '../database/connect.ts'
import { emailMarkup } from './emailMarkup.ts'
import { Email, EmailLink } from './models.ts'

/** Makes the HTML of a letter. MJML is loaded when first needed: it takes longer than the rest of the server. */
async function htmlOf(content: EmailContent): Promise<string> {
  const { default: mjml } = await import('mjml')
  const { html, errors } = await mjml(emailMarkup(content), {
    validationLevel: 'soft',
    ignoreIncludes: true,
  })
  if (errors.length > 0) throw new Error(`The letter cannot be laid out: ${errors[0]?.formattedMessage}`)
  return html
}

/** Stores a new email with all that can be made of it once for everybody. */
export async function createEmail(
  q: Queries,
  email: { name: string; purpose: Purpose; content: EmailContent; at: Date },
): Promise<Email> {
  const content = emailContent.parse(email.content)
  const transaction = q.transaction ?? null
  const stored = await Email.create(
    {
      name: email.name,
      purpose: email.purpose,
      content,
      htmlTemplate: await htmlOf(content),
      textTemplate: plainText(content),
      createdAt: email.at,
    },
    { transaction },
  )
  await EmailLink.bulkCreate(
    linksOf(content).map((link) => ({ ...link, emailId: stored.id })),
    { transaction },
  )
  return stored
}

/** The emails of the Library, by name. */
export function listEmails(q: Queries): Promise<EmailList> {
  return q.rows<EmailList[number]>(
    `select id, name, content->>'subject' subject, purpose from email order by lower(name), id`,
  )
}
