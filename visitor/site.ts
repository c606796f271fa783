import { createRequire } from 'node:module'
import { Router } from 'express'
import type { Platform } from '../server/platform.ts'
import { notFoundHandler } from '../server/http/problems.ts'
import { audienceRoutes } from './audience/routes.ts'
import { captureRoutes } from './capture/routes.ts'
import { emailRoutes } from './email/routes.ts'
import { openLimits } from './limits.ts'
import { visitorErrorHandler } from './respond.ts'

const font = createRequire(import.meta.url).resolve(
  '@fontsource-variable/overpass/files/overpass-latin-wght-normal.woff2',
)

/** Everything that the public sees. */
export function visitorSite(platform: Platform): Router {
  const routes = Router()
  const limits = openLimits(platform)
  routes.get('/assets/overpass.woff2', (_request, response) => {
    response.sendFile(font, { maxAge: '365d', immutable: true })
  })
  routes.use(captureRoutes(platform, limits))
  routes.use(audienceRoutes(platform, limits))
  routes.use(emailRoutes(platform, limits))
  routes.use(notFoundHandler)
  routes.use(visitorErrorHandler(platform.log))
  return routes
}
