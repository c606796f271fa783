import type { RequestHandler } from 'express'
import helmet from 'helmet'
import type { Platform } from '../platform.ts'

/** Headers of every answer. What is no page of ours shows nothing and runs nothing; pages set a policy of their own. */
export function securityHeaders({ settings }: Pick<Platform, 'settings'>): RequestHandler {
  return helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'none'"],
        frameAncestors: ["'none'"],
      },
    },
    strictTransportSecurity: settings.publicUrl.startsWith('https:'),
    xFrameOptions: { action: 'sameorigin' },
  })
}
