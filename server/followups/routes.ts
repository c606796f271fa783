import { Router } from 'express'
import * as api from '../../contract/api.ts'
import { handle } from '../http/handle.ts'
import type { Platform } from '../platform.ts'
import { enrolmentsOf } from './enrolments.ts'
import { jumpToNext, setRehearsal } from './rehearsal.ts'
import { retrySetAside } from './setAside.ts'
import { listFollowups, viewFollowup } from './views.ts'

/** Follow-ups, and where people are in them. */
export function followupRoutes(platform: Platform): Router {
  const routes = Router()
  const { followups, people } = api

  handle(routes, followups.list, () => listFollowups(platform))
  handle(routes, followups.view, ({ params }) => viewFollowup(platform, params.id))
  handle(routes, followups.retry, ({ params }) => retrySetAside(platform, params.id))
  handle(routes, people.enrolments, ({ params }) => enrolmentsOf(platform, params.id))
  handle(routes, people.setRehearsal, ({ params, body }) => setRehearsal(platform, params.id, body.on))
  handle(routes, people.jump, ({ params }) => jumpToNext(platform, params.id))
  return routes
}
