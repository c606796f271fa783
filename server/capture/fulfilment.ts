import type { Instant, Source } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { fillBlanks, type Contact } from '../audience/people/contacts.ts'
import { giveConsent } from '../audience/people/permission.ts'
import { addTags } from '../audience/describing/tags.ts'
import type { Queries } from '../database/connect.ts'
import { Page } from './models.ts'

/** What a form asked for, in somebody's name. */
export interface AskedFor {
  page: number
  firstName: string
  source: Source
  /** What was agreed to, as it was shown. */
  wording: string
  ip: string | null
}

/** What a form that counts does: consent, tag and activity, which starts the follow-ups that deliver. */
export async function fulfilForm(q: Queries, contact: Contact, form: AskedFor, at: Instant): Promise<void> {
  const page = await Page.findByPk(form.page, { transaction: q.transaction ?? null, rejectOnEmpty: true })
  await fillBlanks(q, contact.id, form)
  await giveConsent(q, {
    contact: contact.id,
    wording: form.wording,
    source: page.name,
    ip: form.ip,
    at,
  })
  if (page.tagId !== null)
    await addTags(q, [{ contact: contact.id, tag: page.tagId, at }], `form of ${page.name}`)
  const source = Object.keys(form.source).length > 0 ? { source: form.source } : {}
  await recordActivities(q, [
    { contact: contact.id, kind: 'formSent', at, details: { page: form.page, ...source } },
  ])
}
