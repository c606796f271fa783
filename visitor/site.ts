import { createRequire } from 'node:module'
import { Router } from 'express'
import { rateLimit } from 'express-rate-limit'
import type { Platform } from '../server/platform.ts'
import { noSuchPlace, Problem } from '../server/problems.ts'
import { audienceRoutes } from './audience/routes.ts'
import { captureRoutes } from './capture/routes.ts'
import { emailRoutes } from './email/routes.ts'
import { answerVisitorProblems } from './respond.ts'

const font = createRequire(import.meta.url).resolve(
  '@fontsource-variable/overpass/files/overpass-latin-wght-normal.woff2',
)

/** Everything that the public sees. */
export function visitorSite(platform: Platform): Router {
  const routes = Router()
  const slowDown = rateLimit({
    windowMs: 60_000,
    limit: platform.settings.publicRate,
    standardHeaders: 'draft-8',
    legacyHeaders: false,
    handler: () => {
      throw new Problem(429, 'Too many requests', 'Wait a minute, then try again.')
    },
  })
  routes.get('/assets/overpass.woff2', (_request, response) => {
    response.sendFile(font, { maxAge: '365d', immutable: true })
  })
  routes.use(captureRoutes(platform, slowDown))
  routes.use(audienceRoutes(platform, slowDown))
  routes.use(emailRoutes(platform))
  routes.use(noSuchPlace)
  routes.use(answerVisitorProblems(platform.log))
  return routes
}
