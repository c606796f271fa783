import type { Mended } from '../../contract/funnels.ts'
import type { FunnelMend } from '../../core/funnels/finding.ts'
import { mendDocument } from '../../core/funnels/mending.ts'
import { edit } from '../../core/blocks/operations.ts'
import type { PageContent } from '../../core/pages/page.ts'
import type { BlockDocument } from '../../core/blocks/document.ts'
import { emailContent } from '../../core/email/email.ts'
import { mendProgram } from '../../core/followups/mending.ts'
import type { Doing, Drafts } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { emailDrafts } from '../email/emailDrafts.ts'
import { followupDrafts } from '../followups/followupDrafts.ts'
import { Problem } from '../http/problems.ts'
import { pageDrafts } from '../pages/drafts.ts'
import { queueJobs } from '../work/jobs.ts'
import { waitingButton, waitingSlots } from './fileSlots.ts'
import { funnelById, saveLine, tell, type Accepted } from './funnels.ts'

const gone = (): Problem =>
  new Problem(
    409,
    'There is nothing left to mend here',
    'Somebody has changed it meanwhile. Check the funnel again.',
  )

/** Saves what comes of the newest version of a thing; gives it back as it was, and where its draft stands now. */
async function change<C>(
  q: Queries,
  drafts: Drafts<C>,
  id: number,
  make: (content: C) => C | null,
  doing: Doing,
): Promise<{ before: C; version: number; revision: number }> {
  const { content: before, number, revision } = await drafts.newest(q, id)
  const content = make(before)
  if (content === null) throw gone()
  const saved = await drafts.save(q, id, { version: number, revision, over: false, content }, doing)
  return { before, version: saved.version, revision: saved.revision }
}

/** The same for what stands on a page or in an email. */
async function changeDocument(
  q: Queries,
  { in: thing, id }: { in: 'page' | 'email'; id: number },
  make: (document: BlockDocument) => BlockDocument | null,
  doing: Doing,
): Promise<Mended> {
  const within = <C extends { document: BlockDocument }>(content: C): C | null => {
    const document = make(content.document)
    return document && { ...content, document }
  }
  return thing === 'page'
    ? { thing, id, ...(await change(q, pageDrafts, id, within, doing)) }
    : {
        thing,
        id,
        ...(await change(q, emailDrafts, id, (stored) => within(emailContent.parse(stored)), doing)),
      }
}

/** Puts right what one press can, as drafts. @throws Problem 404; 409 when it is right already */
export async function mendFunnel(q: Queries, id: number, mend: FunnelMend, doing: Doing): Promise<Mended> {
  await queueJobs(q, 'checkFunnels', [{}])
  switch (mend.does) {
    case 'takeOutStation': {
      const { line, revision } = await funnelById(q, id)
      const rest = line.filter((each) => each.id !== mend.station)
      if (rest.length === line.length) throw gone()
      const saved = await saveLine(q, id, { revision, line: rest }, doing)
      return { thing: 'line', id, revision: saved.revision, before: line }
    }
    case 'inFollowup': {
      const { mend: within, followup } = mend
      if (within.does === 'publishEmail') {
        const { number: version, revision } = await emailDrafts.newest(q, within.email)
        await emailDrafts.publish(q, within.email, { version, revision }, doing)
        return { thing: 'none' }
      }
      const done = await change(q, followupDrafts, followup, (program) => mendProgram(program, within), doing)
      return { thing: 'followup', id: followup, ...done }
    }
    case 'unlist': {
      const unlisted = (page: PageContent): PageContent | null =>
        page.listed ? { ...page, listed: false } : null
      return { thing: 'page', id: mend.page, ...(await change(q, pageDrafts, mend.page, unlisted, doing)) }
    }
    case 'leadToNext':
    case 'openNewWindow':
      return changeDocument(
        q,
        { in: 'page', id: mend.page },
        (document) => mendDocument(document, mend),
        doing,
      )
    case 'removeBlock':
    case 'markDecorative':
      return changeDocument(q, mend, (document) => mendDocument(document, mend), doing)
  }
}

/** Takes a finding as it is, with a reason; or finds it again. In a transaction. @throws Problem 404 */
export async function acceptFinding(
  q: Queries,
  id: number,
  { words, why }: { words: string; why: string | null },
  { by, at }: Doing,
): Promise<void> {
  // What two accept at once is kept of both.
  await q.rows('select from funnel where id = $1 for update', [id])
  const { accepted } = await funnelById(q, id)
  const others = accepted.filter((each) => each.words !== words)
  const now: Accepted[] = why === null ? others : [...others, { words, why, by, at: at.toISOString() }]
  await q.rows('update funnel set accepted = $2 where id = $1', [id, JSON.stringify(now.slice(-200))])
  await tell(q)
}

/** Leads a button that leads nowhere yet to a file; null where there is none any more. */
const withFile = (document: BlockDocument, block: string, file: number): BlockDocument | null => {
  const button = waitingButton(document, block)
  return (
    button && edit(document, { do: 'change', part: { ...button, target: { to: 'file', file } } }).document
  )
}

/** Leads every button that waits for it to a file. @throws Problem 404; 409 when nothing waits for one */
export async function giveFile(q: Queries, id: number, file: number, doing: Doing): Promise<void> {
  if (!(await q.row('select from file where id = $1', [file])))
    throw new Problem(422, 'This file is gone', 'Choose another one.', { file: 'Choose another file' })
  const { fileSlots } = await funnelById(q, id)
  const slots = await waitingSlots(q, fileSlots)
  if (slots.length === 0)
    throw new Problem(
      409,
      'Nothing here waits for a file',
      'Choose it in the page or the email that gives it.',
    )
  for (const slot of slots) {
    const owner = slot.in === 'page' ? { in: slot.in, id: slot.page } : { in: slot.in, id: slot.email }
    await changeDocument(q, owner, (document) => withFile(document, slot.block, file), doing)
  }
  await tell(q)
}
