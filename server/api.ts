import express, { Router } from 'express'
import { importRoutes } from './audience/importRoutes.ts'
import { describingRoutes, peopleRoutes } from './audience/routes.ts'
import { scoreRoutes } from './audience/scoreRoutes.ts'
import { emailRoutes } from './email/routes.ts'
import { followupRoutes } from './followups/routes.ts'
import type { Live } from './live.ts'
import type { WebPlatform } from './platform.ts'
import { answerProblems, noSuchPlace } from './problems.ts'
import { refuseUnstorableText } from './storableText.ts'
import { todayRoutes } from './today/routes.ts'
import { gate, signedInOf } from './workspace/gate.ts'
import { workRoutes } from './workRoutes.ts'
import { doorRoutes } from './workspace/routes.ts'

/** The API of the marketer's application. Everything behind the gate needs a sign-in. */
export function apiRoutes(platform: WebPlatform, live: Live): Router {
  const routes = Router()
  routes.use((_request, response, next) => {
    response.set('cache-control', 'no-store')
    next()
  })
  routes.use(express.json({ limit: '100kb' }))
  routes.use(refuseUnstorableText)
  routes.use('/door', doorRoutes(platform))
  routes.use(gate(platform))
  routes.get('/live', (request, response) => live.stream(request, response, signedInOf(response).tokenHash))
  routes.use(todayRoutes(platform))
  routes.use(peopleRoutes(platform))
  routes.use(describingRoutes(platform))
  routes.use(scoreRoutes(platform))
  routes.use(importRoutes(platform))
  routes.use(workRoutes(platform))
  routes.use(followupRoutes(platform))
  routes.use(emailRoutes(platform))
  routes.use(noSuchPlace)
  routes.use(answerProblems(platform.log))
  return routes
}
