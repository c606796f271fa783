import type { RequestHandler } from 'express'
import { isStorable } from '../../core/text.ts'
import { Problem } from './problems.ts'

/** The first text that cannot be stored, wherever it stands in a body, by its path. */
function unstorableIn(value: unknown, path: readonly string[] = []): string | null {
  if (typeof value === 'string') return isStorable(value) ? null : path.join('.')
  if (typeof value !== 'object' || value === null) return null
  for (const [key, inner] of Object.entries(value)) {
    const found = isStorable(key) ? unstorableIn(inner, [...path, key]) : path.join('.')
    if (found !== null) return found
  }
  return null
}

function refuse(at: string | null): void {
  if (at === null) return
  const said = 'It holds a character that cannot be stored; it may have been pasted along. Type it anew'
  throw new Problem(422, 'Some values cannot be stored', `${said}.`, { [at]: said })
}

/** Refuses what was read of a file as bodies are refused. @throws Problem 422 */
export const refuseUnstorable = (value: unknown): void => refuse(unstorableIn(value))

/** Refuses bodies and queries with characters that no database stores, and names where. @throws Problem 422 */
export const refuseUnstorableText: RequestHandler = (request, _response, next) => {
  refuse(unstorableIn(request.body) ?? unstorableIn(request.query))
  next()
}
