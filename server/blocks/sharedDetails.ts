import type { DetailEdit, SharedDetailView } from '../../contract/sharedDetails.ts'
import { fieldKey, fieldsIn } from '../../core/blocks/mergeText.ts'
import { builtInNames, formatMerged, readerValues } from '../../core/blocks/mergeValues.ts'
import { detailContent } from '../../core/blocks/sharedDetail.ts'
import { isZone } from '../../core/followups/waiting.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { currentDocuments } from '../pages/usage.ts'
import { queueJobs } from '../work/jobs.ts'
import type { Doing } from './drafts.ts'
import { loadMergeFields, sharedDetail, type DetailRow } from './mergeFields.ts'

/** The keys of the fields that anything in a stored document names, and the details whose pictures it shows. */
export function mentionedIn(
  content: unknown,
  found = { keys: new Set<string>(), details: new Set<number>() },
) {
  if (typeof content === 'string') for (const { name } of fieldsIn(content)) found.keys.add(fieldKey(name))
  else if (Array.isArray(content)) for (const each of content) mentionedIn(each, found)
  else if (typeof content === 'object' && content !== null) {
    const { type, attrs, detail } = content as {
      type?: unknown
      attrs?: { name?: unknown }
      detail?: unknown
    }
    if (type === 'mergeField' && typeof attrs?.name === 'string') found.keys.add(fieldKey(attrs.name))
    if (typeof detail === 'number') found.details.add(detail)
    for (const each of Object.values(content)) mentionedIn(each, found)
  }
  return found
}

/** Every document whose texts name fields, or that shows the picture of a detail, with what it names. */
export async function documentsNaming(
  q: Queries,
): Promise<({ place: string } & ReturnType<typeof mentionedIn>)[]> {
  const documents = await q.rows<{ place: string; content: unknown }>(
    `with ${currentDocuments}
     select place, content from document
     where content::text like '%{%"mergeField"%' or content::text ~ '"[^"]*\\{[^"{}]+\\}' or content::text like '%"detail": %'`,
  )
  return documents.map(({ place, content }) => ({ place, ...mentionedIn(content) }))
}

/** Where each of these details is used, in words. */
async function usesOfDetails(q: Queries, details: readonly DetailRow[]): Promise<Map<number, string[]>> {
  const mentions = await documentsNaming(q)
  return new Map(
    details.map(({ id, name, formerNames }) => {
      const keys = [name, ...formerNames].map(fieldKey)
      const places = mentions
        .filter((each) => each.details.has(id) || keys.some((key) => each.keys.has(key)))
        .map(({ place }) => place)
      return [id, [...new Set(places)].sort()]
    }),
  )
}

type StoredDetail = DetailRow & { changedAt: Date; changedBy: string }

const columns = `id, name, content, to_json(former_names) "formerNames", changed_at "changedAt", changed_by "changedBy"`

/** @param now by which a moment has passed */
export async function listDetails(q: Queries, now: number): Promise<SharedDetailView[]> {
  const rows = await q.rows<StoredDetail>(`select ${columns} from shared_detail order by name_key`)
  const uses = await usesOfDetails(q, rows)
  const { values } = readerValues(await loadMergeFields(q), null)
  const pictures = new Map(
    (await q.rows<{ id: number; name: string }>('select id, name from picture')).map(({ id, name }) => [
      id,
      name,
    ]),
  )
  return rows.map((row) => {
    const detail = sharedDetail(row)
    const value = values.get(fieldKey(row.name)) ?? null
    return {
      id: row.id,
      name: row.name,
      content: detailContent.parse(row.content),
      says:
        detail.kind === 'picture'
          ? (pictures.get(detail.picture) ?? 'a picture that was deleted')
          : value === null
            ? ''
            : formatMerged(value, null, null),
      past: detail.kind === 'moment' && detail.at < now,
      usedIn: uses.get(row.id) ?? [],
      changedAt: row.changedAt.toISOString(),
      changedBy: row.changedBy,
    }
  })
}

/** Emails keep what was made of a picture: they are made anew. Everything else is asked for as it is read. */
async function changed(q: Queries): Promise<void> {
  await queueJobs(q, 'renewEmails', [{}])
  await announce(q, 'pages')
}

async function refuseUnfit(q: Queries, id: number | null, { name, content }: DetailEdit): Promise<void> {
  if (content.kind === 'moment' && !isZone(content.zone))
    throw new Problem(422, `There is no time zone ${content.zone}`, 'Choose one from the list.')
  if (content.kind === 'picture' && !(await q.row('select from picture where id = $1', [content.picture])))
    throw new Problem(422, 'This picture was deleted', 'Choose another picture.')
  const key = fieldKey(name)
  const taken = await q.row<{ what: string }>(
    `select 'a shared detail' what from shared_detail where name_key = lower($1) and id is distinct from $2
     union all select 'an own field' from field where name_key = lower($1)`,
    [name, id],
  )
  const isBuiltIn = Object.values<string>(builtInNames).includes(key)
  if (taken || isBuiltIn)
    throw new Problem(
      409,
      'This name is taken',
      `${isBuiltIn ? 'Everybody has a field of that name' : `There is ${taken?.what} of that name`}. Choose another.`,
    )
}

/** @throws Problem 409 when the name is taken, 422 */
export async function createDetail(q: Queries, edit: DetailEdit, { by, at }: Doing): Promise<number> {
  await refuseUnfit(q, null, edit)
  const row = await q.row<{ id: number }>(
    'insert into shared_detail (name, content, changed_at, changed_by) values ($1, $2, $3, $4) returning id',
    [edit.name, JSON.stringify(edit.content), at, by],
  )
  if (!row) throw new Error('an insert returned no row')
  await changed(q)
  return row.id
}

/** Changes what a detail says, wherever it is used; texts that name it as it was called go on saying it. @throws Problem 404, 409, 422 */
export async function saveDetail(q: Queries, id: number, edit: DetailEdit, { by, at }: Doing): Promise<void> {
  await refuseUnfit(q, id, edit)
  const before = await q.row<DetailRow>(`select ${columns} from shared_detail where id = $1 for update`, [id])
  if (!before) throw notFound('This shared detail')
  if (sharedDetail(before).kind !== edit.content.kind)
    throw new Problem(
      409,
      'The type of a shared detail cannot be changed',
      'Texts count on it. Create another.',
    )
  await q.rows(
    `update shared_detail set
       former_names = case when name = $2 then former_names else array_append(former_names, name) end,
       name = $2, content = $3, changed_at = $4, changed_by = $5 where id = $1`,
    [id, edit.name, JSON.stringify(edit.content), at, by],
  )
  await changed(q)
}

/** @throws Problem 404, 409 while something says it */
export async function deleteDetail(q: Queries, id: number): Promise<void> {
  const row = await q.row<DetailRow>(`select ${columns} from shared_detail where id = $1 for update`, [id])
  if (!row) throw notFound('This shared detail')
  const places = (await usesOfDetails(q, [row])).get(id) ?? []
  if (places.length > 0)
    throw new Problem(409, `“${row.name}” is in use`, `Take it out of these first: ${places.join(', ')}.`)
  await q.rows('delete from shared_detail where id = $1', [id])
  await changed(q)
}
