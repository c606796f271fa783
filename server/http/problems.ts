import type { ErrorRequestHandler, RequestHandler } from 'express'
import { ConnectionError, DatabaseError, UniqueConstraintError } from 'sequelize'
import { z } from 'zod'
import type { Logger } from 'pino'
import type { ProblemDetails } from '../../contract/problems.ts'

/** An error that the caller can do something about; told as RFC 9457 problem details. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    /** What was kept and what to do. */
    readonly detail: string,
    readonly fields?: Record<string, string>,
    /** Seconds after which the same is worth trying again. */
    readonly retryAfter?: number,
  ) {
    super(title)
  }
}

export const notFound = (what: string): Problem =>
  new Problem(404, `${what} was not found`, 'It may have been removed. Go back to the list and look again.')

/** The SQLSTATE of an error of the database, if it is one. */
function sqlStateOf(error: unknown): string | null {
  if (!(error instanceof DatabaseError)) return null
  return (error.original as Error & { code?: string }).code ?? ''
}

/** Did the database go away, before or in the middle? SQLSTATE classes 08 and 57P: connection lost, shutting down. */
function databaseIsGone(error: unknown): boolean {
  if (error instanceof ConnectionError) return true
  const state = sqlStateOf(error)
  if (state === null) return false
  return /^(08|57P)/.test(state) || /^Connection terminated/.test((error as Error).message)
}

/** Was it stopped because it took longer than anybody waits? SQLSTATE 57014: query_canceled. */
const tookTooLong = (error: unknown): boolean => sqlStateOf(error) === '57014'

/**
 * Does the same work succeed at another time? Then nobody is to blame, and it is tried again. SQLSTATE 40001 and
 * 40P01: others came in between; 55P03: others hold a lock.
 */
export function isPassing(error: unknown): boolean {
  return databaseIsGone(error) || /^(40001|40P01|55P03|57014)$/.test(sqlStateOf(error) ?? '')
}

/** The problem that an error stands for. What we did not foresee tells the caller nothing of our inside. */
export function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error
  if (databaseIsGone(error))
    return new Problem(503, 'The database is not responding', 'Nothing was lost. Try again in a minute.')
  if (tookTooLong(error))
    return new Problem(
      503,
      'This took too long',
      'It was stopped, and nothing was changed. Use fewer conditions or a shorter period.',
    )
  if (error instanceof z.ZodError) {
    const fields = Object.fromEntries(error.issues.map((issue) => [issue.path.join('.'), issue.message]))
    return new Problem(422, 'Some values are not valid', 'Correct the marked fields and try again.', fields)
  }
  if (error instanceof UniqueConstraintError)
    return new Problem(
      409,
      'Somebody else has just saved this',
      'Nothing was changed. Reload to see the current version.',
    )
  const status = (error as { status?: unknown } | null)?.status
  if (status === 404) return notFound('This address')
  if (status === 413)
    return new Problem(413, 'This is too large', 'Nothing was stored. Send less than 100 kB at a time.')
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new Problem(status, 'This request cannot be read', 'Reload the page and try again.')
  return new Problem(
    500,
    'Something went wrong',
    'Nothing was changed. Try again; if it keeps happening, ask for help.',
  )
}

/** Writes unforeseen errors to the log, with what was asked but not what was in it. */
export function logUnexpected(log: Logger, error: unknown, problem: Problem, url: string): void {
  if (problem.status >= 500) log.error({ err: error, url }, problem.title)
}

/** The last middleware of the interface's API. */
export function problemHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    const problem = problemOf(error)
    logUnexpected(log, error, problem, request.path)
    if (response.headersSent) {
      next(error)
      return
    }
    const body: ProblemDetails = {
      title: problem.title,
      status: problem.status,
      detail: problem.detail,
      ...(problem.fields && { fields: problem.fields }),
      ...(problem.retryAfter !== undefined && { retryAfter: problem.retryAfter }),
    }
    if (problem.retryAfter !== undefined) response.set('retry-after', String(problem.retryAfter))
    response.status(problem.status).type('application/problem+json').send(JSON.stringify(body))
  }
}

/** Answers what no route took. */
export const notFoundHandler: RequestHandler = (_request, _response, next) => next(notFound('This address'))
