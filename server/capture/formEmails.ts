import type { SendMailOptions } from 'nodemailer'
import { formatFieldValue } from '../../core/audience/describing/field.ts'
import { countryName } from '../../core/audience/people/country.ts'
import { fieldsOf, type FormField } from '../../core/capture/form.ts'
import { html } from '../../core/html.ts'
import { contactById, survivorOf } from '../audience/people/contacts.ts'
import type { Platform } from '../platform.ts'
import type { JobPayload } from '../work/jobs.ts'
import { getBusiness } from '../workspace/business.ts'
import { describeField } from '../../core/capture/describeForm.ts'
import { downloadUrl } from './downloads.ts'
import type { AskedFor } from './fulfilment.ts'
import { formVersion } from './publishedForms.ts'

/** An email that a form causes, and whether its reader is in rehearsal. */
export interface FormEmail {
  mail: SendMailOptions
  rehearsal: boolean
}

interface Letter {
  to: string
  subject: string
  /** Paragraphs. */
  words: readonly string[]
  button: { label: string; url: string }
  /** What stands below the button. */
  after: readonly string[]
}

/** A short email with one button, as text and as HTML that every mailbox can show. */
export async function letterOf(
  platform: Platform,
  { to, subject, words, button, after }: Letter,
): Promise<SendMailOptions> {
  const business = await getBusiness(platform.database)
  const foot = `${business.name}, ${business.postalAddress}`
  return {
    from: { name: business.sender.name, address: business.sender.address },
    to,
    subject,
    text: [...words, `${button.label}:\n${button.url}`, ...after, `--\n${foot}\n`].join('\n\n'),
    html: html`<!doctype html>
      <html lang="en">
        <body style="margin:0;padding:24px;font:16px/1.5 sans-serif;color:#1f2a2e">
          <div style="max-width:560px;margin:0 auto">
            ${words.map((each) => html`<p style="white-space:pre-line">${each}</p>`)}
            <p>
              <a
                href="${button.url}"
                style="display:inline-block;padding:12px 22px;background:#1f2a2e;color:#ffffff;text-decoration:none;border-radius:4px"
                >${button.label}</a
              >
            </p>
            ${after.map((each) => html`<p>${each}</p>`)}
            <p style="font-size:13px;color:#59666b">${foot}</p>
          </div>
        </body>
      </html>`.markup,
  }
}

/**
 * The email that asks whether a form was somebody's own: the work of the job `sendConfirmation`. It says nothing that
 * was typed into the form, so that nobody can use it to write to somebody else.
 * @returns null when there is nothing left to ask
 */
export async function confirmationEmail(platform: Platform, id: number): Promise<FormEmail | null> {
  const { database, signer, settings } = platform
  const open = await database.row<{ contact: number; form: number; version: number }>(
    'select contact_id contact, form_id form, form_version as version from confirmation where id = $1 and confirmed_at is null',
    [id],
  )
  const form = open && (await formVersion(database, open.form, open.version))
  if (!open || !form) return null
  const { address, rehearsal } = await contactById(database, open.contact)
  const { subject, words, button } = form.content.confirm.letter
  const { name } = await getBusiness(database)
  return {
    rehearsal,
    mail: await letterOf(platform, {
      to: address,
      subject,
      words: [`Somebody, probably you, gave this address to ${name}.`, ...words.split(/\n{2,}/)],
      button: { label: button, url: `${settings.publicUrl}/confirm/${signer.sign('confirm', [id])}` },
      after: ['If it was not you, do nothing: nothing changes, and nothing more comes.'],
    }),
  }
}

/** The email with a file that a form promised: the work of the job `sendFile`. */
export async function fileEmail(
  platform: Platform,
  { contact, file }: JobPayload<'sendFile'>,
): Promise<FormEmail | null> {
  const q = platform.database
  const who = await survivorOf(q, contact)
  const found = await q.row<{ name: string }>('select name from file where id = $1', [file])
  if (!who || !found || who.marketingState === 'bounced') return null
  return {
    rehearsal: who.rehearsal,
    mail: await letterOf(platform, {
      to: who.address,
      subject: `Here it is: ${found.name.replace(/\.[^.]*$/, '')}`,
      words: [who.firstName ? `Hello ${who.firstName},` : 'Hello,', 'here is what you asked for.'],
      button: { label: `Download ${found.name}`, url: downloadUrl(platform, file, who.id) },
      after: [
        'The link is yours alone. When it has expired, open it all the same: you can ask for a new one there.',
      ],
    }),
  }
}

/** The answer to a field as one reads it. */
function answerWords(field: FormField, { form, answers }: Pick<AskedFor, 'form' | 'answers'>): string {
  switch (field.asks) {
    case 'firstName':
    case 'lastName':
    case 'phone':
    case 'message':
      return answers[field.asks] ?? ''
    case 'country':
      return answers.country === undefined ? '' : countryName(answers.country)
    case 'own':
    case 'hidden': {
      const own = form.fields.find(({ id }) => id === field.field)
      return own ? formatFieldValue(own, answers.own[own.id]) : ''
    }
    case 'consent':
      return answers.agreed.includes(field.id) ? 'yes' : 'no'
    case 'address':
      return ''
  }
}

/** What the team is told of a form that was sent: the work of the job `notifyTeam`. An answer goes to who sent it. */
export async function teamEmail(
  platform: Platform,
  { contact, form: id, version, place, answers }: JobPayload<'notifyTeam'>,
): Promise<FormEmail | null> {
  const q = platform.database
  const who = await survivorOf(q, contact)
  const form = await formVersion(q, id, version)
  const team = await q.rows<{ address: string }>('select address from account order by id')
  if (!who || !form || team.length === 0) return null
  const business = await getBusiness(q)
  const lines = fieldsOf(form.content).flatMap((field) => {
    const words = answerWords(field, { form, answers })
    return words ? [`${describeField(field, form.fields)}: ${words}`] : []
  })
  const name = `${who.firstName} ${who.lastName}`.trim() || who.address
  return {
    rehearsal: who.rehearsal,
    mail: {
      from: { name: business.sender.name, address: business.sender.address },
      to: team.map(({ address }) => address),
      replyTo: who.address,
      subject: `${form.name}: ${name}`,
      text: [
        `${name} (${who.address}) sent “${form.name}” on ${place}.`,
        lines.join('\n'),
        `${platform.settings.publicUrl}/app/people/${who.id}`,
      ].join('\n\n'),
    },
  }
}
