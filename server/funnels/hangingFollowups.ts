import type { HangingFollowup } from '../../contract/funnels.ts'
import type { FollowupState } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { emailsOf } from '../../core/followups/step.ts'
import { loadNames } from '../audience/segments/names.ts'
import type { Queries } from '../database/connect.ts'

interface Running {
  id: number
  name: string
  state: FollowupState
  program: Program
}

/** The forms that stand on each page, as it is live, or as it is written where it is not. */
export async function formsOn(q: Queries, pages: readonly number[]): Promise<Map<number, number[]>> {
  const rows = await q.rows<{ page: number; forms: number[] }>(
    `select page.id page, json_agg(distinct form::text::bigint) forms from page
     join lateral (select content from page_version where page_id = page.id
       order by number = published_version desc nulls last, number desc limit 1) shown on true
     cross join jsonb_path_query(content, '$.**.form ? (@.type() == "number")') form
     where page.id = any($1) group by 1`,
    [pages],
  )
  return new Map(rows.map(({ page, forms }) => [page, forms]))
}

/** The follow-ups that each form starts by itself, by what it does. */
async function startedByForms(q: Queries): Promise<Map<number, number[]>> {
  const rows = await q.rows<{ form: number; followups: number[] }>(
    `select form.id form, json_agg((action->>'followup')::bigint) followups
     from form join form_version on form_id = form.id and number = published_version
     cross join lateral jsonb_path_query(content, '$.actions[*] ? (@.does == "startFollowup")') action
     where jsonb_typeof(action->'followup') = 'number' group by 1`,
  )
  return new Map(rows.map(({ form, followups }) => [form, followups]))
}

const startsAt = (
  { id, program }: Running,
  page: number,
  forms: readonly number[],
  started: ReadonlySet<number>,
): boolean =>
  started.has(id) ||
  program.startsWhen.some(
    (rule) =>
      (rule.kind === 'formSent' &&
        (rule.page === undefined ? true : rule.page === page) &&
        (rule.form === undefined ? forms.length > 0 : forms.includes(rule.form))) ||
      (rule.kind === 'pageVisited' && rule.page === page),
  )

/**
 * What hangs below each of these pages: the follow-ups that begin with a form on it, or with a visit.
 * @param forms those that stand on each page
 */
export async function hangingFollowups(
  q: Queries,
  pages: readonly number[],
  forms: ReadonlyMap<number, readonly number[]>,
): Promise<Map<number, HangingFollowup[]>> {
  if (pages.length === 0) return new Map()
  const byForm = await startedByForms(q)
  const all = await q.rows<Running>(
    `select id, name, state, program from followup where state <> 'archived' order by name, id`,
  )
  const below = new Map(
    pages.map((page) => {
      const here = forms.get(page) ?? []
      const started = new Set(here.flatMap((form) => byForm.get(form) ?? []))
      return [page, all.filter((each) => startsAt(each, page, here, started))]
    }),
  )
  const hanging = [...new Set([...below.values()].flat())]
  // Only of those that hang here: there may be a million people inside of others.
  const counted = await q.rows<{ id: number; inside: number; due: Date | null }>(
    `select followup_id id, count(*)::int inside, min(wakes_at) due from enrolment
     join contact on contact.id = contact_id and not rehearsal
     where followup_id = any($1) and ended_at is null group by 1`,
    [hanging.map(({ id }) => id)],
  )
  const counts = new Map(counted.map((row) => [row.id, row]))
  const { emails } = await loadNames(
    q,
    hanging.flatMap(({ program }) => emailsOf(program).map((id) => ({ kind: 'emails' as const, id }))),
  )
  const shown = ({ id, name, state, program }: Running): HangingFollowup => ({
    id,
    name,
    state,
    inside: counts.get(id)?.inside ?? 0,
    nextDueAt: counts.get(id)?.due?.toISOString() ?? null,
    emails: emailsOf(program).map((email) => ({ id: email, name: emails[email] ?? 'something deleted' })),
  })
  return new Map([...below].map(([page, these]) => [page, these.map(shown)]))
}
