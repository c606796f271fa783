import type { SendMailOptions } from 'nodemailer'
import type { EmailPreview } from '../../contract/emails.ts'
import { conditionalParts, emailContent, emailLinks, type EmailContent } from '../../core/email/email.ts'
import { wordsText } from '../../core/email/emailTemplate.ts'
import { parseHtml, parseLine, parseText, templateFields, type MergeValues } from '../../core/email/merge.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { loadReader } from '../pages/readers.ts'
import { loadMergedPerson, loadMergeFields } from '../blocks/mergeFields.ts'
import { personNow, type Contact, survivorOf } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { notFound, Problem } from '../http/problems.ts'
import { loadSite } from '../pages/site.ts'
import type { Platform } from '../platform.ts'
import { queueJobs, type JobPayload } from '../work/jobs.ts'
import { getBusiness } from '../workspace/business.ts'
import { emailDrafts } from './emailDrafts.ts'
import { linkAddress } from './linkAddress.ts'
import { senderOf } from './senders.ts'
import { uncounted } from './messageAddresses.ts'
import { renderEmail, type EmailTemplates } from './renderEmail.ts'

/** Where the ways out of a test lead: there is nobody to be taken off the list. */
export const testNotice = '/test-email'

/** Which parts of an email somebody sees of those that not everybody sees; a stranger when null. */
async function showsFor(
  platform: Platform,
  conditions: readonly Condition[],
  contact: number | null,
): Promise<boolean[]> {
  if (conditions.length === 0) return []
  const { zone } = await getBusiness(platform.database)
  const reader = await loadReader(platform, contact, conditions, zone)
  return conditions.map((each) => reader.shows(each))
}

/** What somebody reads. */
interface MergedEmail {
  subject: string
  text: string
  html: string | null
}

const mergeEmail = ({ subject, text, html }: EmailTemplates, values: MergeValues): MergedEmail => ({
  subject: parseLine(subject)(values),
  text: parseText(text)(values),
  html: html === null ? null : parseHtml(html)(values),
})

/** What an email says to somebody who only tries it out: its links lead where they should and count nowhere. */
async function valuesFor(
  platform: Platform,
  content: EmailContent,
  person: Contact | null,
): Promise<MergeValues> {
  const q = platform.database
  const { publicUrl } = platform.settings
  const business = await getBusiness(q)
  const links = await Promise.all(
    emailLinks(content).map(({ target }) => linkAddress(platform, q, target, null, platform.clock.now())),
  )
  const notice = `${publicUrl}${testNotice}`
  return {
    person: {
      first_name: person?.firstName ?? '',
      last_name: person?.lastName ?? '',
      address: person?.address ?? '',
    },
    business: { name: business.name, postal_address: business.postalAddress, zone: business.zone },
    ...templateFields(
      await loadMergeFields(q),
      person && (await loadMergedPerson(q, person.id, personNow(platform.clock, person))),
      // A test leads nobody on by what is known of somebody else.
      (path) => `${publicUrl}${path}`,
    ),
    base_url: publicUrl,
    shows: await showsFor(
      platform,
      conditionalParts(content).map(({ shownTo }) => shownTo.people),
      person?.id ?? null,
    ),
    links: links.map((link) => link ?? notice),
    unsubscribe_url: notice,
    preferences_url: notice,
    open_url: uncounted,
  }
}

async function personOf(q: Queries, id: number | null) {
  if (id === null) return null
  const person = await survivorOf(q, id)
  if (!person) throw notFound('This person')
  return person
}

async function tryOut(
  platform: Platform,
  content: EmailContent,
  person: number | null,
): Promise<MergedEmail & { preheader: string }> {
  const q = platform.database
  const values = await valuesFor(platform, content, await personOf(q, person))
  const templates = await renderEmail(content, await loadSite(q))
  return {
    ...mergeEmail(templates, values),
    preheader: parseLine(wordsText(content.preheader))(values),
  }
}

