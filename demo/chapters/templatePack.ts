import type { Queries } from '../../server/database/connect.ts'
import { publishNewEmail } from '../../server/email/emails.ts'
import { signInOf } from '../accounts.ts'
import type { Person } from '../person.ts'
import { openEmails, pathOf, walk, type Path } from '../walk.ts'
import { createFile, createFollowup, createTag } from './create.ts'
import { pamphletTemplates } from './pamphletTemplates.ts'
import { templatePackProgram } from './templatePackContent.ts'
import { consentWording, createPages } from './templatePackPages.ts'
import type { Pictures } from './pictures.ts'
import { templatePackEmails } from './templatePackEmails.ts'

/** The free file that everybody of the story came for, and the follow-up behind it. */
export interface TemplatePack {
  page: { id: number; name: string }
  form: number
  tag: number
  /** The tag of those who were invited to the live session. */
  invited: number
  emails: Record<'delivery' | 'reminder' | 'invitation' | 'grain', number>
  path: Path
}

export async function make(q: Queries, pictures: Pictures | null, at: Date): Promise<TemplatePack> {
  const file = await createFile(q, 'Five-Hole Pamphlet templates.pdf', await pamphletTemplates(at), at)
  const tag = await createTag(q, 'Template pack', 'Asked for the pamphlet templates', at)
  const invited = await createTag(q, 'Invited to Stitch-Along', 'Was invited to the Sunday session', at)
  const { page, form } = await createPages(q, { tag, file: file, pictures }, at)
  const written = templatePackEmails(file)
  const doing = { by: signInOf.name, at }
  const emails = {
    delivery: await publishNewEmail(q, written.delivery, doing),
    reminder: await publishNewEmail(q, written.reminder, doing),
    invitation: await publishNewEmail(q, written.invitation, doing),
    grain: await publishNewEmail(q, written.grain, doing),
  }
  const ids = {
    delivery: emails.delivery.id,
    reminder: emails.reminder.id,
    invitation: emails.invitation.id,
    grain: emails.grain.id,
  }
  const program = templatePackProgram({ form, tags: { invited }, emails: ids })
  const followup = await createFollowup(q, 'Template pack', program, at)
  const path = await pathOf(q, followup, Object.values(emails), file)
  return { page: { id: page, name: 'Template pack' }, form, tag, invited, emails: ids, path }
}

/** Fills in the form, walks through the follow-up, and opens what comes. */
export function live(person: Person, { page, form, tag, path }: TemplatePack): void {
  const { arrival: at } = person
  const { name } = page
  person.did({ kind: 'contactAdded', at, details: { by: 'form' } })
  person.did({ kind: 'consentGiven', at, details: { source: name } })
  person.consents.push({ wording: consentWording, source: name, at })
  person.addTag(tag, at, `form of ${name}`)
  person.did({ kind: 'formSent', at, details: { form, page: page.id, source: person.source } })
  walk(person, path, at)
  openEmails(person)
}
