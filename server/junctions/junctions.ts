import type { JunctionRow, JunctionView } from '../../contract/junctions.ts'
import type { ThingState } from '../../contract/drafts.ts'
import type { JunctionContent } from '../../core/junctions/junction.ts'
import type { Doing } from '../blocks/drafts.ts'
import { publicPathsOf } from '../blocks/publicPaths.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { randomPartId } from '../pages/partIds.ts'
import type { Settings } from '../settings.ts'
import { junctionDrafts, viewProof } from './junctionDrafts.ts'
import { usesOfJunctions } from './uses.ts'

const month = 30 * 86_400_000

export const junctionPaths = publicPathsOf('junction')

/** Makes a junction whose first version is a draft. @returns its id */
export async function createJunction(
  q: Queries,
  { name, content, labels = [] }: { name: string; content: JunctionContent; labels?: readonly string[] },
  doing: Doing,
): Promise<number> {
  const row = await q.row<{ id: number }>(
    `insert into junction (name, path, labels, created_at) values ($1, $2, $3, $4) returning id`,
    [name, await junctionPaths.free(q, name), labels, doing.at],
  )
  if (!row) throw new Error('an insert returned no row')
  await junctionDrafts(null).begin(q, row.id, content, doing)
  await announce(q, 'pages')
  return row.id
}

interface Row extends Omit<JunctionRow, 'usedIn' | 'changedAt'> {
  state: ThingState
  changedAt: Date
}

/** Every junction with its numbers of the last 30 days, the one changed last first. */
export async function listJunctions(q: Queries, now: number): Promise<JunctionRow[]> {
  const rows = await q.rows<Row>(
    `select junction.id, name, path, to_json(labels) labels,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       published_version is not null and newest.number > published_version "hasDraft",
       jsonb_array_length(newest.content->'rules') rules, newest.made_at "changedAt", passed.known, passed.strangers
     from junction join lateral (select number, content, made_at from junction_version where junction_id = junction.id
       order by number desc limit 1) newest on true
     cross join lateral (select coalesce(sum(known), 0)::int known, coalesce(sum(strangers), 0)::int strangers
       from junction_pass where junction_id = junction.id and day >= $1::date) passed
     order by newest.made_at desc, junction.id desc`,
    [new Date(now - month)],
  )
  const uses = await usesOfJunctions(
    q,
    rows.map(({ id }) => id),
  )
  return rows.map(({ changedAt, ...row }) => ({
    ...row,
    usedIn: uses.get(row.id) ?? [],
    changedAt: changedAt.toISOString(),
  }))
}

/** A junction with its draft and what is proved of it, as its editor opens it. @throws Problem 404 */
export async function viewJunction(
  q: Queries,
  id: number,
  { publicUrl }: Pick<Settings, 'publicUrl'>,
  doing: Doing,
): Promise<JunctionView> {
  const row = await q.row<{ path: string; labels: string[] }>(
    'select path, to_json(labels) labels from junction where id = $1',
    [id],
  )
  if (!row) throw notFound('This junction')
  const view = await junctionDrafts(publicUrl).view(q, id, doing)
  return {
    ...view,
    ...row,
    usedIn: (await usesOfJunctions(q, [id])).get(id) ?? [],
    proof: await viewProof(q, view.content, publicUrl),
  }
}

/** Makes a draft that sorts in the same way. @returns its id */
export async function copyJunction(q: Queries, id: number, doing: Doing): Promise<number> {
  const drafts = junctionDrafts(null)
  const { name } = await drafts.thing(q, id)
  const { content } = await drafts.newest(q, id)
  const row = await q.row<{ labels: string[] }>('select to_json(labels) labels from junction where id = $1', [
    id,
  ])
  const copied = { ...content, rules: content.rules.map((rule) => ({ ...rule, id: randomPartId() })) }
  const copy = { name: `${name} (copy)`.slice(0, 120), content: copied, labels: row?.labels ?? [] }
  return createJunction(q, copy, doing)
}

/** @throws Problem 404, 409 while something leads by it */
export async function deleteJunction(q: Queries, id: number): Promise<void> {
  const found = await q.row<{ name: string }>('select name from junction where id = $1 for update', [id])
  if (!found) throw notFound('This junction')
  const usedIn = (await usesOfJunctions(q, [id])).get(id)
  if (usedIn && usedIn.length > 0)
    throw new Problem(409, 'This junction is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  await q.rows('delete from junction where id = $1', [id])
  await announce(q, 'pages')
}
