import { fileURLToPath } from 'node:url'
import compression from 'compression'
import { Router } from 'express'
import { notFoundHandler } from '../server/http/problems.ts'
import { audienceRoutes } from './audience/routes.ts'
import { commerceRoutes } from './commerce/routes.ts'
import { embedRoutes } from './capture/embedRoutes.ts'
import { captureRoutes } from './capture/routes.ts'
import { emailRoutes } from './email/routes.ts'
import { junctionRoutes } from './junctions/routes.ts'
import { openLimits } from './limits.ts'
import type { PublicSite } from './pages/publicSite.ts'
import { pageRoutes } from './pages/routes.ts'
import type { ReadyPages } from './pages/readyPages.ts'
import { siteFileRoutes } from './pages/siteFiles.ts'
import { quizRoutes } from './quizzes/routes.ts'
import { visitorErrorHandler } from './respond.ts'

const icon = fileURLToPath(new URL('assets/icon.svg', import.meta.url))

/** Everything that the public sees. */
export function visitorSite(site: PublicSite, ready: ReadyPages): Router {
  const { platform, published } = site
  const routes = Router()
  const limits = openLimits(platform)
  const compress = compression()
  routes.use((request, response, next) => {
    if (request.headers['accept-encoding'] === undefined) next()
    else compress(request, response, next)
  })
  // What is no page of the Library wears the brand too; without the database it goes without.
  routes.use(async (_request, response, next) => {
    response.locals.brand = await published.site().then(
      ({ brand }) => brand,
      () => undefined,
    )
    next()
  })
  // Pages first: they are asked for most.
  routes.use(pageRoutes(site, ready, limits))
  // Browsers ask for the second one wherever no page names an icon, such as beside a download.
  routes.get(['/assets/icon.svg', '/favicon.ico'], (_request, response) => {
    response.type('svg').sendFile(icon, { maxAge: '1d' })
  })
  routes.use(siteFileRoutes(site))
  routes.use(junctionRoutes(site, limits))
  routes.use(quizRoutes(site, limits))
  routes.use(commerceRoutes(site, limits))
  routes.use(embedRoutes(site, limits))
  routes.use(captureRoutes(site, limits))
  routes.use(audienceRoutes(platform, limits))
  routes.use(emailRoutes(platform, limits))
  routes.use(notFoundHandler)
  routes.use(visitorErrorHandler(platform.log))
  return routes
}
