import { Router } from 'express'
import { idOf } from '../requests.ts'
import type { Platform } from '../platform.ts'
import { rehearsalRequest } from '../../contract/followups.ts'
import { enrolmentsOf } from './enrolments.ts'
import { jumpToNext, setRehearsal } from './rehearsal.ts'
import { retrySetAside } from './setAside.ts'
import { listFollowups, viewFollowup } from './views.ts'

export function followupRoutes(platform: Platform): Router {
  const routes = Router()
  routes.get('/followups', async (_request, response) => {
    response.json(await listFollowups(platform))
  })
  routes.get('/followups/:id', async (request, response) => {
    response.json(await viewFollowup(platform, idOf(request)))
  })
  routes.post('/followups/:id/retry', async (request, response) => {
    await retrySetAside(platform, idOf(request))
    response.status(204).end()
  })
  routes.get('/people/:id/enrolments', async (request, response) => {
    response.json(await enrolmentsOf(platform, idOf(request)))
  })
  routes.post('/people/:id/rehearsal', async (request, response) => {
    await setRehearsal(platform, idOf(request), rehearsalRequest.parse(request.body).on)
    response.status(204).end()
  })
  routes.post('/people/:id/jump', async (request, response) => {
    response.json(await jumpToNext(platform, idOf(request)))
  })
  return routes
}
