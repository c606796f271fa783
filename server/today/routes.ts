import { Router } from 'express'
import * as api from '../../contract/api.ts'
import { handle } from '../http/handle.ts'
import type { Platform } from '../platform.ts'
import { search } from './search.ts'
import { viewClockStrip, viewToday } from './view.ts'

/** The first screen, the strip along the bottom of all screens, and the search from anywhere. */
export function todayRoutes(platform: Platform): Router {
  const routes = Router()
  handle(routes, api.today.view, () => viewToday(platform))
  handle(routes, api.today.clockStrip, () => viewClockStrip(platform))
  handle(routes, api.today.search, ({ query }) => search(platform, query.q))
  return routes
}
