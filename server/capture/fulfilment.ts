import type { Instant, Source } from '../../core/audience/people/activity.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { fillBlanks, type Contact } from '../audience/people/contacts.ts'
import { giveConsent } from '../audience/people/permission.ts'
import { addTags } from '../audience/describing/tags.ts'
import type { Queries } from '../database/connect.ts'
import { pageById } from '../pages/pages.ts'

/** A form as it stands on a page. */
export interface FormOf {
  page: number
  /** The block, within the page. */
  block: string
  /** Put on everybody who sends it. */
  tag: number | null
  /** What was agreed to, as it was shown. */
  wording: string
}

/** What a form asked for, in somebody's name. */
export interface AskedFor extends FormOf {
  firstName: string
  source: Source
  ip: string | null
}

/** What a form that counts does: consent, tag and activity, which starts the follow-ups that deliver. */
export async function fulfilForm(q: Queries, contact: Contact, form: AskedFor, at: Instant): Promise<void> {
  const page = await pageById(q, form.page)
  await fillBlanks(q, contact.id, form)
  await giveConsent(q, {
    contact: contact.id,
    wording: form.wording,
    source: page.name,
    ip: form.ip,
    at,
  })
  // A tag may have been deleted since the page was published.
  const tag = form.tag === null ? undefined : await q.row('select id from tag where id = $1', [form.tag])
  if (form.tag !== null && tag)
    await addTags(q, [{ contact: contact.id, tag: form.tag, at }], `form of ${page.name}`)
  const source = Object.keys(form.source).length > 0 ? { source: form.source } : {}
  await recordActivities(q, [
    { contact: contact.id, kind: 'formSent', at, details: { page: form.page, ...source } },
  ])
}
