import { emailContent } from '../../core/email/email.ts'
import { documentLinks } from '../../core/blocks/walk.ts'
import type { Target } from '../../core/blocks/target.ts'
import {
  checkFunnel,
  type CheckedFollowup,
  type CheckedPage,
  type CheckedStation,
  type FunnelFinding,
} from '../../core/funnels/departureCheck.ts'
import type { PagePurpose } from '../../core/pages/page.ts'
import type { HangingFollowup } from '../../contract/funnels.ts'
import type { FindingView } from '../../contract/drafts.ts'
import { formDrafts } from '../capture/formDrafts.ts'
import type { Queries } from '../database/connect.ts'
import { emailDrafts } from '../email/emailDrafts.ts'
import { followupDrafts } from '../followups/followupDrafts.ts'
import { Problem } from '../http/problems.ts'
import { pageDrafts } from '../pages/drafts.ts'
import { funnelById } from './funnels.ts'
import { formsOn, hangingFollowups } from './hangingFollowups.ts'

interface Drafts<Content> {
  newest: (q: Queries, id: number) => Promise<{ content: Content }>
  findings: (q: Queries, id: number, content: Content, at: Date) => Promise<FindingView[]>
}

/** What the own check of a thing says, with its name before it and its editor behind it. */
async function ownFindings<Content>(
  q: Queries,
  drafts: Drafts<Content>,
  { id, name, path }: { id: number; name: string; path: string },
  at: Date,
): Promise<FunnelFinding[]> {
  const { content } = await drafts.newest(q, id)
  const found = await drafts.findings(q, id, content, at)
  return found.map(({ level, words }) => ({ level, words: `“${name}”: ${words}`, part: `${path}/${id}` }))
}

/** Where the links of emails lead, by email. */
async function leadsOfEmails(q: Queries, emails: readonly number[]): Promise<Map<number, Target[]>> {
  const rows = await q.rows<{ id: number; content: unknown }>(
    `select email.id, content from email join lateral (select content from email_version where email_id = email.id
       order by number desc limit 1) newest on true where email.id = any($1)`,
    [emails],
  )
  return new Map(
    rows.map(({ id, content }) => {
      const read = emailContent.safeParse(content)
      return [id, read.success ? documentLinks(read.data.document).map(({ target }) => target) : []]
    }),
  )
}

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
  const forms = await formsOn(q, ids)
  const hanging = await hangingFollowups(q, ids, forms)
  const below = [...new Map([...hanging.values()].flat().map((each) => [each.id, each])).values()]
  const leads = await leadsOfEmails(
    q,
    below.flatMap(({ emails }) => emails.map((email) => email.id)),
  )
  const names = new Map(
    (
      await q.rows<{ id: number; name: string }>('select id, name from form where id = any($1)', [
        [...forms.values()].flat(),
      ])
    ).map((form) => [form.id, form.name]),
  )
  const checked = (followup: HangingFollowup): CheckedFollowup => ({
    ...followup,
    leads: followup.emails.flatMap((email) => leads.get(email.id) ?? []),
  })
  const pages = new Map<number, CheckedPage>()
  for (const { others, ...row } of rows)
    pages.set(row.id, {
      ...row,
      content: (await pageDrafts.newest(q, row.id)).content,
      otherFunnels: others,
      forms: await Promise.all(
        (forms.get(row.id) ?? [])
          .filter((form) => names.has(form))
          .map(async (form) => ({
            id: form,
            name: names.get(form) ?? '',
            content: (await formDrafts.newest(q, form)).content,
          })),
      ),
      followups: (hanging.get(row.id) ?? []).map(checked),
    })
  const stations = line.map((each): CheckedStation => {
    const page = each.kind === 'page' ? (pages.get(each.page) ?? null) : null
    const title = each.kind === 'page' ? (page?.name ?? '') : each.name
    return { id: each.id, title, kind: each.kind, page }
  })
  const own: FunnelFinding[] = []
  for (const { id: page, name } of rows)
    own.push(...(await ownFindings(q, pageDrafts, { id: page, name, path: '/library/pages' }, at)))
  for (const [form, name] of names)
    own.push(...(await ownFindings(q, formDrafts, { id: form, name, path: '/library/forms' }, at)))
  for (const { id: followup, name } of below)
    own.push(...(await ownFindings(q, followupDrafts, { id: followup, name, path: '/follow-ups' }, at)))
  for (const email of leads.keys()) {
    const { name } = await emailDrafts.thing(q, email)
    own.push(...(await ownFindings(q, emailDrafts, { id: email, name, path: '/library/emails' }, at)))
  }
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
