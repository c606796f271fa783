import type { Readable } from 'node:stream'
import type { FileFormat, ImportChoices } from '../../../contract/audience/imports.ts'
import { guessColumns } from '../../../core/audience/imports/columns.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { Problem } from '../../http/problems.ts'
import { openFields } from '../describing/fields.ts'
import { encodingWatch, headSize, readFormat } from './fileFormat.ts'

/** Two gigabytes: some twenty million people. */
const largest = 2 * 1024 ** 3
const chunkSize = 1024 * 1024

/** Stores what arrives, a chunk a statement: an upload that takes an hour holds no connection for it. */
async function storeChunks(
  q: Queries,
  id: number,
  upload: Readable,
): Promise<{ size: number; format: FileFormat }> {
  const watch = encodingWatch()
  let [size, n, held] = [0, 0, 0]
  let head = Buffer.alloc(0)
  let waiting: Buffer[] = []
  const store = async (): Promise<void> => {
    if (waiting.length === 0) return
    await q.rows('insert into import_chunk (import_id, n, data) values ($1, $2, $3)', [
      id,
      n,
      Buffer.concat(waiting),
    ])
    n += 1
    held = 0
    waiting = []
  }
  // Not destroyed when it is refused: the browser must be able to send on until it has heard why.
  for await (const chunk of upload.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>) {
    size += chunk.length
    if (size > largest)
      throw new Problem(
        413,
        'This file is larger than 2 GB',
        'Nothing was stored. Split it into several files and import each.',
      )
    watch.see(chunk)
    if (head.length < headSize) head = Buffer.concat([head, chunk]).subarray(0, headSize)
    waiting.push(chunk)
    held += chunk.length
    if (held >= chunkSize) await store()
  }
  await store()
  if (size === 0) throw new Problem(422, 'This file is empty', 'Choose the file that lists the people.')
  return { size, format: readFormat(head, watch.end()) }
}

/**
 * Takes an upload in, and tells how the file is to be read and what its columns hold. Nobody sees it before it is
 * there as a whole; what breaks off is gone.
 * @throws Problem 413 when it is too large, 422 when it is no CSV
 */
export async function takeUpload(platform: Platform, fileName: string, upload: Readable): Promise<number> {
  const { database: q, clock } = platform
  const made = await q.row<{ id: number }>(
    `insert into import (file_name, size, format, state, created_at) values ($1, 0, '{}', 'uploading', $2) returning id`,
    [fileName.slice(0, 200), new Date(clock.now())],
  )
  if (!made) throw new Error('an insert returned no row')
  try {
    const { size, format } = await storeChunks(q, made.id, upload)
    const choices: ImportChoices = {
      columns: guessColumns(format.columns, format.samples, await openFields(q)),
      existing: 'update',
      tags: [],
      topics: [],
      permission: 'notAsked',
      statement: '',
      startFollowups: false,
    }
    await q.rows(`update import set state = 'uploaded', size = $2, format = $3, choices = $4 where id = $1`, [
      made.id,
      size,
      JSON.stringify(format),
      JSON.stringify(choices),
    ])
  } catch (error) {
    await q.rows('delete from import where id = $1', [made.id])
    throw error
  }
  await announce(q, 'audience')
  return made.id
}
