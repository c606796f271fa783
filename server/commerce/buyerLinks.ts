import { parseAddress } from '../../core/audience/people/address.ts'
import { survivorOf } from '../audience/people/contacts.ts'
import { letterOf, type FormEmail } from '../capture/formEmails.ts'
import type { Platform } from '../platform.ts'
import { queueJobs, type JobPayload } from '../work/jobs.ts'
import { getBusiness } from '../workspace/business.ts'

/** So long the link of an email lets somebody in (ms), and so long their browser then stays in. */
const linkLasts = 60 * 60_000
export const staysIn = 30 * 86_400_000

/** So many links one person gets a day, however often somebody asks. */
const mostADay = 3

/**
 * Where the way in leads: a path of ours that was refused before; the area itself when empty. Two strokes at its
 * beginning would name another host.
 */
const isOwnPath = (path: string): boolean => /^\/[a-z0-9-][a-z0-9/-]{0,120}$/.test(path)

/**
 * Asks for a way in by email. Who is not on the list gets none, and nobody is told who is.
 * @param to the path of the page that they wanted
 */
export async function askForLink({ database, clock }: Platform, typed: string, to: string): Promise<void> {
  const address = parseAddress(typed)
  if (!address) return
  await database.inTransaction(async (tx) => {
    const contact = await tx.row<{ id: number }>(
      'select id from contact where address_key = $1 for no key update',
      [address.key],
    )
    if (!contact) return
    const at = new Date(clock.now())
    const since = new Date(at.getTime() - 86_400_000)
    await tx.rows('delete from buyer_link where contact_id = $1 and asked_at <= $2', [contact.id, since])
    const asked = await tx.row(
      `insert into buyer_link (contact_id, asked_at) select $1, $2
       where (select count(*) from buyer_link where contact_id = $1) < ${mostADay} returning id`,
      [contact.id, at],
    )
    if (asked) await queueJobs(tx, 'sendBuyerLink', [{ contact: contact.id, to: isOwnPath(to) ? to : '' }])
  })
}

/** The email with the way in: the work of the job `sendBuyerLink`. */
export async function buyerLinkEmail(
  platform: Platform,
  { contact, to }: JobPayload<'sendBuyerLink'>,
): Promise<FormEmail | null> {
  const { database, settings, signer, clock } = platform
  const known = await survivorOf(database, contact)
  if (!known) return null
  const { name } = await getBusiness(database)
  const token = signer.sign('buyer link', [known.id, clock.now()])
  const query = to === '' ? '' : `?to=${encodeURIComponent(to)}`
  return {
    rehearsal: known.rehearsal,
    mail: await letterOf(platform, {
      to: known.address,
      subject: `Your way in at ${name}`,
      words: [
        known.firstName ? `Hello ${known.firstName},` : 'Hello,',
        'this button leads to what is yours: what you bought, your courses and your invoices.',
      ],
      button: { label: 'Go in', url: `${settings.publicUrl}/mine/in/${token}${query}` },
      after: ['It works for an hour. If you did not ask for it, do nothing: nobody else has it.'],
    }),
  }
}

const fresh = (
  { signer, clock }: Pick<Platform, 'signer' | 'clock'>,
  use: string,
  token: string,
  lasts: number,
): number | null => {
  const [contact, at] = (signer.open(use, token) ?? []).map(Number)
  return contact && at !== undefined && clock.now() - at < lasts ? contact : null
}

/** Whose link of an email it is; null when it was not made here, or is older than an hour. */
export const readBuyerLink = (platform: Platform, token: string): number | null =>
  fresh(platform, 'buyer link', token, linkLasts)

/** What a browser keeps of somebody who came in. */
export const insideMark = ({ signer, clock }: Platform, contact: number): string =>
  signer.sign('inside', [contact, clock.now()])

export const readInsideMark = (platform: Platform, mark: string | undefined): number | null =>
  mark === undefined ? null : fresh(platform, 'inside', mark, staysIn)

/** Where somebody is led who came in by a link that named a page. */
export const placeAfter = (to: unknown): string | null =>
  typeof to === 'string' && isOwnPath(to) ? to : null
