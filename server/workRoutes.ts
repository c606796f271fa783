import { Router } from 'express'
import { cancelWork, listWork } from './longWork.ts'
import type { Platform } from './platform.ts'
import { idOf } from './requests.ts'

/** Long work of every kind: how far it is, and stopping it. */
export function workRoutes(platform: Platform): Router {
  const routes = Router()
  routes.get('/work', async (_request, response) => {
    response.json(await listWork(platform))
  })
  routes.post('/work/:id/cancel', async (request, response) => {
    await cancelWork(platform, idOf(request))
    response.status(204).end()
  })
  return routes
}
