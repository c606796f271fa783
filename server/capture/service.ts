import type { FormSubmission } from '../../contract/capture.ts'
import { hasJustDone, recordActivities } from '../audience/activities.ts'
import { meet, personNow } from '../audience/contacts.ts'
import { giveConsent } from '../audience/permission.ts'
import { addressHash, unsuppress } from '../audience/suppression.ts'
import { addTags } from '../audience/tags.ts'
import { announce } from '../live.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../problems.ts'
import { randomToken } from '../signing.ts'
import { Page, StoredFile } from './models.ts'

/** A page view's token is good for so long; then the form asks to be sent once more. */
const formTokenLasts = 24 * 3_600_000

/** A page that the public may see. @throws Problem 404 */
export async function livePage(slug: string): Promise<Page> {
  const page = await Page.findOne({ where: { slug, state: 'live' } })
  if (!page) throw notFound('This page')
  return page
}

/** The token that a page view puts into its form: good for this page, for a day, for one sending. */
export function formToken(platform: Platform, page: Page): string {
  return platform.signer.sign('form', [page.id, platform.clock.now(), randomToken()])
}

/** Was the token made here, for this page, within a day? */
export function isFormToken(platform: Platform, page: Page, token: string): boolean {
  const [pageId, madeAt] = platform.signer.open('form', token) ?? []
  return pageId === String(page.id) && platform.clock.now() - Number(madeAt) < formTokenLasts
}

/**
 * Takes in a form that a visitor sent: contact, consent, tag, activity, and the job that starts follow-ups,
 * in one transaction. The same token a second time changes nothing.
 */
export async function takeForm(
  platform: Platform,
  page: Page,
  submission: FormSubmission,
  ip: string | null,
): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const contact = await meet(tx, submission.address, submission.firstName, platform.clock.now())
    const at = personNow(platform.clock, contact)
    const first = await tx.rows(
      'insert into form_sending (token, contact_id, at) values ($1, $2, $3) on conflict do nothing returning token',
      [submission.token, contact.id, new Date(at)],
    )
    if (first.length === 0) return

    // Who signs up by themselves has changed their mind about being forgotten.
    await unsuppress(tx, addressHash(platform.settings.secret, submission.address.key))
    await tx.rows(`update contact set source = $2 where id = $1 and source = '{}'`, [
      contact.id,
      JSON.stringify(submission.source),
    ])
    if (contact.isNew)
      await recordActivities(tx, [{ contact: contact.id, kind: 'contactAdded', at, details: { by: 'form' } }])
    await giveConsent(tx, {
      contact: contact.id,
      wording: page.content.form.consentWording,
      source: page.name,
      ip,
      at,
    })
    if (page.tagId !== null)
      await addTags(tx, [{ contact: contact.id, tag: page.tagId, at }], `form of ${page.name}`)
    const { source } = submission
    await recordActivities(tx, [
      {
        contact: contact.id,
        kind: 'formSent',
        at,
        details: { page: page.id, ...(Object.keys(source).length > 0 && { source }) },
      },
    ])
    await announce(tx, 'audience')
  })
}

/** The address of a download that is signed for one person. */
export function downloadUrl(platform: Platform, file: number, contact: number): string {
  return `${platform.settings.publicUrl}/files/${platform.signer.sign('file', [file, contact])}`
}

/** The file of a signed address; writes down who downloaded it. @throws Problem 404 */
export async function takeFile(platform: Platform, token: string): Promise<StoredFile> {
  const [file, contact] = (platform.signer.open('file', token) ?? []).map(Number)
  const found = file && contact ? await StoredFile.findByPk(file) : null
  if (!found || !contact) throw notFound('This file')
  await platform.database.inTransaction(async (tx) => {
    const person = await tx.row<{ clockAhead: number }>(
      'select clock_ahead "clockAhead" from contact where id = $1 for no key update',
      [contact],
    )
    // Who was erased may still hold the link: they get the file, and nothing is written down.
    if (!person) return
    const at = personNow(platform.clock, person)
    const download = { contact, kind: 'fileDownloaded', at, details: { file: found.id } } as const
    if (await hasJustDone(tx, download)) return
    await recordActivities(tx, [download])
    await announce(tx, 'audience')
  })
  return found
}
