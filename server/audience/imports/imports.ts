import type {
  FileFormat,
  ImportChoices,
  ImportCounts,
  ImportRow,
  ImportView,
} from '../../../contract/audience/imports.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import { startWork, readWork, type Progress } from '../../work/longWork.ts'
import type { Platform } from '../../platform.ts'
import { notFound, Problem } from '../../http/problems.ts'
import { mergePeopleIn } from './merge.ts'
import { countChanges, peopleOf, resolvePeople } from './resolve.ts'
import { stage, stageOf } from './stage.ts'
import { undoImport } from './undo.ts'

interface ImportRecord {
  id: number
  fileName: string
  size: number
  format: FileFormat
  choices: ImportChoices
  state: ImportView['state']
  counts: ImportCounts | null
  work: number | null
  createdAt: Date
  endedAt: Date | null
}

const columns = `id, file_name "fileName", size, format, choices, state, counts, work_id work,
  created_at "createdAt", ended_at "endedAt"`

async function importById(q: Queries, id: number, lock = false): Promise<ImportRecord> {
  const found = await q.row<ImportRecord>(
    `select ${columns} from import where id = $1 and state <> 'uploading' ${lock ? 'for update' : ''}`,
    [id],
  )
  if (!found) throw notFound('This import')
  return found
}

/** Begins a piece of work on an import that is in one of these states. @throws Problem 404, 409 */
async function beginOn(
  platform: Platform,
  id: number,
  from: ImportView['state'][],
  to: ImportView['state'],
  kind: 'import' | 'importCheck' | 'importUndo',
  choices?: ImportChoices,
): Promise<number> {
  return platform.database.inTransaction(async (tx) => {
    const record = await importById(tx, id, true)
    if (!from.includes(record.state))
      throw new Problem(409, `This import is ${record.state}`, 'Reload: somebody else may have continued it.')
    const words = {
      import: 'Import',
      importCheck: 'Preview import of',
      importUndo: 'Undo import of',
    }[kind]
    const work = await startWork(
      tx,
      kind,
      `${words} ${record.fileName}`,
      { import: id },
      new Date(platform.clock.now()),
    )
    await tx.rows(
      'update import set state = $2, work_id = $3, choices = coalesce($4, choices) where id = $1',
      [id, to, work, choices ? JSON.stringify(choices) : null],
    )
    await announce(tx, 'audience')
    return work
  })
}

export const startCheck = (platform: Platform, id: number, choices: ImportChoices): Promise<number> =>
  beginOn(platform, id, ['uploaded', 'checked'], 'checking', 'importCheck', choices)

export const startImport = (platform: Platform, id: number): Promise<number> =>
  beginOn(platform, id, ['checked'], 'running', 'import')

export const startUndo = (platform: Platform, id: number): Promise<number> =>
  beginOn(platform, id, ['done'], 'undoing', 'importUndo')

/** Runs work on an import; when it fails or is cancelled the import is where it was before. */
async function onImport<T>(
  platform: Platform,
  id: number,
  back: ImportView['state'],
  work: () => Promise<T>,
): Promise<T> {
  try {
    return await work()
  } catch (error) {
    await platform.database.rows('update import set state = $2 where id = $1', [id, back])
    throw error
  }
}

/** The dry run: reads the file and counts what would happen. Nothing of the list is touched. */
export function runImportCheck(platform: Platform, id: number, progress: Progress): Promise<string> {
  return onImport(platform, id, 'uploaded', async () => {
    const { format, choices, size } = await importById(platform.database, id)
    await stage(platform, id, format, choices, size, progress)
    const counts = await platform.database.inTransaction(async (tx) => {
      await progress.report('comparing with the list', 0)
      await resolvePeople(tx, id, platform.settings.secret)
      const found = await countChanges(tx, id, choices)
      await tx.rows(`update import set state = 'checked', counts = $2 where id = $1`, [
        id,
        JSON.stringify(found),
      ])
      return found
    })
    return `${counts.added} new, ${counts.changed} updated, ${counts.same} unchanged, ${counts.invalid} invalid lines.`
  })
}

