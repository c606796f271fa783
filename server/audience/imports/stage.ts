import { pipeline } from 'node:stream/promises'
import { Readable } from 'node:stream'
import { parse } from 'csv-parse'
import { from as copyFrom } from 'pg-copy-streams'
import type { FileFormat, ImportChoices } from '../../../contract/audience/imports.ts'
import { lineReader, type ImportedLine } from '../../../core/audience/imports/columns.ts'
import { isZone } from '../../../core/followups/waiting.ts'
import { inChunks, openClient } from '../../database/copy.ts'
import type { Progress } from '../../work/longWork.ts'
import type { Platform } from '../../platform.ts'
import { Problem } from '../../http/problems.ts'
import { readPhone } from '../../../core/audience/people/phone.ts'
import { openFields } from '../describing/fields.ts'
import { csvOptions, describeCsvFault } from './fileFormat.ts'

/** The table that the lines of an import lie in until it is done. */
export const stageOf = (id: number): string => `import_stage_${id}`

const told = 20_000

const tabbed = /[\\\t\n\r]/g
const escapes: Record<string, string> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' }

/** A value in COPY's text format. NUL is no character of PostgreSQL's. */
function field(value: string | null | undefined): string {
  if (value === null || value === undefined) return '\\N'
  return value.replaceAll('\0', '').replace(tabbed, (sign) => escapes[sign] ?? sign)
}

function stagedLine(line: number, cells: readonly string[], read: ImportedLine): string {
  if (!read.ok)
    return `${line}\t${'\\N\t'.repeat(10)}${field(read.reason)}\t${field(JSON.stringify(cells))}\n`
  const { address, builtIn, fields, tags } = read.person
  const values = [
    address.shown,
    address.key,
    builtIn.firstName,
    builtIn.lastName,
    builtIn.phone,
    builtIn.country,
    builtIn.language,
    builtIn.zone,
    JSON.stringify(fields),
    tags.length > 0 ? JSON.stringify(tags) : null,
  ]
  return `${line}\t${values.map(field).join('\t')}\t\\N\t\\N\n`
}

/** The bytes of an uploaded file, chunk by chunk. */
async function* chunksOf(platform: Platform, id: number): AsyncGenerator<Buffer> {
  for (let n = 0; ; n += 1) {
    const chunk = await platform.database.row<{ data: Buffer }>(
      'select data from import_chunk where import_id = $1 and n = $2',
      [id, n],
    )
    if (!chunk) return
    yield chunk.data
  }
}

/**
 * Reads an uploaded file into a table of its own, line by line: what each says of a person, or why it says nothing.
 * Streams from end to end; memory holds a few chunks however long the file is.
 * @throws Problem 422 when the file breaks the form of CSV
 */
export async function stage(
  platform: Platform,
  id: number,
  format: FileFormat,
  choices: ImportChoices,
  size: number,
  progress: Progress,
): Promise<void> {
  const read = lineReader(choices.columns, await openFields(platform.database), {
    phone: readPhone,
    zone: isZone,
  })
  const client = await openClient(platform)
  let seen = 0
  const bytes = async function* (): AsyncGenerator<string> {
    const decoder = new TextDecoder(format.encoding)
    for await (const chunk of chunksOf(platform, id)) {
      seen += chunk.length
      yield decoder.decode(chunk, { stream: true })
    }
    yield decoder.decode()
  }
  const parser = parse({ ...csvOptions, delimiter: format.delimiter, from: 2 })
  const lines = async function* (): AsyncGenerator<string> {
    let line = 1
    for await (const cells of parser as AsyncIterable<string[]>) {
      line += 1
      yield stagedLine(line, cells, read(cells))
      if (line % told === 0) await progress.report('reading the file', seen, size)
    }
  }
  try {
    // Not written ahead to the log: after a crash the table is read anew from the file.
    await client.query(`drop table if exists ${stageOf(id)}`)
    await client.query(
      `create unlogged table ${stageOf(id)} (line int not null, address text, address_key text, first_name text,
         last_name text, phone text, country text, language text, zone text, fields jsonb, tags jsonb,
         reason text, cells jsonb)`,
    )
    const source = pipeline(Readable.from(bytes()), parser)
    // A failure of the reader comes out of the second pipeline too; the first one's own must not go unheard.
    source.catch(() => undefined)
    await pipeline(Readable.from(inChunks(lines())), client.query(copyFrom(`copy ${stageOf(id)} from stdin`)))
    await source
    await client.query(`analyze ${stageOf(id)}`)
  } catch (error) {
    if ((error as { code?: unknown }).code?.toString().startsWith('CSV_'))
      throw new Problem(
        422,
        'The file cannot be read to the end',
        `${describeCsvFault(error)} Nothing was changed.`,
      )
    throw error
  } finally {
    await client.end()
  }
}
