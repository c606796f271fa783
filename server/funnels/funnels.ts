import type { FunnelSettings, NewFunnel } from '../../contract/funnels.ts'
import type { Goal, Station } from '../../core/funnels/funnel.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { ThingState } from '../../contract/drafts.ts'

/** A funnel as it is kept. */
export interface Funnel {
  id: number
  name: string
  goal: Goal
  labels: string[]
  line: Station[]
  revision: number
  state: ThingState
  countedSince: Date | null
  changedAt: Date
  changedBy: string
}

export const funnelColumns = `funnel.id, funnel.name, goal, labels, stations line, revision,
  case when archived_at is not null then 'archived' when live_at is null then 'draft' else 'live' end state,
  counted_since "countedSince", changed_at "changedAt", changed_by "changedBy"`

/** @throws Problem 404 */
export async function funnelById(q: Queries, id: number): Promise<Funnel> {
  const found = await q.row<Funnel>(`select ${funnelColumns} from funnel where id = $1`, [id])
  if (!found) throw notFound('This funnel')
  return found
}

async function refuseTakenName(q: Queries, name: string, id: number | null): Promise<void> {
  const taken = await q.row(
    'select from funnel where lower(name) = lower($1) and id is distinct from $2 limit 1',
    [name, id],
  )
  if (taken)
    throw new Problem(409, 'This name is taken', 'Choose another one.', {
      name: 'Another funnel has this name',
    })
}

/** Pages show where "next step" leads, so they are drawn anew. */
const tell = (q: Queries): Promise<void> => announce(q, 'funnels', 'pages')

/** Makes a funnel, which is a draft. @returns its id @throws Problem 409 when the name is taken */
export async function createFunnel(q: Queries, given: NewFunnel, { by, at }: Doing): Promise<number> {
  await refuseTakenName(q, given.name, null)
  const made = await q.row<{ id: number }>(
    `insert into funnel (name, goal, labels, stations, created_at, changed_at, changed_by)
     values ($1, $2, $3, $4, $5, $5, $6) returning id`,
    [given.name, given.goal, given.labels, JSON.stringify(given.line), at, by],
  )
  if (!made) throw new Error('an insert returned no row')
  await tell(q)
  return made.id
}

/**
 * Saves the line. Nothing that stands on it is changed: a page that is taken out stays a page.
 * @throws Problem 404; 409 when somebody else has saved another line meanwhile
 */
export async function saveLine(
  q: Queries,
  id: number,
  { revision, line }: { revision: number; line: readonly Station[] },
  { by, at }: Doing,
): Promise<{ revision: number }> {
  const saved = await q.row<{ revision: number }>(
    `update funnel set stations = $3, revision = revision + 1, changed_at = $4, changed_by = $5
     where id = $1 and revision = $2 returning revision`,
    [id, revision, JSON.stringify(line), at, by],
  )
  if (saved) {
    await tell(q)
    return saved
  }
  const { changedBy } = await funnelById(q, id)
  throw new Problem(
    409,
    `${changedBy} has changed this funnel meanwhile`,
    'What you see is not saved. Reload to see the other line, then change it again.',
  )
}

/** @throws Problem 404, 409 when the name is taken */
export async function setFunnelSettings(
  q: Queries,
  id: number,
  { name, goal, labels }: FunnelSettings,
): Promise<void> {
  await funnelById(q, id)
  await refuseTakenName(q, name, id)
  await q.rows('update funnel set name = $2, goal = $3, labels = $4 where id = $1', [id, name, goal, labels])
  await tell(q)
}

/** Makes a funnel live, or a draft again. What stands on it is published by itself. @throws Problem 404 */
export async function setLive(q: Queries, id: number, live: boolean, at: Date): Promise<void> {
  await funnelById(q, id)
  await q.rows('update funnel set live_at = case when $2 then coalesce(live_at, $3) end where id = $1', [
    id,
    live,
    at,
  ])
  await tell(q)
}

/** Leaves out of a funnel's numbers all until now, or counts it again. @throws Problem 404 */
export async function countAnew(q: Queries, id: number, anew: boolean, at: Date): Promise<void> {
  await funnelById(q, id)
  await q.rows('update funnel set counted_since = $2 where id = $1', [id, anew ? at : null])
  await announce(q, 'funnels')
}

/** Another line through the same pages, as a draft. @throws Problem 404 */
export async function copyFunnel(q: Queries, id: number, doing: Doing): Promise<number> {
  const { name, goal, labels, line } = await funnelById(q, id)
  const taken = await q.rows<{ name: string }>('select lower(name) "name" from funnel', [])
  const names = new Set(taken.map((each) => each.name))
  let copy = `${name.slice(0, 100)} (copy)`
  for (let n = 2; names.has(copy.toLowerCase()); n += 1) copy = `${name.slice(0, 100)} (copy ${n})`
  return createFunnel(q, { name: copy, goal, labels, line: [...line] }, doing)
}

/** @throws Problem 404 */
export async function archiveFunnel(q: Queries, id: number, archived: boolean, at: Date): Promise<void> {
  await funnelById(q, id)
  await q.rows('update funnel set archived_at = $2 where id = $1', [id, archived ? at : null])
  await tell(q)
}

/** Deletes the line; what stood on it stays. @throws Problem 404 */
export async function deleteFunnel(q: Queries, id: number): Promise<void> {
  await funnelById(q, id)
  await q.rows('delete from funnel where id = $1', [id])
  await tell(q)
}

/** The lines by which pages know their next step: of live funnels, since a draft changes nothing for visitors. */
export async function loadLines(q: Queries): Promise<Station[][]> {
  const rows = await q.rows<{ line: Station[] }>(
    'select stations line from funnel where live_at is not null and archived_at is null order by id',
  )
  return rows.map(({ line }) => line)
}