/** The run itself: one transaction, so that a cancel or a crash leaves the list as it was. */
export function runImport(platform: Platform, id: number, progress: Progress): Promise<string> {
  return onImport(platform, id, 'checked', () =>
    platform.database.inTransaction(async (tx) => {
      const { choices, fileName } = await importById(tx, id)
      await progress.report('comparing with the list', 0)
      await resolvePeople(tx, id, platform.settings.secret)
      const counts = await countChanges(tx, id, choices)
      await mergePeopleIn(tx, { id, fileName, choices, at: platform.clock.now() }, progress)
      await tx.rows(`drop table ${peopleOf(id)}`)
      await tx.rows('delete from import_chunk where import_id = $1', [id])
      await tx.rows(`update import set state = 'done', counts = $2, ended_at = $3 where id = $1`, [
        id,
        JSON.stringify(counts),
        new Date(platform.clock.now()),
      ])
      return `${counts.added} added, ${counts.changed} updated.`
    }),
  )
}

export function runImportUndo(platform: Platform, id: number, progress: Progress): Promise<string> {
  return onImport(platform, id, 'done', () =>
    platform.database.inTransaction(async (tx) => {
      const said = await undoImport(tx, id, progress)
      await tx.rows(`update import set state = 'undone', ended_at = $2 where id = $1`, [
        id,
        new Date(platform.clock.now()),
      ])
      return said
    }),
  )
}

export async function listImports(q: Queries): Promise<ImportRow[]> {
  const rows = await q.rows<ImportRecord>(
    `select ${columns} from import where state <> 'uploading' order by id desc limit 100`,
  )
  return rows.map(({ id, fileName, state, counts, createdAt, endedAt }) => ({
    id,
    fileName,
    state,
    counts,
    createdAt: createdAt.toISOString(),
    endedAt: endedAt?.toISOString() ?? null,
  }))
}

/** @throws Problem 404 */
export async function viewImport(q: Queries, id: number): Promise<ImportView> {
  const { work, ...record } = await importById(q, id)
  return {
    ...record,
    work: work === null ? null : await readWork(q, work),
    createdAt: record.createdAt.toISOString(),
    endedAt: record.endedAt?.toISOString() ?? null,
  }
}

/** Lines that could not be used, a batch at a time: the reason, and the cells as they stood in the file. */
export async function* faultyLines(
  q: Queries,
  id: number,
): AsyncGenerator<{ line: number; reason: string; cells: string[] }> {
  const staged = await q.row<{ there: boolean }>(`select to_regclass($1) is not null there`, [stageOf(id)])
  for (let after = 0; staged?.there;) {
    const rows = await q.rows<{ line: number; reason: string; cells: string[] }>(
      `select line, reason, cells from ${stageOf(id)} where reason is not null and line > $1 order by line limit 2000`,
      [after],
    )
    yield* rows
    const last = rows.at(-1)
    if (!last) return
    after = last.line
  }
}

/** Removes what finished or abandoned imports have left lying about for a month. */
export async function clearImports(platform: Platform): Promise<void> {
  const old = await platform.database.rows<{ id: number }>(
    `select id from import where created_at < $1 and state not in ('checking', 'running', 'undoing')`,
    [new Date(platform.clock.now() - 30 * 86_400_000)],
  )
  for (const { id } of old) {
    await platform.database.rows(`drop table if exists ${stageOf(id)}, ${peopleOf(id)}`)
    await platform.database.rows('delete from import_chunk where import_id = $1', [id])
  }
  // The server went down while they were on their way.
  await platform.database.rows(`delete from import where state = 'uploading' and created_at < $1`, [
    new Date(platform.clock.now() - 86_400_000),
  ])
}
