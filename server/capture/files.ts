import { fileTypeFromBuffer } from 'file-type'
import type { FileView } from '../../contract/pages.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { usesOf } from '../pages/usage.ts'

export const largestFile = 200 * 1024 * 1024

/** Text formats, which no bytes tell apart: by the end of the name. */
const textTypes: Readonly<Record<string, string>> = {
  vtt: 'text/vtt',
  csv: 'text/csv',
  txt: 'text/plain',
  md: 'text/plain',
}

/** What a file is: by its bytes, or a text by its name. Anything else is only ever downloaded. */
async function mediaTypeOf(name: string, content: Buffer): Promise<string> {
  const told = await fileTypeFromBuffer(content)
  if (told) return told.mime
  const ending = name.split('.').at(-1)?.toLowerCase() ?? ''
  const type = Object.hasOwn(textTypes, ending) ? textTypes[ending] : undefined
  if (type === 'text/vtt' && !/^\uFEFF?WEBVTT/.test(content.subarray(0, 20).toString('utf8')))
    throw new Problem(422, 'These are no captions', 'A captions file begins with the word WEBVTT.')
  return type ?? 'application/octet-stream'
}

/** Stores a file, or puts it in the place of another one: links to that lead to the new one. @returns its id */
export async function storeFile(
  q: Queries,
  { name, content, replaces }: { name: string; content: Buffer; replaces?: number | undefined },
  at: Date,
): Promise<number> {
  if (content.length === 0) throw new Problem(422, 'This file is empty', 'Choose another one.')
  const mediaType = await mediaTypeOf(name, content)
  const row =
    replaces === undefined
      ? await q.row<{ id: number }>(
          'insert into file (name, media_type, content, created_at) values ($1, $2, $3, $4) returning id',
          [name, mediaType, content, at],
        )
      : await q.row<{ id: number }>(
          'update file set name = $2, media_type = $3, content = $4 where id = $1 returning id',
          [replaces, name, mediaType, content],
        )
  if (!row) throw notFound('This file')
  await announce(q, 'pages')
  return row.id
}

/** All files, newest first, with where each is used. */
export async function listFiles(q: Queries): Promise<FileView[]> {
  const rows = await q.rows<{ id: number; name: string; mediaType: string; size: number; createdAt: Date }>(
    `select id, name, media_type "mediaType", octet_length(content) size, created_at "createdAt"
     from file order by id desc`,
  )
  const uses = await usesOf(
    q,
    'file',
    rows.map(({ id }) => id),
  )
  return rows.map(({ createdAt, ...row }) => ({
    ...row,
    createdAt: createdAt.toISOString(),
    usedIn: uses.get(row.id) ?? [],
  }))
}

/** @throws Problem 409 when something still leads to it */
export async function deleteFile(platform: Platform, id: number): Promise<void> {
  const q = platform.database
  const usedIn = (await usesOf(q, 'file', [id])).get(id)
  if (usedIn)
    throw new Problem(409, 'This file is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  await q.rows('delete from file where id = $1', [id])
  await announce(q, 'pages')
}

/** A stretch of a file's bytes, and how many there are. @throws Problem 404 */
export async function fileBytes(
  q: Queries,
  id: number,
  range?: { start: number; end: number },
): Promise<{ mediaType: string; content: Buffer }> {
  const file = await q.row<{ mediaType: string; content: Buffer }>(
    `select media_type "mediaType", substring(content from $2 for $3) content from file where id = $1`,
    [id, (range?.start ?? 0) + 1, range ? range.end - range.start + 1 : 2 ** 31 - 1],
  )
  if (!file) throw notFound('This file')
  return file
}

/** How many bytes a file has. @throws Problem 404 */
export async function fileSize(q: Queries, id: number): Promise<number> {
  const file = await q.row<{ size: number }>('select octet_length(content) size from file where id = $1', [
    id,
  ])
  if (!file) throw notFound('This file')
  return file.size
}
