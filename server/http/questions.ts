import type { Response } from 'express'
import { connect, type Queries } from '../database/connect.ts'
import { Problem } from './problems.ts'

/** How long anybody waits for an answer on a screen, in milliseconds. */
export const longestAnswer = 10_000

/** Questions that are worked on at once; more wait, and public pages never wait for them. */
const atOnce = 4

/** A cancel may come between two statements, where nothing hears it: so it is repeated. */
const cancelEvery = 200

/** Answers what may take long at size, on connections of its own. */
export interface Questions {
  /**
   * Reads something for as long as somebody waits for it: when the browser has called its question off (the next
   * letter was typed), the database is told to stop as well, within a second.
   * @throws Problem 499 when nobody waits any more (nobody is there to read it), 503 when it takes too long
   */
  whileConnected<T>(response: Response, work: (q: Queries) => Promise<T>): Promise<T>
  close(): Promise<void>
}

const calledOff = (): Problem =>
  new Problem(499, 'This request was cancelled', 'The browser stopped waiting for it.')

/** The same queries, which stop before the next statement once the question was called off. */
function stoppable(q: Queries, isOff: () => boolean): Queries {
  return {
    ...q,
    rows: async (sql, bind) => {
      if (isOff()) throw calledOff()
      return q.rows(sql, bind)
    },
    row: async (sql, bind) => {
      if (isOff()) throw calledOff()
      return q.row(sql, bind)
    },
  }
}

export function openQuestions(databaseUrl: string, patience = longestAnswer): Questions {
  const pool = connect(databaseUrl, { connections: atOnce, statementTimeout: patience })
  const cancelling = connect(databaseUrl, { connections: 1, statementTimeout: patience })
  return {
    async whileConnected(response, work) {
      const isOff = (): boolean => response.destroyed
      if (isOff()) throw calledOff()
      return pool.inTransaction(async (tx) => {
        // It may have waited for a connection.
        if (isOff()) throw calledOff()
        const own = await tx.row<{ pid: number }>('select pg_backend_pid() pid')
        let timer: NodeJS.Timeout | undefined
        let cancel: Promise<unknown> = Promise.resolve()
        const stop = (): void => {
          cancel = cancel.then(() =>
            cancelling.rows('select pg_cancel_backend($1)', [own?.pid]).catch(() => undefined),
          )
          timer ??= setInterval(stop, cancelEvery)
        }
        response.once('close', stop)
        if (isOff()) stop()
        try {
          return await work(stoppable(tx, isOff))
        } catch (error) {
          throw isOff() ? calledOff() : error
        } finally {
          response.off('close', stop)
          clearInterval(timer)
          // The connection goes back to the others only when no cancel is on its way to it.
          await cancel
        }
      })
    },
    async close() {
      await Promise.all([pool.close(), cancelling.close()])
    },
  }
}
