import type { HangingFollowup } from '../../contract/funnels.ts'
import type { FollowupState } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { emailsOf } from '../../core/followups/step.ts'
import { loadNames } from '../audience/segments/names.ts'
import type { Queries } from '../database/connect.ts'

interface Row {
  id: number
  name: string
  state: FollowupState
  program: Program
  inside: number
  due: Date | null
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
  { id, program }: Row,
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

/** What hangs below each of these pages: the follow-ups that begin with a form on it, or with a visit. */
export async function hangingFollowups(
  q: Queries,
  pages: readonly number[],
): Promise<Map<number, HangingFollowup[]>> {
  if (pages.length === 0) return new Map()
  const [forms, byForm] = [await formsOn(q, pages), await startedByForms(q)]
  const followups = await q.rows<Row>(
    `select id, name, state, program, coalesce(inside, 0) inside, due from followup left join (
       select followup_id, count(*)::int inside, min(wakes_at) due from enrolment
       join contact on contact.id = contact_id and not rehearsal where ended_at is null group by 1) counted
       on followup_id = id
     where state <> 'archived' order by name, id`,
  )
  const { emails } = await loadNames(
    q,
    followups.flatMap(({ program }) => emailsOf(program).map((id) => ({ kind: 'emails' as const, id }))),
  )
  return new Map(
    pages.map((page) => {
      const here = forms.get(page) ?? []
      const started = new Set(here.flatMap((form) => byForm.get(form) ?? []))
      return [
        page,
        followups
          .filter((each) => startsAt(each, page, here, started))
          .map(({ id, name, state, inside, due, program }) => ({
            id,
            name,
            state,
            inside,
            nextDueAt: due?.toISOString() ?? null,
            emails: emailsOf(program).map((email) => ({
              id: email,
              name: emails[email] ?? 'something deleted',
            })),
          })),
      ]
    }),
  )
}
