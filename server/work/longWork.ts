import { z } from 'zod'
import type { WorkView } from '../../contract/work.ts'
import type { Queries } from '../database/connect.ts'
import { queueJobs } from './jobs.ts'
import { announce } from '../http/live.ts'
import type { Platform } from '../platform.ts'
import { isPassing, Problem } from '../http/problems.ts'

/** Somebody asked that the work be stopped; what it had begun is rolled back. */
export class Cancelled extends Error {}

/** How a piece of long work tells how far it is. */
export interface Progress {
  /** @throws Cancelled when somebody asked to stop */
  report(step: string, done: number, total?: number | null): Promise<void>
}

/** Told at most so often, in milliseconds: more would be noise and cost time. */
const reportEvery = 300

export type WorkKind = WorkView['kind']

/** Work of one queue is done one after the other; imports change the same people, whatever they do with them. */
const queueOfKind: Record<WorkKind, string> = {
  importCheck: 'imports',
  import: 'imports',
  importUndo: 'imports',
  bulk: 'bulk actions',
  broadcast: 'broadcasts',
  rescore: 'rescoring',
}

/** Puts a piece of long work into the queue, in the transaction of `q`. @returns its id */
export async function startWork(
  q: Queries,
  kind: WorkKind,
  title: string,
  payload: Record<string, unknown>,
  at: Date,
): Promise<number> {
  const work = await q.row<{ id: number }>(
    'insert into long_work (kind, title, payload, created_at) values ($1, $2, $3, $4) returning id',
    [kind, title, JSON.stringify(payload), at],
  )
  if (!work) throw new Error('an insert returned no row')
  await queueJobs(q, 'longWork', [{ work: work.id, queue: queueOfKind[kind] }])
  await announce(q, 'work')
  return work.id
}

/**
 * Carries out one piece of long work: the job `longWork`. A worker that is killed leaves it running in the books;
 * the queue gives it to another one, which begins it anew. Each kind writes its result in one transaction, so that
 * beginning anew does nothing twice.
 */
export async function runWork(
  platform: Platform,
  id: number,
  kinds: Record<WorkKind, (payload: unknown, progress: Progress) => Promise<string>>,
): Promise<void> {
  const { database, clock } = platform
  const work = await database.row<{ kind: WorkKind; state: string; payload: unknown; cancel_asked: boolean }>(
    'select kind, state, payload, cancel_asked from long_work where id = $1',
    [id],
  )
  if (!work || (work.state !== 'waiting' && work.state !== 'running')) return
  const end = async (state: 'done' | 'cancelled' | 'failed', said: string): Promise<void> => {
    await database.inTransaction(async (tx) => {
      await tx.rows('update long_work set state = $2, result = $3, ended_at = $4 where id = $1', [
        id,
        state,
        JSON.stringify({ said }),
        new Date(clock.now()),
      ])
      await announce(tx, 'work', 'audience')
    })
  }
  let toldAt = 0
  let lastStep = ''
  const progress: Progress = {
    async report(step, done, total = null) {
      if (step === lastStep && performance.now() - toldAt < reportEvery) return
      toldAt = performance.now()
      lastStep = step
      const row = await database.row<{ cancel_asked: boolean }>(
        `update long_work set state = 'running', step = $2, done = $3, total = $4 where id = $1 returning cancel_asked`,
        [id, step, done, total],
      )
      await announce(database, 'work')
      if (row?.cancel_asked) throw new Cancelled()
    },
  }
  const restarted = work.state === 'running' ? 'It was restarted after an interruption. ' : ''
  try {
    // A request to cancel is heard inside the work, which knows what to restore.
    await database.rows(`update long_work set state = 'running' where id = $1`, [id])
    await end('done', restarted + (await kinds[work.kind](work.payload, progress)))
  } catch (error) {
    if (error instanceof Cancelled) return end('cancelled', 'Cancelled. Nothing was changed.')
    // The database went away, or this process is ending: the queue begins it anew another time.
    if (isPassing(error)) throw error
    if (error instanceof Problem) return end('failed', `${error.title}. ${error.detail}`)
    platform.log.error({ err: error, work: id }, 'long work failed')
    return end(
      'failed',
      'Something went wrong, and nothing was changed. Try again; if it keeps happening, ask for help.',
    )
  }
}

/** Asks a piece of work to stop at its next step. */
export async function cancelWork(platform: Platform, id: number): Promise<void> {
  await platform.database.rows(
    `update long_work set cancel_asked = true where id = $1 and state in ('waiting', 'running')`,
    [id],
  )
}

const result = z.object({ said: z.string() }).catch({ said: '' })

function viewWork(row: Omit<WorkView, 'said'> & { result: unknown }): WorkView {
  const { result: kept, ...view } = row
  return { ...view, said: result.parse(kept).said }
}

const columns = 'id, kind, title, state, step, done, total, result'

/** Work that goes on now, and the last that ended. */
export async function listWork(platform: Platform): Promise<WorkView[]> {
  const rows = await platform.database.rows<Omit<WorkView, 'said'> & { result: unknown }>(
    `select ${columns} from long_work
     where state in ('waiting', 'running') or ended_at > $1 order by id desc limit 20`,
    [new Date(platform.clock.now() - 2 * 60_000)],
  )
  return rows.map(viewWork)
}

/** One piece of work. */
export async function readWork(q: Queries, id: number): Promise<WorkView | null> {
  const row = await q.row<Omit<WorkView, 'said'> & { result: unknown }>(
    `select ${columns} from long_work where id = $1`,
    [id],
  )
  return row ? viewWork(row) : null
}
