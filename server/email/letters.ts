import type { EmailList } from '../../contract/email.ts'
import { letter, linksOf, type Letter } from '../../core/email/letter.ts'
import { plainText } from '../../core/email/plainText.ts'
import type { Purpose } from '../../core/audience/permission.ts'
import type { Queries } from '../database/connect.ts'
import { letterMarkup } from './layout.ts'
import { Email, EmailLink } from './models.ts'

/** Makes the HTML of a letter. MJML is loaded when first needed: it takes longer than the rest of the server. */
async function htmlOf(content: Letter): Promise<string> {
  const { default: mjml } = await import('mjml')
  const { html, errors } = await mjml(letterMarkup(content), {
    validationLevel: 'soft',
    ignoreIncludes: true,
  })
  if (errors.length > 0) throw new Error(`The letter cannot be laid out: ${errors[0]?.formattedMessage}`)
  return html
}

/** Stores a new email with all that can be made of it once for everybody. */
export async function writeEmail(
  q: Queries,
  email: { name: string; purpose: Purpose; letter: Letter; at: Date },
): Promise<Email> {
  const content = letter.parse(email.letter)
  const transaction = q.transaction ?? null
  const stored = await Email.create(
    {
      name: email.name,
      purpose: email.purpose,
      letter: content,
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
    `select id, name, letter->>'subject' subject, purpose from email order by lower(name), id`,
  )
}
