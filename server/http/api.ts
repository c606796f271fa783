import express, { Router } from 'express'
import * as api from '../../contract/api.ts'
import { describingRoutes } from '../audience/describing/routes.ts'
import { importRoutes } from '../audience/imports/routes.ts'
import { peopleRoutes } from '../audience/people/routes.ts'
import { scoreRoutes } from '../audience/scores/routes.ts'
import { segmentRoutes } from '../audience/segments/routes.ts'
import { blockRoutes } from '../blocks/routes.ts'
import { captureRoutes } from '../capture/routes.ts'
import { emailRoutes } from '../email/routes.ts'
import { sendingRoutes } from '../email/sendingRoutes.ts'
import { junctionRoutes } from '../junctions/routes.ts'
import { quizRoutes } from '../quizzes/routes.ts'
import { commerceRoutes } from '../commerce/routes.ts'
import { funnelRoutes } from '../funnels/routes.ts'
import { pageRoutes } from '../pages/routes.ts'
import { followupRoutes } from '../followups/routes.ts'
import type { WebPlatform } from '../platform.ts'
import { todayRoutes } from '../today/routes.ts'
import { workRoutes } from '../work/routes.ts'
import { requireSignIn, signedInOf } from '../workspace/requireSignIn.ts'
import { authRoutes } from '../workspace/routes.ts'
import { handleStream } from './handle.ts'
import type { Live } from './live.ts'
import { notFoundHandler, problemHandler } from './problems.ts'
import { refuseUnstorableText } from './storableText.ts'

/** The API of the marketer's application. All but signing in needs a sign-in. */
export function apiRoutes(platform: WebPlatform, live: Live): Router {
  const routes = Router()
  routes.use((_request, response, next) => {
    response.set('cache-control', 'no-store')
    next()
  })
  routes.use('/auth', express.json({ limit: '10kb' }), refuseUnstorableText)
  routes.use(authRoutes(platform))
  routes.use(requireSignIn(platform))
  // A page is long; what was read here is not read again below.
  routes.use(['/pages', '/site', '/forms', '/pop-ups', '/funnels'], express.json({ limit: '1mb' }))
  routes.use(express.json({ limit: '100kb' }))
  routes.use(refuseUnstorableText)
  handleStream(routes, api.live.stream, ({ request, response }) =>
    live.stream(request, response, signedInOf(response).tokenHash),
  )
  routes.use(todayRoutes(platform))
  routes.use(segmentRoutes(platform))
  routes.use(peopleRoutes(platform))
  routes.use(describingRoutes(platform))
  routes.use(scoreRoutes(platform))
  routes.use(importRoutes(platform))
  routes.use(workRoutes(platform))
  routes.use(followupRoutes(platform))
  routes.use(funnelRoutes(platform))
  routes.use(blockRoutes(platform))
  routes.use(pageRoutes(platform))
  routes.use(captureRoutes(platform))
  routes.use(junctionRoutes(platform))
  routes.use(quizRoutes(platform))
  routes.use(commerceRoutes(platform))
  routes.use(emailRoutes(platform))
  routes.use(sendingRoutes(platform))
  routes.use(notFoundHandler)
  routes.use(problemHandler(platform.log))
  return routes
}
