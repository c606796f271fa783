import { Router } from 'express'
import * as api from '../../contract/api.ts'
import type { Doing } from '../blocks/drafts.ts'
import { handle } from '../http/handle.ts'
import type { Platform } from '../platform.ts'
import { checkOf, refuseFaulty } from './checking.ts'
import { viewFunnel } from './diagram.ts'
import {
  archiveFunnel,
  copyFunnel,
  countAnew,
  createFunnel,
  deleteFunnel,
  saveLine,
  setFunnelSettings,
  setLive,
} from './funnels.ts'
import { listFunnels } from './listing.ts'

/** Funnels: lines through pages, and what hangs below them. */
export function funnelRoutes(platform: Platform): Router {
  const routes = Router()
  const { database: q, clock } = platform
  const { funnels } = api
  const now = (): Date => new Date(clock.now())
  const doing = (by: string): Doing => ({ by, at: now() })
  const made = { status: 201 } as const

  handle(routes, funnels.list, () => listFunnels(platform))
  handle(
    routes,
    funnels.create,
    async ({ body, by }) => ({ id: await q.inTransaction((tx) => createFunnel(tx, body, doing(by))) }),
    made,
  )
  handle(routes, funnels.view, ({ params, query }) => viewFunnel(platform, params.id, query.days))
  handle(routes, funnels.check, ({ params }) => checkOf(q, params.id, now()))
  handle(routes, funnels.save, ({ params, body, by }) =>
    q.inTransaction((tx) => saveLine(tx, params.id, body, doing(by))),
  )
  handle(routes, funnels.settings, ({ params, body }) =>
    q.inTransaction((tx) => setFunnelSettings(tx, params.id, body)),
  )
  handle(routes, funnels.goLive, ({ params, body }) =>
    q.inTransaction(async (tx) => {
      if (body.live) await refuseFaulty(tx, params.id, now())
      await setLive(tx, params.id, body.live, now())
    }),
  )
  handle(routes, funnels.countAnew, ({ params, body }) => countAnew(q, params.id, body.anew, now()))
  handle(
    routes,
    funnels.copy,
    async ({ params, by }) => ({ id: await q.inTransaction((tx) => copyFunnel(tx, params.id, doing(by))) }),
    made,
  )
  handle(routes, funnels.archive, ({ params, body }) => archiveFunnel(q, params.id, body.archived, now()))
  handle(routes, funnels.delete, ({ params }) => deleteFunnel(q, params.id))
  return routes
}
