import type { Goal, Station } from '../../core/funnels/funnel.ts'
import type { FileSlot } from '../../core/funnels/funnelFile.ts'
import { funnelSettings, noFunnelSettings, type FunnelSettings } from '../../core/funnels/settings.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { ThingState } from '../../contract/drafts.ts'

/** A finding that somebody has looked at, and left as it is. */
export interface Accepted {
  words: string
  by: string
  why: string
  at: string
}

/** A funnel as it is kept. */
export interface Funnel {
  id: number
  name: string
  goal: Goal
  labels: string[]
  line: Station[]
  settings: FunnelSettings
  /** By which it was made; null when it was put together by hand, copied or imported. */
  starter: string | null
  /** By the key of a page or an email, a hash of what the starter wrote there. */
  starterWords: Record<string, string>
  fileSlots: FileSlot[]
  /** That belong to it although nothing on its line starts them. */
  followups: number[]
  /** Pages that only people in rehearsal may see, while it is rehearsed. */
  rehearsalPages: number[]
  accepted: Accepted[]
  revision: number
  state: ThingState
  countedSince: Date | null
  changedAt: Date
  changedBy: string
}

export const funnelColumns = `funnel.id, funnel.name, goal, labels, stations line, settings, starter, starter_words "starterWords", file_slots "fileSlots", to_json(followups) followups, to_json(rehearsal_pages) "rehearsalPages", accepted, revision,
  case when archived_at is not null then 'archived' when live_at is null then 'draft' else 'live' end state,
  counted_since "countedSince", changed_at "changedAt", changed_by "changedBy"`

/** @throws Problem 404 */
export async function funnelById(q: Queries, id: number): Promise<Funnel> {
  const found = await q.row<Funnel>(`select ${funnelColumns} from funnel where id = $1`, [id])
  if (!found) throw notFound('This funnel')
  return { ...found, settings: funnelSettings.parse(found.settings) }
}

/** @param id of the funnel that wants it; null for a new one @throws Problem 409 */
export async function refuseTakenName(q: Queries, name: string, id: number | null): Promise<void> {
  const taken = await q.row(
    'select from funnel where lower(name) = lower($1) and id is distinct from $2 limit 1',
    [name, id],
  )
  if (taken)
    throw new Problem(409, 'This name is taken', 'Choose another one.', {
      name: 'Another funnel has this name',
    })
}

/** This name, or one made of it, that no funnel has. */
export async function freeName(q: Queries, name: string): Promise<string> {
  const taken = await q.rows<{ name: string }>('select lower(name) "name" from funnel')
  const names = new Set(taken.map((each) => each.name))
  for (let n = 1; ; n += 1) {
    const candidate = n === 1 ? name : `${name.slice(0, 100)} (${n})`
    if (!names.has(candidate.toLowerCase())) return candidate
  }
}

/** Pages show where "next step" leads, so they are drawn anew. */
export const tell = (q: Queries): Promise<void> => announce(q, 'funnels', 'pages')

/** What a funnel begins as; without what is left out it has the site's settings and nothing on its line. */
export interface NewFunnel {
  name: string
  goal: Goal
  labels: string[]
  line?: Station[]
  settings?: FunnelSettings
  fileSlots?: FileSlot[]
  followups?: number[]
  starter?: string | null
}

/** Makes a funnel, which is a draft. @returns its id @throws Problem 409 when the name is taken */
export async function createFunnel(q: Queries, given: NewFunnel, { by, at }: Doing): Promise<number> {
  await refuseTakenName(q, given.name, null)
  const {
    name,
    goal,
    labels,
    line = [],
    settings = noFunnelSettings,
    fileSlots = [],
    followups = [],
    starter = null,
  } = given
  const made = await q.row<{ id: number }>(
    `insert into funnel (name, goal, labels, stations, settings, file_slots, starter, created_at, changed_at, changed_by, followups)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $8, $9, $10) returning id`,
    [
      name,
      goal,
      labels,
      JSON.stringify(line),
      JSON.stringify(settings),
      JSON.stringify(fileSlots),
      starter,
      at,
      by,
      followups,
    ],
  )
  if (!made) throw new Error('an insert returned no row')
  await tell(q)
  return made.id
}

/**
 * Changes a funnel that is still as somebody has seen it.
 * @param set what is set, by the values from $5 on
 * @throws Problem 404; 409 when somebody else has changed it meanwhile
 */
export async function changeFunnel(
  q: Queries,
  id: number,
  revision: number,
  { by, at }: Doing,
  set: string,
  values: readonly unknown[],
): Promise<{ revision: number }> {
  const saved = await q.row<{ revision: number }>(
    `update funnel set ${set}, revision = revision + 1, changed_at = $3, changed_by = $4
     where id = $1 and revision = $2 returning revision`,
    [id, revision, at, by, ...values],
  )
  if (saved) {
    await tell(q)
    return saved
  }
  const { changedBy } = await funnelById(q, id)
  throw new Problem(
    409,
    `${changedBy} has changed this funnel meanwhile`,
    'What you see is not saved. Reload to see it as it is now, then change it again.',
  )
}

/**
 * Saves the line. Nothing that stands on it is changed: a page that is taken out stays a page.
 * @throws as `changeFunnel`
 */
export const saveLine = (
  q: Queries,
  id: number,
  { revision, line }: { revision: number; line: readonly Station[] },
  doing: Doing,
): Promise<{ revision: number }> =>
  changeFunnel(q, id, revision, doing, 'stations = $5', [JSON.stringify(line)])

/** Leaves out of a funnel's numbers all until now, or counts it again. @throws Problem 404 */
export async function countAnew(q: Queries, id: number, anew: boolean, at: Date): Promise<void> {
  await funnelById(q, id)
  await q.rows('update funnel set counted_since = $2 where id = $1', [id, anew ? at : null])
  await announce(q, 'funnels')
}

/** A funnel as the public site knows it. */
export interface LiveFunnel {
  id: number
  line: readonly Station[]
  settings: FunnelSettings
  /** Pages that only people in rehearsal may see yet. */
  rehearsalPages: readonly number[]
}

/** Those that are live, or open to rehearsal: another draft changes nothing for visitors. */
export async function loadLiveFunnels(q: Queries): Promise<LiveFunnel[]> {
  const rows = await q.rows<LiveFunnel>(
    `select id, stations line, settings, to_json(rehearsal_pages) "rehearsalPages" from funnel
     where (live_at is not null or rehearsal_pages <> '{}') and archived_at is null order by id`,
  )
  return rows.map((row) => ({ ...row, settings: funnelSettings.parse(row.settings) }))
}
