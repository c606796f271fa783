import { documentReferences } from '../../core/blocks/walk.ts'
import type { CheckContext, CheckedEmail } from '../../core/followups/finding.ts'
import { usualAWeek } from '../../core/followups/findings.ts'
import { conditionsOf, referencesOfProgram, type Program } from '../../core/followups/program.ts'
import { allSteps } from '../../core/followups/step.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import { stateOfThing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { emailDrafts } from '../email/emailDrafts.ts'
import { loadSendingRules } from '../email/sendingRules.ts'

/** What the check must know of the emails of a program: their newest versions, and what their own checks find. */
async function checkedEmails(
  q: Queries,
  ids: readonly number[],
  at: Date,
): Promise<Record<number, CheckedEmail>> {
  const checked: Record<number, CheckedEmail> = {}
  for (const id of ids) {
    const thing = await q.row<{ publishedVersion: number | null; archivedAt: Date | null }>(
      'select published_version "publishedVersion", archived_at "archivedAt" from email where id = $1',
      [id],
    )
    if (!thing) continue
    const { content } = await emailDrafts.newest(q, id)
    const findings = await emailDrafts.findings(q, id, content, at)
    const errors = findings.filter(({ level }) => level === 'error')
    checked[id] = {
      state: stateOfThing(thing),
      isEmpty: content.subject.trim() === '' && content.document.sections.length === 0,
      purpose: content.purpose,
      sells: documentReferences(content.document).some(({ kind }) => kind === 'products'),
      faults: stateOfThing(thing) === 'live' ? [] : errors.map(({ words }) => words),
      deadLinks: stateOfThing(thing) === 'live' ? errors.map(({ words }) => words) : [],
    }
  }
  return checked
}

/** What a follow-up is checked against, as everything is now. */
export async function loadCheckContext(
  q: Queries,
  id: number,
  program: Program,
  at: Date,
): Promise<CheckContext> {
  const { names, segments } = await loadContext(q, conditionsOf(program), referencesOfProgram(program))
  const others = await q.rows<{ id: number; name: string; program: Program }>(
    `select id, name, program from followup where state in ('live', 'closing', 'paused') and id <> $1 order by id`,
    [id],
  )
  const elsewhere = await q.row(
    `select from form join form_version on form_id = form.id and number = published_version
     where jsonb_path_exists(content, '$.actions[*] ? (@.does == "startFollowup" && @.followup == $$id)',
       jsonb_build_object('id', $1::bigint)) limit 1`,
    [id],
  )
  const emails = allSteps(program.steps).flatMap((step) => (step.kind === 'send' ? [step.email] : []))
  const { aWeek } = await loadSendingRules(q)
  return {
    id,
    names,
    segments,
    emails: await checkedEmails(q, [...new Set(emails)], at),
    startedElsewhere:
      elsewhere !== undefined ||
      others.some((other) =>
        allSteps(other.program.steps).some((step) => step.kind === 'startFollowup' && step.followup === id),
      ),
    others,
    aWeek: aWeek ?? usualAWeek,
    now: at.getTime(),
  }
}
