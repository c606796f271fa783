import { Router } from 'express'
import { contactQuery } from '../../contract/audience.ts'
import type { Platform } from '../platform.ts'
import { idOf } from '../requests.ts'
import { listContacts, listTags } from './people.ts'
import { viewPerson } from './person.ts'

export function audienceRoutes(platform: Platform): Router {
  const routes = Router()
  routes.get('/people', async (request, response) => {
    response.json(await listContacts(platform.database, contactQuery.parse(request.query)))
  })
  routes.get('/tags', async (_request, response) => {
    response.json(await listTags(platform.database))
  })
  routes.get('/people/:id', async (request, response) => {
    response.json(await viewPerson(platform, idOf(request)))
  })
  return routes
}
