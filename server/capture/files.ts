import { fileTypeFromBuffer } from 'file-type'
import type { FileView } from '../../contract/pages.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'
import { usesOf } from '../pages/usage.ts'
import { queueJobs } from '../work/jobs.ts'
import { databaseStore, noScanner, type FileScanner, type Stored } from './fileStore.ts'

export const largestFile = 100 * 1024 * 1024

/** Text formats, which no bytes tell apart: by the end of the name. */
const textTypes: Readonly<Record<string, string>> = {
  vtt: 'text/vtt',
  csv: 'text/csv',
  txt: 'text/plain',
  md: 'text/plain',
}

/** What a file is: by its first bytes, or a text by its name. Anything else is only ever downloaded. */
async function mediaTypeOf(name: string, head: Buffer): Promise<string> {
  const told = await fileTypeFromBuffer(head)
  if (told) return told.mime
  const ending = name.split('.').at(-1)?.toLowerCase() ?? ''
  const type = Object.hasOwn(textTypes, ending) ? textTypes[ending] : undefined
  if (type === 'text/vtt' && !/^\uFEFF?WEBVTT/.test(head.subarray(0, 20).toString('utf8')))
    throw new Problem(422, 'These are no captions', 'A captions file begins with the word WEBVTT.')
  return type ?? 'application/octet-stream'
}

