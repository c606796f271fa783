import { safeEmailHtml } from '../../core/blocks/safeHtml.ts'
import { conditionalParts, emailContent, type EmailContent } from '../../core/email/email.ts'
import { findingsOfEmail } from '../../core/email/emailFindings.ts'
import { describeDocumentChanges } from '../../core/pages/describeChanges.ts'
import { loadKnownThings } from '../audience/describing/knownThings.ts'
import type { ThingState } from '../../contract/drafts.ts'
import { draftsOf, stateOfThing, type Thing, type Version } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { makeDocumentSafe } from '../pages/safeContent.ts'
import { surroundingsOf } from '../pages/surroundings.ts'
import { loadSite, type Site } from '../pages/site.ts'
import type { Platform } from '../platform.ts'
import { renderEmail } from './renderEmail.ts'
import { loadSenders } from './senders.ts'
import { keepLinks } from './emailLinks.ts'

const settings: Record<Exclude<keyof EmailContent, 'document'>, string> = {
  subject: 'subject',
  preheader: 'preheader',
  purpose: 'what kind of email it is',
  why: 'why people get it',
  topic: 'topic',
  onClick: 'what clicks do',
  sender: 'from whom it comes',
  replyTo: 'where answers go',
  text: 'text part',
  textOnly: 'whether it is plain text',
  tracked: 'what is counted',
}

/** How large the HTML part of an email is, with its addresses as short as templates have them. */
async function htmlBytes(content: EmailContent, site: Site): Promise<number> {
  const { html } = await renderEmail(content, site)
  return Buffer.byteLength(html ?? '')
}

/** Makes what is the same for all readers of a version, once. */
async function makeTemplates(
  q: Queries,
  id: number,
  { number, content }: Pick<Version<EmailContent>, 'number' | 'content'>,
  site: Site,
): Promise<void> {
  const { subject, html, text } = await renderEmail(content, site)
  await q.rows(
    `update email_version set subject_template = $3, html_template = $4, text_template = $5
     where email_id = $1 and number = $2`,
    [id, number, subject, html, text],
  )
}

/** What happens when a version is published: its links, its templates, and what kind of email it is now. */
async function published(q: Queries, id: number, version: Version<EmailContent>): Promise<void> {
  const { number, content } = version
  await makeTemplates(q, id, version, await loadSite(q))
  const conditions = conditionalParts(content).map(({ shownTo }) => shownTo.people)
  await q.rows('update email_version set links = $3, conditions = $4 where email_id = $1 and number = $2', [
    id,
    number,
    await keepLinks(q, id, content),
    JSON.stringify(conditions),
  ])
  // What the reader has asked for is about no topic.
  const topic = content.purpose === 'marketing' ? content.topic : null
  await q.rows('update email set purpose = $2, topic_id = $3 where id = $1', [id, content.purpose, topic])
}

/** How emails are drafted and published. */
export const emailDrafts = draftsOf<EmailContent>({
  table: 'email',
  word: 'email',
  shape: emailContent,
  prepare: (content) => ({ ...content, document: makeDocumentSafe(content.document, safeEmailHtml) }),
  findings: async (q, _id, content, at) => {
    const site = await loadSite(q)
    return findingsOfEmail(content, {
      ...(await surroundingsOf(q, at, site)),
      ...(await loadKnownThings(q)),
      senders: await loadSenders(q),
      htmlBytes: await htmlBytes(content, site),
    })
  },
  describeChanges: (before, after) => describeDocumentChanges(before, after, settings),
  published,
})

/** What the newest version of an email says, and what would go wrong with it. */
export interface EmailCheck {
  id: number
  state: ThingState
  content: EmailContent
  /** What keeps it from going out, and the part that each is about. */
  errors: { words: string; part: string | null }[]
}

/** What the newest versions of many emails say, and what would go wrong with each; nothing is laid out for it. */
export async function checkEmails(
  q: Queries,
  ids: readonly number[],
  at: Date,
  site?: Site,
): Promise<EmailCheck[]> {
  if (ids.length === 0) return []
  const rows = await q.rows<Pick<Thing, 'id' | 'publishedVersion' | 'archivedAt'> & { content: unknown }>(
    `select distinct on (id) id, published_version "publishedVersion", archived_at "archivedAt", content
     from email join email_version on email_id = id where id = any($1) order by id, number desc`,
    [ids],
  )
  const around = {
    ...(await surroundingsOf(q, at, site)),
    ...(await loadKnownThings(q)),
    senders: await loadSenders(q),
    htmlBytes: 0,
  }
  return rows.map(({ content: stored, ...thing }) => {
    const content = emailContent.parse(stored)
    const errors = findingsOfEmail(content, around).filter(({ level }) => level === 'error')
    return { id: thing.id, state: stateOfThing(thing), content, errors }
  })
}

/**
 * Makes the templates of every live email anew, after the brand, a picture or the sender has changed: the work of the
 * job `renewEmails`. Each by itself, so that nothing waits for all of them; links and settings stay as they are.
 */
export async function renewTemplates({ database }: Platform): Promise<void> {
  const live = await database.rows<{ email: number; number: number; content: unknown }>(
    `select email.id email, number, content
     from email join email_version on email_id = email.id and number = published_version order by email.id`,
  )
  const site = await loadSite(database)
  for (const { email, number, content } of live)
    await makeTemplates(database, email, { number, content: emailContent.parse(content) }, site)
}
