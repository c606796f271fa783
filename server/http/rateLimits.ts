import type { Request, RequestHandler } from 'express'
import { ipKeyGenerator, MemoryStore, rateLimit, type Options } from 'express-rate-limit'
import { Problem } from './problems.ts'

const minute = 60_000

/** Where a request comes from: an address, or for IPv6 the network that one household or office has. */
export const sourceOf = (request: Request): string => ipKeyGenerator(request.ip ?? '')

/**
 * Counts what somebody tries in vain, such as a secret that is none: at most so often a minute, by each web process for
 * itself, in memory.
 */
export function countTries(limit: number) {
  const store = new MemoryStore()
  store.init({ windowMs: minute } as Options)
  return {
    note: async (by: string): Promise<void> => {
      await store.increment(by)
    },
    isOver: async (by: string): Promise<boolean> => ((await store.get(by))?.totalHits ?? 0) > limit,
  }
}

/**
 * At most so many requests a minute. Counted by each web process for itself, in memory.
 * @param countedBy what the requests have in common that are counted together; the source by default
 * @throws Problem 429
 */
export function limitRate(limit: number, countedBy: (request: Request) => string = sourceOf): RequestHandler {
  return rateLimit({
    windowMs: minute,
    limit,
    keyGenerator: countedBy,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    // Forwarded headers that nobody trusted are ignored; they need no warning in the log of each install.
    validate: { xForwardedForHeader: false },
    handler: () => {
      throw new Problem(429, 'Too many requests', 'Wait a minute, then try again.')
    },
  })
}
