import { describeChanges } from '../../core/followups/describeChanges.ts'
import { findingsOf } from '../../core/followups/findings.ts'
import { program, type Program } from '../../core/followups/program.ts'
import type { Finding } from '../../core/followups/finding.ts'
import { draftsOf } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import type { EmailCheck } from '../email/emailDrafts.ts'
import { loadCheckContext } from './checkContext.ts'
import { loadProgramContext } from './programContext.ts'

/** How follow-ups are drafted; `goingLive.ts` says what happens when a version goes live. */
export const followupDrafts = draftsOf<Program>({
  table: 'followup',
  word: 'follow-up',
  shape: program,
  prepare: (content) => content,
  findings: async (q, id, content, at) => findingsOf(content, await loadCheckContext(q, id, content, at)),
  describeChanges: async (before, after, q) =>
    describeChanges(before, after, (await loadProgramContext(q, [before, after])).names),
})

/** What the checks of several follow-ups find in their newest versions, by id. @param checks of all their emails */
export async function findingsOfFollowups(
  q: Queries,
  ids: readonly number[],
  at: Date,
  checks: readonly EmailCheck[],
): Promise<Map<number, Finding[]>> {
  const found = new Map<number, Finding[]>()
  for (const id of ids) {
    const { content } = await followupDrafts.newest(q, id)
    found.set(id, findingsOf(content, await loadCheckContext(q, id, content, at, checks)))
  }
  return found
}
