import { createRequire } from 'node:module'
import { fileURLToPath } from 'node:url'
import compression from 'compression'
import { Router } from 'express'
import { notFoundHandler } from '../server/http/problems.ts'
import { audienceRoutes } from './audience/routes.ts'
import { captureRoutes } from './capture/routes.ts'
import { emailRoutes } from './email/routes.ts'
import { openLimits } from './limits.ts'
import type { PublicSite } from './pages/publicSite.ts'
import { pageRoutes } from './pages/routes.ts'
import type { ReadyPages } from './pages/readyPages.ts'
import { siteFileRoutes } from './pages/siteFiles.ts'
import { visitorErrorHandler } from './respond.ts'

const font = createRequire(import.meta.url).resolve(
  '@fontsource-variable/overpass/files/overpass-latin-wght-normal.woff2',
)

const icon = fileURLToPath(new URL('assets/icon.svg', import.meta.url))

/** Everything that the public sees. */
export function visitorSite(site: PublicSite, ready: ReadyPages): Router {
  const { platform } = site
  const routes = Router()
  const limits = openLimits(platform)
  const compress = compression()
  routes.use((request, response, next) => {
    if (request.headers['accept-encoding'] === undefined) next()
    else compress(request, response, next)
  })
  // Pages first: they are asked for most.
  routes.use(pageRoutes(site, ready, limits))
  routes.get('/assets/overpass.woff2', (_request, response) => {
    response.sendFile(font, { maxAge: '365d', immutable: true })
  })
  // Browsers ask for the second one wherever no page names an icon, such as beside a download.
  routes.get(['/assets/icon.svg', '/favicon.ico'], (_request, response) => {
    response.type('svg').sendFile(icon, { maxAge: '1d' })
  })
  routes.use(siteFileRoutes(site))
  routes.use(captureRoutes(site, limits))
  routes.use(audienceRoutes(platform, limits))
  routes.use(emailRoutes(platform, limits))
  routes.use(notFoundHandler)
  routes.use(visitorErrorHandler(platform.log))
  return routes
}
