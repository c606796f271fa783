import type { PopUpRow, PopUpView } from '../../contract/popUps.ts'
import type { FindingView, ThingState } from '../../contract/drafts.ts'
import { copyDocument } from '../../core/blocks/operations.ts'
import { describeRules, formsOfPopUp, popUpContent, type PopUpContent } from '../../core/capture/popUp.ts'
import { findingsOfPopUp } from '../../core/capture/popUpFindings.ts'
import { describeDocumentChanges } from '../../core/pages/describeChanges.ts'
import { draftsOf, type Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { randomPartId } from '../pages/partIds.ts'
import { makeDocumentSafe } from '../pages/safeContent.ts'
import { surroundingsOf } from '../pages/surroundings.ts'
import { usesOf } from '../pages/usage.ts'
import { randomToken } from '../signing.ts'

const settings: Record<Exclude<keyof PopUpContent, 'document'>, string> = {
  title: 'title',
  shape: 'shape',
  edge: 'edge',
  opens: 'when it opens',
  pages: 'pages',
  notPages: 'pages that are left out',
  elsewhere: 'other sites',
  devices: 'devices',
  sources: 'sources',
  notTo: 'who does not see it',
  againAfterDays: 'when it may open again',
}

/** How pop-ups are drafted and published. */
export const popUpDrafts = draftsOf<PopUpContent>({
  table: 'pop_up',
  word: 'pop-up',
  shape: popUpContent,
  prepare: (content) => ({ ...content, document: makeDocumentSafe(content.document) }),
  findings: async (q, _id, content, at): Promise<FindingView[]> =>
    findingsOfPopUp(content, await surroundingsOf(q, at)),
  describeChanges: (before, after) => describeDocumentChanges(before, after, settings),
})

/** Makes a pop-up whose first version is a draft, the last in the order. @returns its id */
export async function createPopUp(
  q: Queries,
  { name, content }: { name: string; content: PopUpContent },
  doing: Doing,
): Promise<number> {
  const row = await q.row<{ id: number }>(
    `insert into pop_up (name, key, position, created_at)
     select $1, $2, coalesce(max(position), 0) + 1, $3 from pop_up returning id`,
    [name, randomToken(), doing.at],
  )
  if (!row) throw new Error('an insert returned no row')
  await popUpDrafts.begin(q, row.id, content, doing)
  await announce(q, 'pages')
  return row.id
}

/** A pop-up with its draft, as its editor opens it. @throws Problem 404 */
export async function viewPopUp(q: Queries, id: number, doing: Doing): Promise<PopUpView> {
  const row = await q.row<{ key: string }>('select key from pop_up where id = $1', [id])
  if (!row) throw notFound('This pop-up')
  return {
    ...(await popUpDrafts.view(q, id, doing)),
    ...row,
    usedIn: (await usesOf(q, 'popUp', [id])).get(id) ?? [],
  }
}

interface Row {
  id: number
  name: string
  state: ThingState
  hasDraft: boolean
  content: PopUpContent
  changedAt: Date
}

const month = 30 * 86_400_000

/** Every pop-up in the order in which they open, with its numbers of the last 30 days. */
export async function listPopUps(q: Queries, now: number): Promise<PopUpRow[]> {
  const rows = await q.rows<Row & { seen: number; sent: number }>(
    `select pop_up.id, name,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       published_version is not null and newest.number > published_version "hasDraft", newest.content,
       newest.made_at "changedAt",
       (select coalesce(sum(seen), 0)::int from form_count where place = 'pop-up ' || pop_up.id and day >= $1::date) seen,
       (select count(distinct contact_id)::int from activity join contact on contact.id = contact_id and not rehearsal
         where kind = 'formSent' and at > $1 and details @> jsonb_build_object('popUp', pop_up.id)) sent
     from pop_up join lateral (select number, content, made_at from pop_up_version where pop_up_id = pop_up.id
       order by number desc limit 1) newest on true
     order by position, pop_up.id`,
    [new Date(now - month)],
  )
  const forms = await q.rows<{ id: number; name: string }>('select id, name from form')
  return rows.map(({ content, changedAt, ...row }) => ({
    ...row,
    shape: content.shape,
    forms: formsOfPopUp(content).flatMap((id) => forms.find((form) => form.id === id)?.name ?? []),
    rules: describeRules(popUpContent.parse(content)),
    changedAt: changedAt.toISOString(),
  }))
}

export async function renamePopUp(q: Queries, id: number, name: string): Promise<void> {
  if (!(await q.row('update pop_up set name = $2 where id = $1 returning id', [id, name])))
    throw notFound('This pop-up')
  await announce(q, 'pages')
}

/** Makes a draft that says the same. @returns its id */
export async function copyPopUp(q: Queries, id: number, doing: Doing): Promise<number> {
  const { name } = await popUpDrafts.thing(q, id)
  const { content } = await popUpDrafts.newest(q, id)
  const copied = { ...content, document: copyDocument(content.document, randomPartId) }
  return createPopUp(q, { name: `${name} (copy)`.slice(0, 120), content: copied }, doing)
}

/** Of two pop-ups that are due the first in this order opens. @throws Problem 409 when these are not all of them */
export async function orderPopUps(q: Queries, ids: readonly number[]): Promise<void> {
  const all = await q.rows<{ id: number }>('select id from pop_up for update')
  if (all.length !== new Set(ids).size || !all.every(({ id }) => ids.includes(id)))
    throw new Problem(409, 'The pop-ups have changed', 'Load the page again, then order them.')
  await q.rows(
    `update pop_up set position = number from unnest($1::bigint[]) with ordinality each (id, number)
     where pop_up.id = each.id`,
    [ids],
  )
  await announce(q, 'pages')
}

/** @throws Problem 409 while a button opens it */
export async function deletePopUp(q: Queries, id: number): Promise<void> {
  await popUpDrafts.thing(q, id)
  const usedIn = (await usesOf(q, 'popUp', [id])).get(id)
  if (usedIn)
    throw new Problem(409, 'This pop-up is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  await q.rows('delete from pop_up where id = $1', [id])
  await announce(q, 'pages')
}
