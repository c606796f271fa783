import type { Response } from 'express'
import type { Queries } from './database/connect.ts'
import type { Platform } from './platform.ts'
import { Problem } from './problems.ts'

/**
 * Reads something that may take long at size, for as long as somebody waits for it: when the browser has called its
 * question off (the next letter was typed), the database is told to stop as well.
 * @throws Problem 499 when nobody waits any more; nobody is there to read it
 */
export function whileAsked<T>(
  { database }: Platform,
  response: Response,
  work: (q: Queries) => Promise<T>,
): Promise<T> {
  return database.inTransaction(async (tx) => {
    const own = await tx.row<{ pid: number }>('select pg_backend_pid() pid')
    const stopping: Promise<unknown>[] = []
    const stop = (): void => {
      stopping.push(database.rows('select pg_cancel_backend($1)', [own?.pid]).catch(() => undefined))
    }
    response.once('close', stop)
    if (response.destroyed) stop()
    try {
      return await work(tx)
    } catch (error) {
      if (stopping.length > 0)
        throw new Problem(499, 'Nobody waits for this any more', 'It was called off by who asked it.')
      throw error
    } finally {
      response.off('close', stop)
      // The connection goes back to the others only when no wish to stop is on its way to it.
      await Promise.all(stopping)
    }
  })
}