/** An email as it is being written, or as people get it. */
export type Of = 'draft' | 'published'

/** @throws Problem 404 when there is none, or nothing of it is published */
async function contentOf(q: Queries, id: number, of: Of): Promise<EmailContent> {
  if (of === 'draft') return emailContent.parse((await emailDrafts.newest(q, id)).content)
  const published = await q.row<{ content: unknown }>(
    `select content from email_version join email on email.id = email_id
     where email.id = $1 and number = published_version`,
    [id],
  )
  if (!published) throw notFound('This email')
  return emailContent.parse(published.content)
}

/** What mailboxes that invert colours make of an email; those that leave it alone show it as it is. */
const inverted =
  '<style>html{background:#fff;filter:invert(1) hue-rotate(180deg)}img{filter:invert(1) hue-rotate(180deg)}</style>'

/** An email as a person would read it, or somebody of whom nothing is known. @throws Problem 404 */
export async function previewEmail(
  platform: Platform,
  id: number,
  { person, of }: { person: number | null; of: Of },
): Promise<EmailPreview> {
  const content = await contentOf(platform.database, id, of)
  const { subject, preheader, text } = await tryOut(platform, content, person)
  return { subject, preheader, text }
}

/** The HTML part of the same; the text part where there is no other. @throws Problem 404 */
export async function previewHtml(
  platform: Platform,
  id: number,
  { person, dark, of }: { person: number | null; dark: boolean; of: Of },
): Promise<string> {
  const { html } = await tryOut(platform, await contentOf(platform.database, id, of), person)
  return `${dark ? inverted : ''}${html ?? '<p>This email is plain text.</p>'}`
}

/** A template of what is published as nobody in particular would read it; all that is for some only is there. */
export async function readAsNobody(platform: Platform, id: number, template: string): Promise<string> {
  const values = await valuesFor(platform, await contentOf(platform.database, id, 'published'), null)
  return parseHtml(template)({ ...values, shows: values.shows.map(() => true) })
}

/** Queues the draft for people of the team, as it is now. @throws Problem 404, 422 */
export async function queueTest(
  q: Queries,
  id: number,
  { accounts, person }: { accounts: readonly number[]; person: number | null },
): Promise<void> {
  const { number } = await emailDrafts.newest(q, id)
  await personOf(q, person)
  const known = await q.rows<{ id: number }>('select id from account where id = any($1)', [accounts])
  if (known.length !== new Set(accounts).size)
    throw new Problem(422, 'Somebody of these has left the team', 'Load the page again, and choose anew.')
  await queueJobs(
    q,
    'sendTest',
    known.map((account) => ({ email: id, version: number, account: account.id, person })),
  )
}

/** The mail of a test: the work of the job `sendTest`. @returns null when what it was about is gone */
export async function testMail(
  platform: Platform,
  { email, version, account, person }: JobPayload<'sendTest'>,
): Promise<SendMailOptions | null> {
  const q = platform.database
  const to = await q.row<{ name: string; address: string }>(
    'select name, address from account where id = $1',
    [account],
  )
  const found = await q.row<{ content: unknown }>(
    'select content from email_version where email_id = $1 and number = $2',
    [email, version],
  )
  if (!to || !found) return null
  if (person !== null && !(await survivorOf(q, person))) return null
  const content = emailContent.parse(found.content)
  const { subject, text, html } = await tryOut(platform, content, person)
  const { sender } = await getBusiness(q)
  return {
    from: (await senderOf(q, content.sender)) ?? { name: sender.name, address: sender.address },
    to,
    ...(content.replyTo && { replyTo: content.replyTo }),
    subject: `[Test] ${subject}`,
    text,
    ...(html !== null && { html }),
  }
}

/** Who can get a test. */
export async function listTeam(
  q: Queries,
  me: number,
): Promise<{ id: number; name: string; address: string; isMe: boolean }[]> {
  return q.rows('select id, name, address, id = $1 "isMe" from account order by lower(name), id', [me])
}
