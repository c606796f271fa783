import { StoredFile } from '../../server/capture/models.ts'
import type { Queries } from '../../server/database/connect.ts'
import { createEmail } from '../../server/email/emails.ts'
import type { Person } from '../person.ts'
import { openEmails, pathOf, walk, type Path } from '../walk.ts'
import { createFollowup, createTag } from './create.ts'
import { pamphletTemplates } from './pamphletTemplates.ts'
import { templatePackProgram } from './templatePackContent.ts'
import { consentWording, createPages } from './templatePackPages.ts'
import type { Pictures } from './pictures.ts'
import { templatePackEmails } from './templatePackEmails.ts'

/** The free file that everybody of the story came for, and the follow-up behind it. */
export interface TemplatePack {
  page: { id: number; name: string }
  tag: number
  /** The tag of those who were invited to the live session. */
  invited: number
  emails: Record<'delivery' | 'reminder' | 'invitation' | 'grain', number>
  path: Path
}

export async function make(q: Queries, pictures: Pictures | null, at: Date): Promise<TemplatePack> {
  const file = await StoredFile.create(
    {
      name: 'Five-Hole Pamphlet templates.pdf',
      mediaType: 'application/pdf',
      content: await pamphletTemplates(at),
      createdAt: at,
    },
    { transaction: q.transaction ?? null },
  )
  const tag = await createTag(q, 'Template pack', 'Asked for the pamphlet templates', at)
  const invited = await createTag(q, 'Invited to Stitch-Along', 'Was invited to the Sunday session', at)
  const page = await createPages(q, { tag, file: file.id, pictures }, at)
  const written = templatePackEmails(file.id)
  const emails = {
    delivery: await createEmail(q, { ...written.delivery, at }),
    reminder: await createEmail(q, { ...written.reminder, at }),
    invitation: await createEmail(q, { ...written.invitation, at }),
    grain: await createEmail(q, { ...written.grain, at }),
  }
  const ids = {
    delivery: emails.delivery.id,
    reminder: emails.reminder.id,
    invitation: emails.invitation.id,
    grain: emails.grain.id,
  }
  const program = templatePackProgram({ page, tags: { invited }, emails: ids })
  const followup = await createFollowup(q, 'Template pack', program, at)
  const path = await pathOf(q, followup, Object.values(emails), file.id)
  return { page: { id: page, name: 'Template pack' }, tag, invited, emails: ids, path }
}

/** Fills in the form, walks through the follow-up, and opens what comes. */
export function live(person: Person, { page, tag, path }: TemplatePack): void {
  const { arrival: at } = person
  const { name } = page
  person.did({ kind: 'contactAdded', at, details: { by: 'form' } })
  person.did({ kind: 'consentGiven', at, details: { source: name } })
  person.consents.push({ wording: consentWording, source: name, at })
  person.addTag(tag, at, `form of ${name}`)
  person.did({ kind: 'formSent', at, details: { page: page.id, source: person.source } })
  walk(person, path, at)
  openEmails(person)
}
