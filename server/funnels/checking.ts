import { documentLinks } from '../../core/blocks/walk.ts'
import {
  checkFunnel,
  type CheckedForm,
  type CheckedPage,
  type CheckedStation,
  type FunnelFinding,
} from '../../core/funnels/departureCheck.ts'
import { findingsOf } from '../../core/pages/findings.ts'
import type { PagePurpose } from '../../core/pages/page.ts'
import type { FindingView } from '../../contract/drafts.ts'
import { formDrafts } from '../capture/formDrafts.ts'
import type { Queries } from '../database/connect.ts'
import { checkEmails } from '../email/emailDrafts.ts'
import { followupDrafts } from '../followups/followupDrafts.ts'
import { Problem } from '../http/problems.ts'
import { pageDrafts } from '../pages/drafts.ts'
import { surroundingsOf } from '../pages/surroundings.ts'
import { funnelById } from './funnels.ts'
import { formsOn, hangingFollowups } from './hangingFollowups.ts'

/** What the own check of a thing says, with its name before it and its editor behind it. */
const told = (
  { id, name, path }: { id: number; name: string; path: string },
  findings: readonly Pick<FindingView, 'level' | 'words'>[],
): FunnelFinding[] =>
  findings.map(({ level, words }) => ({ level, words: `“${name}”: ${words}`, part: `${path}/${id}` }))

interface PageRow {
  id: number
  name: string
  path: string
  purpose: PagePurpose
  live: boolean
  course: number | null
  others: string[]
}

/** Everything that a funnel's check finds: about the line, and what the things on it say of themselves. @throws Problem 404 */
export async function checkOf(q: Queries, id: number, at: Date): Promise<FunnelFinding[]> {
  const { line } = await funnelById(q, id)
  const ids = line.flatMap((each) => (each.kind === 'page' ? [each.page] : []))
  const rows = await q.rows<PageRow>(
    `select page.id, page.name, path, purpose, published_version is not null and archived_at is null live,
       course_id course,
       array(select other.name from funnel other where other.id <> $2 and other.archived_at is null
         and other.stations @> jsonb_build_array(jsonb_build_object('page', page.id)) order by 1) others
     from page where page.id = any($1)`,
    [ids, id],
  )
  const formsOf = await formsOn(q, ids)
  const hanging = await hangingFollowups(q, ids, formsOf)
  const below = [...new Map([...hanging.values()].flat().map((each) => [each.id, each])).values()]
  const emails = new Map(below.flatMap((each) => each.emails).map((email) => [email.id, email.name]))
  const written = await checkEmails(q, [...emails.keys()], at)
  const leads = new Map(
    written.map((email) => [email.id, documentLinks(email.content.document).map(({ target }) => target)]),
  )
  const own: FunnelFinding[] = written.flatMap(({ id: email, errors }) =>
    told(
      { id: email, name: emails.get(email) ?? '', path: '/library/emails' },
      errors.map((words) => ({ level: 'error', words })),
    ),
  )
  for (const { id: followup, name } of below) {
    const { content } = await followupDrafts.newest(q, followup)
    const found = await followupDrafts.findings(q, followup, content, at)
    own.push(...told({ id: followup, name, path: '/follow-ups' }, found))
  }
  const forms = new Map<number, CheckedForm>()
  for (const form of await q.rows<{ id: number; name: string }>(
    'select id, name from form where id = any($1) order by id',
    [[...formsOf.values()].flat()],
  )) {
    const { content } = await formDrafts.newest(q, form.id)
    forms.set(form.id, { ...form, content })
    own.push(...told({ ...form, path: '/library/forms' }, await formDrafts.findings(q, form.id, content, at)))
  }
  const around = await surroundingsOf(q, at)
  const pages = new Map<number, CheckedPage>()
  for (const { others, ...row } of rows) {
    const { content } = await pageDrafts.newest(q, row.id)
    pages.set(row.id, {
      ...row,
      content,
      otherFunnels: others,
      forms: (formsOf.get(row.id) ?? []).flatMap((form) => forms.get(form) ?? []),
      followups: (hanging.get(row.id) ?? []).map((each) => ({
        ...each,
        leads: each.emails.flatMap((email) => leads.get(email.id) ?? []),
      })),
    })
    own.push(
      ...told(
        { id: row.id, name: row.name, path: '/library/pages' },
        findingsOf(content, row.purpose, around),
      ),
    )
  }
  const stations = line.map((each): CheckedStation => {
    const page = each.kind === 'page' ? (pages.get(each.page) ?? null) : null
    const title = each.kind === 'page' ? (page?.name ?? '') : each.name
    return { id: each.id, title, kind: each.kind, page }
  })
  return [...checkFunnel(stations), ...own].sort(
    (a, b) => Number(a.level === 'advice') - Number(b.level === 'advice'),
  )
}

/** @throws Problem 409 with what keeps a funnel from going live */
export async function refuseFaulty(q: Queries, id: number, at: Date): Promise<void> {
  const errors = (await checkOf(q, id, at)).filter(({ level }) => level === 'error')
  if (errors.length > 0)
    throw new Problem(409, 'This funnel is not ready', `${errors.map(({ words }) => words).join('. ')}.`)
}
