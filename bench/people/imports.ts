import { createReadStream, createWriteStream } from 'node:fs'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { from as copyFrom, to as copyTo } from 'pg-copy-streams'
import type { ImportChoices } from '../../contract/audience/imports.ts'
import { crowdFields, crowdFile } from '../../demo/crowd.ts'
import { saveField } from '../../server/audience/describing/fields.ts'
import {
  startCheck,
  startImport,
  runImportCheck,
  runImport,
  viewImport,
} from '../../server/audience/imports/imports.ts'
import { takeUpload } from '../../server/audience/imports/upload.ts'
import { openClient } from '../../server/database/copy.ts'
import type { Platform } from '../../server/platform.ts'
import { agreedChoices } from '../../testing/people.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { round, type Found } from '../report.ts'

const quiet = { report: () => Promise.resolve() }
const choices = { ...agreedChoices, tags: ['Spring fair', 'Bookbinder'] } satisfies Omit<
  ImportChoices,
  'columns'
>

/** Tables that an import writes; all else of the database stays as it is. */
const written = ['contact', 'contact_tag', 'consent', 'activity'] as const

async function seconds(work: () => Promise<unknown>): Promise<number> {
  const from = performance.now()
  await work()
  return (performance.now() - from) / 1000
}

/** A stream of pieces of text, as an upload is one. */
const uploadOf = (pieces: Iterable<string>): Readable =>
  Readable.from(
    (function* () {
      for (const piece of pieces) yield Buffer.from(piece)
    })(),
  )

/** Takes a file from its upload to the last row; the time is that of trying it out and of doing it. */
async function importFile(
  platform: Platform,
  pieces: Iterable<string>,
): Promise<{ check: number; run: number }> {
  const id = await takeUpload(platform, 'crowd.csv', uploadOf(pieces))
  const { columns } = (await viewImport(platform.database, id)).choices
  await startCheck(platform, id, { ...choices, columns })
  const check = await seconds(() => runImportCheck(platform, id, quiet))
  await startImport(platform, id)
  const run = await seconds(() => runImport(platform, id, quiet))
  return { check, run }
}

/** The yardstick: the rows that the import wrote, by plain COPY into the same tables with the same indexes. */
async function copySameRows(install: TestInstall): Promise<number> {
  const folder = await mkdtemp(join(tmpdir(), 'nurtel-copy-'))
  const other = await openInstall()
  try {
    const [reader, writer] = [await openClient(install.platform), await openClient(other.platform)]
    const columns = async (table: string): Promise<string> => {
      const { rows } = await reader.query<{ list: string }>(
        `select string_agg(column_name, ', ' order by ordinal_position) list from information_schema.columns
         where table_schema = 'public' and table_name = $1 and is_generated = 'NEVER'`,
        [table],
      )
      return rows[0]?.list ?? ''
    }
    for (const table of written)
      await pipeline(
        reader.query(copyTo(`copy (select ${await columns(table)} from ${table}) to stdout`)),
        createWriteStream(join(folder, table)),
      )
    await writer.query('truncate contact, contact_tag, consent, activity, tag cascade')
    const { rows: tags } = await reader.query<{ id: number; name: string }>('select id, name from tag')
    for (const { id, name } of tags)
      await writer.query(
        'insert into tag (id, name, created_at) overriding system value values ($1, $2, now())',
        [id, name],
      )
    const time = await seconds(async () => {
      for (const table of written)
        await pipeline(
          createReadStream(join(folder, table)),
          writer.query(copyFrom(`copy ${table} (${await columns(table)}) from stdin`)),
        )
    })
    await reader.end()
    await writer.end()
    return time
  } finally {
    await other.close()
    await rm(folder, { recursive: true })
  }
}

/** The most memory that this process held while work was done, in MB. */
async function peakMemory(work: () => Promise<void>): Promise<number> {
  let peak = 0
  const watch = setInterval(() => (peak = Math.max(peak, process.memoryUsage.rss())), 20)
  await work()
  clearInterval(watch)
  return peak / 1024 ** 2
}

/** Imports of new people and of people half of whom are known, beside plain COPY; and the memory of it. */
export async function measureImports(install: TestInstall, people: number): Promise<Found> {
  const { platform } = install
  for (const [name, kind] of crowdFields)
    await saveField(platform, null, { name, kind, options: [], archived: false })
  let fresh = { check: 0, run: 0 }
  const peak = await peakMemory(async () => {
    fresh = await importFile(platform, crowdFile(people))
  })
  const copy = await copySameRows(install)
  // The first half is known, and in another seed's words; the second is new.
  const half = await importFile(platform, crowdFile(people, people / 2, 2))
  const total = ({ check, run }: typeof fresh): number => check + run
  const told = ({ check, run }: typeof fresh): string =>
    `${round(check)} s trying out + ${round(run)} s doing`
  const figures = {
    import_new_ratio: round(fresh.run / copy, 2),
    import_half_ratio: round(half.run / copy, 2),
    import_new_whole_ratio: round(total(fresh) / copy, 2),
    import_half_whole_ratio: round(total(half) / copy, 2),
    import_new_s: round(total(fresh)),
    import_half_s: round(total(half)),
    copy_s: round(copy),
    import_peak_mb: round(peak, 0),
  }
  const yardstick = `COPY of the same rows: ${figures.copy_s} s`
  return {
    figures,
    lines: [
      { what: 'import of new people', ours: told(fresh), yardstick },
      {
        what: '  as many times COPY',
        ours: `${figures.import_new_ratio} (whole ${figures.import_new_whole_ratio})`,
      },
      { what: 'import, half of them known', ours: told(half), yardstick },
      {
        what: '  as many times COPY',
        ours: `${figures.import_half_ratio} (whole ${figures.import_half_whole_ratio})`,
      },
      { what: 'most memory of the process', ours: `${figures.import_peak_mb} MB` },
    ],
  }
}
