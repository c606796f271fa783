import type { Request, RequestHandler } from 'express'
import type { Platform } from '../server/platform.ts'
import { limitRate, sourceOf } from '../server/http/rateLimits.ts'

/** So often a minute one source may follow the links of one message: more is no reader. */
const perMessage = 20

/** How often the public endpoints that write something may be asked. */
export interface Limits {
  /** By one source. */
  source: RequestHandler
  /**
   * By one source about one message.
   * @param use what the token in the address is signed for
   * @param at where in the token the message's id stands
   */
  message(use: string, at?: number): RequestHandler
}

export function openLimits({ settings, signer }: Platform): Limits {
  const messageOf = (request: Request, use: string, at: number): string =>
    signer.open(use, String(request.params.token))?.[at] ?? ''
  return {
    source: limitRate(settings.publicRate),
    message: (use, at = 0) =>
      limitRate(perMessage, (request) => `${messageOf(request, use, at)} ${sourceOf(request)}`),
  }
}