/** A name that is one on every system: without what parts folders, and without characters that cannot be seen. */
export const safeFileName = (name: string): string =>
  name
    .normalize('NFC')
    .replace(/[\p{Cc}\p{Cf}\p{Zl}\p{Zp}]/gu, '')
    .replace(/[\\/:*?"<>|]/g, '-')
    .replace(/^[.\s]+|[.\s]+$/g, '')
    .slice(-200) || 'file'

function refuseLarge(size: number): void {
  if (size > largestFile)
    throw new Problem(
      413,
      'This file is larger than 100 MB',
      'Nothing was stored. Make it smaller, or give it out at a host of films.',
    )
}

/** Stores the bytes of a file, and looks what it is. */
async function takeIn(
  q: Queries,
  incoming: Incoming,
  { at }: Doing,
  scanner: FileScanner,
): Promise<{ stored: Stored; name: string; mediaType: string }> {
  const store = databaseStore(q)
  const name = safeFileName(incoming.name)
  const stored = await store.write(incoming.bytes, at, refuseLarge)
  try {
    if (stored.size === 0) throw new Problem(422, 'This file is empty', 'Choose another one.')
    const mediaType = await mediaTypeOf(name, stored.head)
    const fault = await scanner.faultOf(() => store.read(stored.key))
    if (fault !== null) throw new Problem(422, 'This file was refused', fault)
    return { stored, name, mediaType }
  } catch (error) {
    await store.delete(stored.key)
    throw error
  }
}

/** A file that comes in. */
export interface Incoming {
  name: string
  bytes: AsyncIterable<Buffer>
  /** Links to that lead to the new one. */
  replaces?: number | undefined
}

/** Makes a file of what was stored, or the next version of one. @returns its id */
async function keepFile(
  q: Queries,
  { name, replaces }: Pick<Incoming, 'name' | 'replaces'>,
  { key, size }: Stored,
  mediaType: string,
  { by, at }: Doing,
): Promise<number> {
  const file =
    replaces === undefined
      ? await q.row<{ id: number }>(
          'insert into file (name, media_type, created_at) values ($1, $2, $3) returning id',
          [name, mediaType, at],
        )
      : await q.row<{ id: number }>('select id from file where id = $1 for update', [replaces])
  if (!file) throw notFound('This file')
  const version = await q.row<{ number: number }>(
    `insert into file_version (file_id, number, key, name, media_type, size, made_at, made_by)
     select $1, coalesce(max(number), 0) + 1, $2, $3, $4, $5, $6, $7 from file_version where file_id = $1
     returning number`,
    [file.id, key, name, mediaType, size, at, by],
  )
  const number = version?.number ?? 1
  await q.rows('update file set version = $2, name = $3, media_type = $4 where id = $1', [
    file.id,
    number,
    name,
    mediaType,
  ])
  await queueJobs(q, 'previewFile', [{ file: file.id, version: number }])
  await announce(q, 'pages')
  return file.id
}

/** Takes a file in within the transaction of `q`. @throws Problem as `storeFile` */
export async function storeFileIn(
  q: Queries,
  incoming: Incoming,
  doing: Doing,
  scanner: FileScanner = noScanner,
): Promise<number> {
  const { stored, name, mediaType } = await takeIn(q, incoming, doing, scanner)
  return keepFile(q, { name, replaces: incoming.replaces }, stored, mediaType, doing)
}

/**
 * Takes a file in as its bytes come, or puts it in the place of another one, whose earlier versions are kept.
 * @throws Problem 413 when it is too large, 422 when it is empty or the scanner finds something
 */
export async function storeFile(
  { database }: Pick<Platform, 'database'>,
  incoming: Incoming,
  doing: Doing,
  scanner: FileScanner = noScanner,
): Promise<number> {
  const { stored, name, mediaType } = await takeIn(database, incoming, doing, scanner)
  try {
    return await database.inTransaction((tx) =>
      keepFile(tx, { name, replaces: incoming.replaces }, stored, mediaType, doing),
    )
  } catch (error) {
    await databaseStore(database).delete(stored.key)
    throw error
  }
}

interface Row {
  id: number
  name: string
  mediaType: string
  size: number
  createdAt: Date
  linkDays: number
  mostDownloads: number | null
  hasPreview: boolean
  downloads: number
  people: number
  versions: { number: number; name: string; size: number; madeAt: string; madeBy: string; current: boolean }[]
}

/** All files, newest first, with where each is used and who took it. */
export async function listFiles(q: Queries): Promise<FileView[]> {
  const rows = await q.rows<Row>(
    `select file.id, file.name, file.media_type "mediaType", current.size, created_at "createdAt", link_days "linkDays",
       most_downloads "mostDownloads", current.preview is not null "hasPreview",
       (select count(*) from file_download where file_id = file.id) downloads,
       (select count(distinct contact_id) from activity join contact on contact.id = contact_id and not rehearsal
         where kind = 'fileDownloaded' and details @> jsonb_build_object('file', file.id)) people,
       (select json_agg(json_build_object('number', number, 'name', name, 'size', size,
           'madeAt', to_char(made_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"'), 'madeBy', made_by,
           'current', number = file.version) order by number desc)
         from file_version where file_id = file.id) versions
     from file join file_version current on current.file_id = file.id and current.number = file.version
     order by file.id desc`,
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

/** Renames a file, and says for how long and how often its links are good. @throws Problem 404 */
export async function editFile(
  q: Queries,
  id: number,
  { name, linkDays, mostDownloads }: { name: string; linkDays: number; mostDownloads: number | null },
): Promise<void> {
  const found = await q.row(
    'update file set name = $2, link_days = $3, most_downloads = $4 where id = $1 returning id',
    [id, safeFileName(name), linkDays, mostDownloads],
  )
  if (!found) throw notFound('This file')
  await announce(q, 'pages')
}

/** Gives out an earlier version again. @throws Problem 404 */
export async function useFileVersion(q: Queries, id: number, version: number): Promise<void> {
  const found = await q.row(
    `update file set version = number, media_type = file_version.media_type from file_version
     where file.id = $1 and file_id = file.id and number = $2 returning file.id`,
    [id, version],
  )
  if (!found) throw notFound('This version')
  await announce(q, 'pages')
}

/** @throws Problem 409 when something still leads to it */
export async function deleteFile({ database: q }: Platform, id: number): Promise<void> {
  const usedIn = (await usesOf(q, 'file', [id])).get(id)
  if (usedIn)
    throw new Problem(409, 'This file is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  await q.rows(
    `with gone as (delete from file where id = $1 returning id)
     delete from stored_file where key in (select key from file_version where file_id in (select id from gone))`,
    [id],
  )
  await announce(q, 'pages')
}

/** A file as it is given out now. */
export interface CurrentFile {
  id: number
  name: string
  version: number
  mediaType: string
  size: number
  key: string
  linkDays: number
  mostDownloads: number | null
}

export const currentFile = (q: Queries, id: number): Promise<CurrentFile | undefined> =>
  q.row<CurrentFile>(
    `select file.id, file.name, number as version, file_version.media_type "mediaType", size, key, link_days "linkDays",
       most_downloads "mostDownloads"
     from file join file_version on file_id = file.id and number = file.version where file.id = $1`,
    [id],
  )

/** Deletes what uploads left behind that broke off with their process. A part of `maintenance`. */
export async function forgetBrokenUploads({ database, clock }: Platform): Promise<void> {
  await database.rows(
    `delete from stored_file where created_at < $1 and key not in (select key from file_version)`,
    [new Date(clock.now() - 86_400_000)],
  )
}
