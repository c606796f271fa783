import { Router } from 'express'
import { searchQuery } from '../../contract/search.ts'
import type { Platform } from '../platform.ts'
import { search } from './search.ts'
import { viewClockStrip, viewToday } from './view.ts'

export function todayRoutes(platform: Platform): Router {
  const routes = Router()
  routes.get('/today', async (_request, response) => {
    response.json(await viewToday(platform))
  })
  routes.get('/clock-strip', async (_request, response) => {
    response.json(await viewClockStrip(platform))
  })
  routes.get('/search', async (request, response) => {
    response.json(await search(platform, searchQuery.parse(request.query).q))
  })
  return routes
}
