import type { FollowupRow, FollowupView, RehearsalMaterial } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { describeStart } from '../../core/followups/sentences.ts'
import { allSteps, emailsOf } from '../../core/followups/step.ts'
import { emailContent, sells } from '../../core/email/email.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { loadPeople } from '../audience/people/personFacts.ts'
import { loadProgramContext } from './programContext.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../http/problems.ts'
import { followupDrafts } from './followupDrafts.ts'
import { Followup } from './models.ts'
import { webhookSecret } from './outside.ts'

interface ListRow {
  id: number
  inside: number
  finished: number
  due: Date | null
  hasDraft: boolean
}

export async function listFollowups({ database }: Platform): Promise<FollowupRow[]> {
  const followups = await Followup.findAll({ order: ['name'] })
  const rows = await database.rows<ListRow>(
    `select followup.id, coalesce(inside, 0) inside, coalesce(finished, 0) finished, due,
       exists (select from followup_version where followup_id = followup.id
         and number > coalesce(published_version, 0)) "hasDraft"
     from followup left join (
       select followup_id, count(*) filter (where ended_at is null)::int inside,
         count(*) filter (where ended_at is not null)::int finished, min(wakes_at) due
       from enrolment join contact on contact.id = contact_id where not contact.rehearsal group by 1) counted
       on followup_id = followup.id`,
  )
  const counts = new Map(rows.map((row) => [row.id, row]))
  const programs = followups.map(({ program }) => program)
  const { names } = await loadProgramContext(database, programs)
  return followups.map(({ id, name, state, program }) => {
    const found = counts.get(id)
    return {
      id,
      name,
      state,
      startsWhen: program.startsWhen.map((rule) => describeStart(rule, names)),
      steps: allSteps(program.steps).length,
      inside: found?.inside ?? 0,
      finished: found?.finished ?? 0,
      nextDueAt: found?.due?.toISOString() ?? null,
      hasDraft: found?.hasDraft ?? false,
    }
  })
}

/** One follow-up with its draft, as its editor opens it. @throws Problem 404 */
export async function viewFollowup(platform: Platform, id: number, doing: Doing): Promise<FollowupView> {
  const { database } = platform
  const view = await followupDrafts.view(database, id, doing)
  const followup = await Followup.findByPk(id)
  if (!followup) throw notFound('This follow-up')
  const forms = view.content.startsWhen.flatMap((rule) =>
    rule.kind === 'formSent' ? [{ form: rule.form ?? null, page: rule.page ?? null }] : [],
  )
  const pages = await database.rows<{ name: string; path: string }>(
    `select distinct name, '/p/' || path path from page
     join page_version on page_id = page.id and number = published_version
     where archived_at is null and (page.id = any($1) or exists (
       select from jsonb_path_query(content, '$.**.form ? (@.type() == "number")') form where form::text::bigint = any($2)))
     order by 1 limit 5`,
    [
      forms.flatMap(({ page }) => page ?? []),
      forms.flatMap(({ form, page }) => (page === null ? (form ?? []) : [])),
    ],
  )
  return {
    ...view,
    state: followup.state,
    live: view.publishedVersion === null ? null : followup.program,
    pages,
    webhookSecret: webhookSecret(platform),
  }
}

/** How many emails must have gone for their opens to say how people usually are. */
const fewest = 200

/** What a rehearsal in the browser needs besides the draft itself. @throws Problem 404 */
export async function rehearsalMaterial(
  { database, clock }: Platform,
  id: number,
  contact?: number,
): Promise<RehearsalMaterial> {
  const draft = await followupDrafts.newest(database, id)
  const followups = await database.rows<{ id: number; name: string; program: Program }>(
    `select id, name, program from followup where state in ('live', 'closing') and id <> $1 order by id`,
    [id],
  )
  const sent = [draft.content, ...followups.map(({ program }) => program)].flatMap(emailsOf)
  const emails = await database.rows<{ id: number; content: unknown }>(
    `select distinct on (email_id) email_id id, content from email_version
     where email_id = any($1) order by email_id, number desc`,
    [sent],
  )
  const usual = await database.row<{ sent: number; opened: number; clicked: number }>(
    `select count(*)::int sent, count(opened_at)::int opened, count(clicked_at)::int clicked from (
       select opened_at, clicked_at from message where state = 'sent' and purpose = 'marketing'
       order by sent_at desc limit 20000) recent`,
  )
  const segments = await database.rows<{ id: number; tree: Condition }>('select id, tree from segment')
  const person = contact === undefined ? undefined : (await loadPeople(database, [contact], [])).get(contact)
  return {
    followups,
    segments: Object.fromEntries(segments.map(({ id: segment, tree }) => [segment, tree])),
    known: person
      ? {
          marketing: person.marketing,
          tags: [...person.tags],
          topics: [...person.topics],
          fields: person.fields,
          builtIn: person.builtIn,
        }
      : null,
    emails: Object.fromEntries(
      emails.map(({ id: email, content: stored }) => {
        const content = emailContent.parse(stored)
        return [email, { purpose: content.purpose, sells: sells(content) }]
      }),
    ),
    now: new Date(clock.now()).toISOString(),
    usual:
      usual && usual.sent >= fewest && usual.opened > 0
        ? {
            opens: Math.round((usual.opened / usual.sent) * 100),
            clicks: Math.round((usual.clicked / usual.opened) * 100),
          }
        : null,
  }
}
