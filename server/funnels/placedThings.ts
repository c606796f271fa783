import { Readable } from 'node:stream'
import { nothing, renumber, type NumberedKind, type Numbering } from '../../core/blocks/renumber.ts'
import type { FunnelFile } from '../../core/funnels/funnelFile.ts'
import { tagsNamed } from '../audience/describing/tags.ts'
import type { Doing } from '../blocks/drafts.ts'
import { storeFileIn } from '../capture/files.ts'
import type { Queries } from '../database/connect.ts'
import { storePicture } from '../pages/pictures.ts'

/** How a file becomes things of this install. */
export interface Placing {
  /** The funnel's name, and the first part of its pages' addresses. */
  name: string
  path: string | null
  /** Tags of the same name are shared, or the funnel gets its own. */
  tags: 'shared' | 'new'
  starter?: string | null
  /** Things that are here already, by what they are called in the file: a copy within the install names them as they are. */
  known?: Numbering
}

/** Numbers in the file → numbers here. */
export interface Numbers {
  set: (kind: NumberedKind, id: number, here: number) => void
  of: Numbering
}

/** @param known things that are here already */
export function newNumbers(known: Numbering | undefined): Numbers {
  const found = new Map<string, number>()
  return {
    set: (kind, id, here) => void found.set(`${kind} ${id}`, here),
    // Senders are chosen anew; whatever else is nowhere to be found is named as something deleted, and checks say so.
    of: (kind, id) =>
      found.get(`${kind} ${id}`) ?? known?.(kind, id) ?? (kind === 'senders' ? null : nothing),
  }
}

/** Null for what is named as something deleted, where a reference may be left open. */
export const existing = (id: number | null): number | null => (id === nothing ? null : id)

/** Named after the new funnel where it was named after the old one: by its name alone, or by that and more words. */
export function renamed(name: string, from: string, to: string): string {
  const rest = name.slice(from.length)
  return name.startsWith(from) && !/^[\p{L}\p{N}]/u.test(rest) ? `${to}${rest}` : name
}

/** The newest thing of this name, lower and upper case alike. */
export async function byName(
  q: Queries,
  table:
    | 'topic'
    | 'field'
    | 'segment'
    | 'scorecard'
    | 'shared_detail'
    | 'named_link'
    | 'picture'
    | 'file'
    | 'product',
  name: string,
): Promise<number | undefined> {
  const row = await q.row<{ id: number }>(
    `select id from ${table} where lower(name) = lower($1) order by id desc limit 1`,
    [name],
  )
  return row?.id
}

/** @returns the id of the new row */
export async function inserted(q: Queries, sql: string, values: unknown[]): Promise<number> {
  const row = await q.row<{ id: number }>(`${sql} returning id`, values)
  if (!row) throw new Error('an insert returned no row')
  return row.id
}

/** Pictures and files whose bytes are in the file are stored; of others, those of the same name stand for them. */
export async function placeMedia(
  q: Queries,
  file: FunnelFile,
  numbers: Numbers,
  doing: Doing,
): Promise<void> {
  for (const { id, name, alt, bytes } of file.pictures) {
    const here =
      bytes === null
        ? await byName(q, 'picture', name)
        : await storePicture(q, { name, alt, content: Buffer.from(bytes, 'base64') }, doing.at)
    if (here !== undefined) numbers.set('pictures', id, here)
  }
  for (const { id, name, bytes } of file.files) {
    const here =
      bytes === null
        ? await byName(q, 'file', name)
        : await storeFileIn(q, { name, bytes: Readable.from([Buffer.from(bytes, 'base64')]) }, doing)
    if (here !== undefined) numbers.set('files', id, here)
  }
}

/** What describes people, and what texts say: taken by name where there is one, else made. */
export async function placeWords(
  q: Queries,
  file: FunnelFile,
  numbers: Numbers,
  { tags, name: funnel }: Placing,
  { by, at }: Doing,
): Promise<void> {
  for (const { id, name } of file.tags) {
    const own = renamed(name, file.funnel.name, funnel)
    const called = tags === 'shared' ? name : own === name ? `${funnel}: ${name}` : own
    const [tag] = await tagsNamed(q, [called.slice(0, 80)], at)
    if (tag !== undefined) numbers.set('tags', id, tag)
  }
  for (const { id, name } of file.topics)
    numbers.set(
      'topics',
      id,
      (await byName(q, 'topic', name)) ??
        (await inserted(q, 'insert into topic (name, created_at) values ($1, $2)', [name, at])),
    )
  for (const { id, name, kind, options } of file.fields)
    numbers.set(
      'fields',
      id,
      (await byName(q, 'field', name)) ??
        (await inserted(q, 'insert into field (name, kind, options, created_at) values ($1, $2, $3, $4)', [
          name,
          kind,
          JSON.stringify(options),
          at,
        ])),
    )
  for (const { id, name } of file.scorecards) {
    const here = await byName(q, 'scorecard', name)
    if (here !== undefined) numbers.set('scorecards', id, here)
  }
  for (const { id, name } of file.courses)
    numbers.set(
      'courses',
      id,
      await inserted(q, 'insert into course (name, created_at) values ($1, $2)', [
        renamed(name, file.funnel.name, funnel),
        at,
      ]),
    )
  for (const { id, name, content } of file.details) {
    // Texts say a field of people by that name here.
    if (await byName(q, 'field', name)) continue
    numbers.set(
      'details',
      id,
      (await byName(q, 'shared_detail', name)) ??
        (await inserted(
          q,
          'insert into shared_detail (name, content, changed_at, changed_by) values ($1, $2, $3, $4)',
          [name, JSON.stringify(renumber(content, numbers.of)), at, by],
        )),
    )
  }
}
