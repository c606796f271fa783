import { z } from 'zod'
import type {
  ContactList,
  ContactQuery,
  ContactRow,
  ContactSort,
  Selection,
} from '../../../contract/audience/people.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { MarketingState } from '../../../core/audience/people/permission.ts'
import { missingIn } from '../../../core/audience/segments/references.ts'
import { isStorable } from '../../../core/text.ts'
import { createBinds, type Binds } from '../../database/binds.ts'
import type { Queries } from '../../database/connect.ts'
import { Problem } from '../../http/problems.ts'
import { loadContext, refuseLarge } from '../segments/evaluationContext.ts'
import { conditionSql } from '../segments/conditionSql.ts'

/** What each order sorts by; each has an index, and the id settles ties. */
const orders: Record<ContactSort, { key: string; direction: 'asc' | 'desc' }> = {
  newest: { key: 'c.created_at', direction: 'desc' },
  oldest: { key: 'c.created_at', direction: 'asc' },
  name: { key: 'c.name_key', direction: 'asc' },
  nameDesc: { key: 'c.name_key', direction: 'desc' },
  address: { key: 'c.address_key collate "C"', direction: 'asc' },
  addressDesc: { key: 'c.address_key collate "C"', direction: 'desc' },
}

/** A contact as lists read it. */
export interface Row {
  id: number
  first_name: string
  last_name: string
  address: string
  marketing_state: MarketingState
  country: string | null
  rehearsal: boolean
  created_at: Date
  tags: { id: number; name: string }[]
}

/** What `Row` is read from; `c` is the contact. */
export const contactRowColumns = `c.id, c.first_name, c.last_name, c.address, c.marketing_state, c.country,
  c.rehearsal, c.created_at,
  coalesce((select json_agg(json_build_object('id', tag.id, 'name', tag.name) order by added_at, tag.id)
    from contact_tag join tag on tag.id = tag_id where contact_id = c.id), '[]') tags`

export function viewContactRow(row: Row): ContactRow {
  return {
    id: row.id,
    name: `${row.first_name} ${row.last_name}`.trim(),
    address: row.address,
    marketingState: row.marketing_state,
    country: row.country,
    tags: row.tags,
    rehearsal: row.rehearsal,
    createdAt: row.created_at.toISOString(),
  }
}

/** `%` and `_` in what people type are letters, not wildcards. */
export function containing(typed: string): string {
  return `%${typed.replace(/[\\%_]/g, '\\$&')}%`
}

/** Fewer letters than an index of three at a time can find: then only beginnings of words are looked for. */
const shortest = 3

function searchSql(typed: string, binds: Binds, row = 'c'): string {
  if (typed === '') return 'true'
  const wanted = typed.length < shortest ? ` ${typed}` : typed
  return `${row}.search_key like ${binds.add(containing(wanted.toLowerCase()))}`
}

/** Who is meant, as SQL over a row `c` of contact, with what a statement needs for it. */
interface SelectionSql {
  sql: string
  binds: ReturnType<typeof createBinds>
}

/** So many, by the planner's estimate, are found through the search index in no time. */
const atOnce = 500

/** So many are fetched and sorted in a moment; more are found sooner by walking the list in its order. */
const soonSorted = 20_000

/** So many people of an order are looked through in a few milliseconds, by an index that carries what search looks in. */
const near = 20_000

/** How people who are searched for are found: look through those who come next, find all and sort, or walk on. */
type Way = 'near' | 'found' | 'walked'

/**
 * The ways to try one after the other until a page is full. What is searched for may lie together in an order, all at
 * its end: the planner, which takes it for spread evenly, would walk past everybody. So only those who come next are
 * looked through by chance; then the planner's estimate of how many there are, which is good and costs nothing, tells
 * what is quicker. At a million people a page takes 3 to 15 ms if it is near, up to 60 if few are found and sorted,
 * and 300 if many all come last.
 */
async function strategiesFor(
  q: Queries,
  { search, rehearsal }: ContactQuery,
  meant: SelectionSql,
): Promise<Way[]> {
  if (search === '' || rehearsal === 'only') return ['walked']
  const [told] = await q.rows<{ 'QUERY PLAN': { Plan: { 'Plan Rows': number } }[] }>(
    `explain (format json) ${meant.binds.with} select from contact c where ${meant.sql}`,
    meant.binds.values,
  )
  const estimate = told?.['QUERY PLAN'][0]?.Plan['Plan Rows'] ?? Infinity
  if (estimate <= atOnce) return ['found']
  return ['near', estimate <= soonSorted ? 'found' : 'walked']
}

