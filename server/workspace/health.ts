import type { Health } from '../../contract/workspace.ts'
import type { Platform } from '../platform.ts'

/** A worker that has not been seen for so long is taken for dead. */
export const workerIsDeadAfter = 15_000

/** The workers that are alive. */
export async function countWorkers(platform: Platform): Promise<number> {
  const found = await platform.database.row<{ count: number }>(
    'select count(*) count from worker where seen_at > now() - make_interval(secs => $1)',
    [workerIsDeadAfter / 1000],
  )
  return found?.count ?? 0
}

/** The state of database and workers. Never throws: a monitor wants an answer most when things are bad. */
export async function checkHealth(platform: Platform): Promise<Health> {
  try {
    const worker = (await countWorkers(platform)) > 0 ? 'ok' : 'none'
    return { status: worker === 'ok' ? 'ok' : 'impaired', database: 'ok', worker }
  } catch {
    return { status: 'impaired', database: 'down', worker: 'none' }
  }
}
