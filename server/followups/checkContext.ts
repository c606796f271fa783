import type { CheckContext, CheckedEmail } from '../../core/followups/finding.ts'
import { usualAWeek } from '../../core/followups/findings.ts'
import type { Program } from '../../core/followups/program.ts'
import { allSteps, emailsOf } from '../../core/followups/step.ts'
import { ownCoupons } from '../commerce/couponCodes.ts'
import { deadlineNames } from '../commerce/deadlines.ts'
import { loadProgramContext } from './programContext.ts'
import type { Queries } from '../database/connect.ts'
import { checkEmails, type EmailCheck } from '../email/emailDrafts.ts'
import { sells } from '../../core/email/email.ts'
import { loadSendingRules } from '../email/sendingRules.ts'

/** What the check must know of the emails of a program: their newest versions, and what their own checks find. */
function checkedEmails(checks: readonly EmailCheck[]): Record<number, CheckedEmail> {
  const checked = checks.map(({ id, state, content, errors }) => {
    const email: CheckedEmail = {
      state,
      isEmpty: content.subject.trim() === '' && content.document.sections.length === 0,
      purpose: content.purpose,
      sells: sells(content),
      // What is live was right when it was published: what it leads to may be gone since.
      faults: state === 'live' ? [] : errors.map(({ words }) => words),
      deadLinks: state === 'live' ? errors.map(({ words }) => words) : [],
    }
    return [id, email] as const
  })
  return Object.fromEntries(checked)
}

/**
 * What a follow-up is checked against, as everything is now.
 * @param checks of its emails, where somebody has them already
 */
export async function loadCheckContext(
  q: Queries,
  id: number,
  program: Program,
  at: Date,
  checks?: readonly EmailCheck[],
): Promise<CheckContext> {
  const { names, segments } = await loadProgramContext(q, [program])
  const others = await q.rows<{ id: number; name: string; program: Program }>(
    `select id, name, program from followup where state in ('live', 'closing', 'paused') and id <> $1 order by id`,
    [id],
  )
  const elsewhere = await q.row(
    `select from form join form_version on form_id = form.id and number = published_version
     where jsonb_path_exists(content, '$.actions[*] ? (@.does == "startFollowup" && @.followup == $$id)',
       jsonb_build_object('id', $1::bigint))
     union all select from product join product_version on product_id = product.id
       where archived_at is null and number = (select max(number) from product_version where product_id = product.id)
       and jsonb_path_exists(content, '$.** ? (@.does == "startFollowup" && @.followup == $$id)',
         jsonb_build_object('id', $1::bigint))
     limit 1`,
    [id],
  )
  const { aWeek } = await loadSendingRules(q)
  return {
    id,
    names,
    segments,
    emails: checkedEmails(checks ?? (await checkEmails(q, emailsOf(program), at))),
    startedElsewhere:
      elsewhere !== undefined ||
      others.some((other) =>
        allSteps(other.program.steps).some((step) => step.kind === 'startFollowup' && step.followup === id),
      ),
    deadlines: new Set(await deadlineNames(q)),
    coupons: new Set(await ownCoupons(q)),
    others,
    aWeek: aWeek ?? usualAWeek,
    now: at.getTime(),
  }
}
