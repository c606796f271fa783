import { Router } from 'express'
import * as api from '../../contract/api.ts'
import { handle } from '../http/handle.ts'
import type { Platform } from '../platform.ts'
import { cancelWork, listWork } from './longWork.ts'

/** Long work of every kind: how far it is, and stopping it. */
export function workRoutes(platform: Platform): Router {
  const routes = Router()
  handle(routes, api.work.list, () => listWork(platform))
  handle(routes, api.work.cancel, ({ params }) => cancelWork(platform, params.id))
  return routes
}