/** Refuses to guess who is meant by a condition that speaks of something deleted. @throws Problem 409 */
function refuseBroken(missing: readonly string[]): void {
  if (missing.length > 0)
    throw new Problem(
      409,
      'This condition is incomplete',
      `It refers to ${missing.join(' and ')}. Choose something else there; until then nothing is sent or changed.`,
    )
}

/**
 * Those who are meant, as SQL over a row `c` of contact; the statement begins with `binds.with`.
 * @throws Problem 409 when the condition speaks of something deleted, 422 when it asks more than anybody waits for
 */
export async function selectionSql(q: Queries, who: Selection, binds: Binds, now: Instant): Promise<string> {
  const parts = [who.rehearsal === 'only' ? 'c.rehearsal' : 'not c.rehearsal', searchSql(who.search, binds)]
  if (who.only) parts.push(`c.id = any(${binds.add(who.only)})`)
  if (who.tree) {
    const context = await loadContext(q, [who.tree])
    refuseLarge([who.tree], context.segments)
    refuseBroken(missingIn(who.tree, context.names))
    parts.push(conditionSql(who.tree, { ...context, now }, binds))
  }
  return parts.filter((part) => part !== 'true').join(' and ')
}

const cursorKey = z.tuple([z.string().max(1_000), z.number().int().positive()])
const instantText = /^\d{4,6}-\d\d-\d\d \d\d:\d\d:\d\d(\.\d{1,6})?[+-]\d\d(:\d\d){0,2}$/

/** The last row of a page, as the key of the next; null when it is none of ours. */
function readCursor(cursor: string, { key }: { key: string }): [string, number] | null {
  try {
    const [value, id] = cursorKey.parse(JSON.parse(Buffer.from(cursor, 'base64url').toString('utf8')))
    const isFit = key === 'c.created_at' ? instantText.test(value) : isStorable(value)
    return isFit ? [value, id] : null
  } catch {
    return null
  }
}

const cursorOf = (key: string, id: number): string =>
  Buffer.from(JSON.stringify([key, id])).toString('base64url')

/** The rows of a page, and one more if there is one, as far as a way finds them. */
async function take(
  q: Queries,
  query: ContactQuery,
  meant: SelectionSql,
  way: Way,
): Promise<(Row & { key: string })[]> {
  const binds = createBinds(meant.binds)
  const { key, direction } = orders[query.sort]
  const cursor = query.after === null ? null : readCursor(query.after, orders[query.sort])
  const kind = key === 'c.created_at' ? 'timestamptz' : 'text'
  const beyond = cursor
    ? `and (${key}, c.id) ${direction === 'asc' ? '>' : '<'} (${binds.add(cursor[0])}::${kind}, ${binds.add(cursor[1])}::bigint)`
    : ''
  const order = `${key} ${direction}, c.id ${direction}`
  const ways: Record<Way, () => string> = {
    near: () => `(select ${key} key, c.id, c.search_key from contact c where not c.rehearsal ${beyond}
        order by ${order} limit ${near}) next join contact c on c.id = next.id
      where ${searchSql(query.search, binds, 'next')} and ${meant.sql} order by next.key ${direction}, next.id ${direction}`,
    found: () =>
      `(select c.* from contact c where ${meant.sql} offset 0) c where true ${beyond} order by ${order}`,
    walked: () => `contact c where ${meant.sql} ${beyond} order by ${order}`,
  }
  // Who they are is looked up for the page alone: an index knows enough to find them.
  return q.rows<Row & { key: string }>(
    `${binds.with} select ${contactRowColumns}, (${key})::text key from (
       select c.id from ${ways[way]()} limit ${binds.add(query.size + 1)}) page
     join contact c on c.id = page.id order by ${order}`,
    binds.values,
  )
}

/**
 * One page of the people who are meant. Pages go on from the last row of the one before, so that the thousandth is
 * as quick as the first.
 */
export async function listContacts(q: Queries, query: ContactQuery, now: Instant): Promise<ContactList> {
  const binds = createBinds()
  const meant: SelectionSql = { sql: await selectionSql(q, query, binds, now), binds }
  let rows: (Row & { key: string })[] = []
  for (const way of await strategiesFor(q, query, meant)) {
    rows = await take(q, query, meant, way)
    if (rows.length > query.size) break
  }
  const page = rows.slice(0, query.size)
  const last = page.at(-1)
  return {
    rows: page.map(viewContactRow),
    next: rows.length > page.length && last ? cursorOf(last.key, last.id) : null,
  }
}

/** How many people are meant. */
export async function countContacts(q: Queries, who: Selection, now: Instant): Promise<number> {
  const binds = createBinds()
  const meant = await selectionSql(q, who, binds, now)
  const found = await q.row<{ people: number }>(
    `${binds.with} select count(*) people from contact c where ${meant}`,
    binds.values,
  )
  return found?.people ?? 0
}
