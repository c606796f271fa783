import type { Request } from 'express'
import { z } from 'zod'
import { notFound } from './problems.ts'

const id = z.coerce.number().int().positive().max(Number.MAX_SAFE_INTEGER)

/** The id in the path. @throws Problem 404 when it is none */
export function idOf(request: Request): number {
  const read = id.safeParse(request.params.id)
  if (!read.success) throw notFound('This')
  return read.data
}
