import type { Mended } from '../../contract/funnels.ts'
import type { FunnelMend } from '../../core/funnels/finding.ts'
import type { FileSlot } from '../../core/funnels/funnelFile.ts'
import { mendDocument, mendPage } from '../../core/funnels/mending.ts'
import { edit, findPart, isSection } from '../../core/blocks/operations.ts'
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
      if (mend.mend.does === 'publishEmail') {
        const { number: version, revision } = await emailDrafts.newest(q, mend.mend.email)
        await emailDrafts.publish(q, mend.mend.email, { version, revision }, doing)
        return { thing: 'none' }
      }
      const { mend: within } = mend
      const done = await change(
        q,
        followupDrafts,
        mend.followup,
        (program) => mendProgram(program, within),
        doing,
      )
      return { thing: 'followup', id: mend.followup, ...done }
    }
    case 'unlist':
    case 'leadToNext':
    case 'openNewWindow':
      return {
        thing: 'page',
        id: mend.page,
        ...(await change(q, pageDrafts, mend.page, (page) => mendPage(page, mend), doing)),
      }
    case 'removeBlock':
    case 'markDecorative':
      if (mend.in === 'page')
        return {
          thing: 'page',
          id: mend.id,
          ...(await change(q, pageDrafts, mend.id, (page) => mendPage(page, mend), doing)),
        }
      return {
        thing: 'email',
        id: mend.id,
        ...(await change(
          q,
          emailDrafts,
          mend.id,
          (stored) => {
            const email = emailContent.parse(stored)
            const document = mendDocument(email.document, mend)
            return document && { ...email, document }
          },
          doing,
        )),
      }
  }
}

/** Takes a finding as it is, with a reason; or finds it again. @throws Problem 404 */
export async function acceptFinding(
  q: Queries,
  id: number,
  { words, why }: { words: string; why: string | null },
  { by, at }: Doing,
): Promise<void> {
  const { accepted } = await funnelById(q, id)
  const others = accepted.filter((each) => each.words !== words)
  const now: Accepted[] = why === null ? others : [...others, { words, why, by, at: at.toISOString() }]
  await q.rows('update funnel set accepted = $2 where id = $1', [id, JSON.stringify(now.slice(-200))])
  await tell(q)
}

const withFile = (document: BlockDocument, block: string, file: number): BlockDocument | null => {
  const part = findPart(document, block)?.part
  return part && !isSection(part) && part.kind === 'button'
    ? edit(document, { do: 'change', part: { ...part, target: { to: 'file', file } } }).document
    : null
}

/** Leads every button that waits for it to a file. @throws Problem 404; 409 when nothing waits for one */
export async function giveFile(q: Queries, id: number, file: number, doing: Doing): Promise<void> {
  if (!(await q.row('select from file where id = $1', [file])))
    throw new Problem(422, 'This file is gone', 'Choose another one.', { file: 'Choose another file' })
  const { fileSlots } = await funnelById(q, id)
  const fill = (slot: FileSlot): Promise<unknown> => {
    if (slot.in === 'page')
      return change(
        q,
        pageDrafts,
        slot.page,
        (page) => {
          const document = withFile(page.document, slot.block, file)
          return document && { ...page, document }
        },
        doing,
      )
    return change(
      q,
      emailDrafts,
      slot.email,
      (email) => {
        const document = withFile(email.document, slot.block, file)
        return document && { ...email, document }
      },
      doing,
    )
  }
  if (fileSlots.length === 0)
    throw new Problem(
      409,
      'Nothing here waits for a file',
      'Choose it in the page or the email that gives it.',
    )
  for (const slot of fileSlots) await fill(slot)
  await tell(q)
}
