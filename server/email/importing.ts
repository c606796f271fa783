import juice from 'juice'
import { simpleParser, type Attachment } from 'mailparser'
import { freshBlock } from '../../core/blocks/block.ts'
import { composer } from '../../core/blocks/compose.ts'
import { plainRichText } from '../../core/blocks/richText.ts'
import { safeEmailHtml } from '../../core/blocks/safeHtml.ts'
import { emptyEmail, type EmailContent } from '../../core/email/email.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { Problem } from '../http/problems.ts'
import { randomPartId } from '../pages/partIds.ts'
import { storePicture } from '../pages/pictures.ts'
import { createEmail } from './emails.ts'

/** Larger files are no email that anybody writes by hand. */
export const largestImport = 10_000_000

/** What was made of a file, and what of it was left out, in words. */
interface Imported {
  id: number
  leftOut: string[]
}

const { section, document, rich } = composer(randomPartId)

/** HTML as one block of its own: its styles written into the elements, without what could do harm. */
function ownHtmlOf(html: string): { markup: string; title: string } {
  const title = /<title[^>]*>([\s\S]*?)<\/title>/i.exec(html)?.[1]?.replace(/\s+/g, ' ').trim() ?? ''
  const inlined = juice(html, { removeStyleTags: true, preserveMediaQueries: false })
  const body = /<body[^>]*>([\s\S]*)<\/body>/i.exec(inlined)?.[1] ?? inlined
  return { markup: safeEmailHtml(body).trim(), title }
}

/** Twice of what may be left once its styles are written in and the rest is taken out. */
const longestHtml = 400_000

const tooLong = new Problem(
  422,
  'This email is too long',
  'Its HTML has more than 200,000 signs. Take some of it out, then import it again.',
)

function emailOf(subject: string, html: string): EmailContent {
  // Styles are written in while others wait: that takes the longer the more there is.
  if (html.length > longestHtml) throw tooLong
  const { markup, title } = ownHtmlOf(html)
  if (markup.length > 200_000) throw tooLong
  if (markup === '')
    throw new Problem(422, 'Nothing can be read in this file', 'Choose a page of HTML or an .eml file.')
  return emptyEmail({
    subject: (subject || title).slice(0, 300),
    document: document(section([{ blocks: [freshBlock('ownHtml', randomPartId(), { markup })] }])),
  })
}

/** Pictures that came along go to the Library; the HTML shows them from there. */
async function placePictures(
  q: Queries,
  html: string,
  attachments: readonly Attachment[],
  at: Date,
): Promise<{ html: string; leftOut: string[] }> {
  let placed = html
  const leftOut: string[] = []
  for (const { cid, filename = 'picture', contentType, content } of attachments) {
    const shown = cid !== undefined && placed.includes(`cid:${cid}`)
    const id =
      shown && contentType.startsWith('image/')
        ? await storePicture(q, { name: filename, content }, at).catch(() => null)
        : null
    if (id === null || cid === undefined) {
      leftOut.push(filename)
      continue
    }
    const stored = await q.row<{ address: string }>(
      `select '/pictures/' || id || '-' || edition || '-' || (select max(width) from picture_file where picture_id = id) || '.jpg' address
       from picture where id = $1`,
      [id],
    )
    placed = placed.replaceAll(`cid:${cid}`, stored?.address ?? '')
  }
  return { html: placed, leftOut }
}

/** @throws Problem 422 when nothing can be read in it */
async function readMessage(
  q: Queries,
  bytes: Buffer,
  at: Date,
): Promise<{ content: EmailContent; leftOut: string[] }> {
  const { subject = '', html, text = '', attachments } = await simpleParser(bytes, { skipImageLinks: true })
  if (typeof html === 'string' && html.trim()) {
    const placed = await placePictures(q, html, attachments, at)
    return { content: emailOf(subject, placed.html), leftOut: placed.leftOut }
  }
  if (!text.trim()) throw new Problem(422, 'Nothing can be read in this file', 'Choose another .eml file.')
  if (text.length > 50_000) throw tooLong
  const content = emptyEmail({
    subject: subject.slice(0, 300),
    text: text.trim(),
    textOnly: true,
    document: document(section([{ blocks: [rich(plainRichText(...text.trim().split(/\n{2,}/)).content)] }])),
  })
  return { content, leftOut: attachments.map(({ filename = 'a file' }) => filename) }
}

/**
 * Makes an email of a page of HTML or of a message (RFC 5322) as mail programs save it.
 * @param given.bytes of the file, as they came
 * @throws Problem 422 when nothing can be read in it
 */
export async function importEmail(
  q: Queries,
  { name, bytes }: { name: string; bytes: unknown },
  doing: Doing,
): Promise<Imported> {
  if (!Buffer.isBuffer(bytes) || bytes.length === 0)
    throw new Problem(422, 'This file is empty', 'Choose a page of HTML or an .eml file.')
  const isMessage =
    /\.eml$/i.test(name) || /^[\w-]+:[^\n]*\r?\n/.test(bytes.subarray(0, 1_000).toString('latin1'))
  const { content, leftOut } = isMessage
    ? await readMessage(q, bytes, doing.at)
    : { content: emailOf('', bytes.toString('utf8')), leftOut: [] }
  const called = name
    .replace(/\.(eml|html?)$/i, '')
    .trim()
    .slice(0, 120)
  return { id: await createEmail(q, { name: called || 'Imported email', content }, doing), leftOut }
}
