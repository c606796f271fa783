import { describeChanges } from '../../core/followups/describeChanges.ts'
import { findingsOf } from '../../core/followups/findings.ts'
import { program, type Program } from '../../core/followups/program.ts'
import { draftsOf } from '../blocks/drafts.ts'
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
