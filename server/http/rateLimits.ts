import type { Request, RequestHandler } from 'express'
import { ipKeyGenerator, rateLimit } from 'express-rate-limit'
import { Problem } from './problems.ts'

const minute = 60_000

/** Where a request comes from: an address, or for IPv6 the network that one household or office has. */
export const sourceOf = (request: Request): string => ipKeyGenerator(request.ip ?? '')

/**
 * At most so many requests a minute. Counted by each web process for itself, in memory.
 * @param countedBy what the requests have in common that are counted together; the source by default
 * @param options.spared those that are not counted
 * @param options.failing only those are counted that were refused
 * @throws Problem 429
 */
export function limitRate(
  limit: number,
  countedBy: (request: Request) => string = sourceOf,
  { spared, failing = false }: { spared?: (request: Request) => boolean; failing?: boolean } = {},
): RequestHandler {
  return rateLimit({
    windowMs: minute,
    limit,
    keyGenerator: countedBy,
    skipSuccessfulRequests: failing,
    ...(spared && { skip: spared }),
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    // Forwarded headers that nobody trusted are ignored; they need no warning in the log of each install.
    validate: { xForwardedForHeader: false },
    handler: () => {
      throw new Problem(429, 'Too many requests', 'Wait a minute, then try again.')
    },
  })
}
