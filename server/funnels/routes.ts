import { raw, Router } from 'express'
import * as api from '../../contract/api.ts'
import type { Doing } from '../blocks/drafts.ts'
import { handle, handleStream } from '../http/handle.ts'
import type { Platform } from '../platform.ts'
import { checkOf } from './checking.ts'
import { viewFunnel } from './diagram.ts'
import { countAnew, funnelById, saveLine } from './funnels.ts'
import { gatherFunnel } from './gathering.ts'
import { archiveFunnel, deleteFunnel, openFunnel } from './goingLive.ts'
import { listFunnels } from './listing.ts'
import { copyFunnel, importFunnel, largestFunnelFile, makeFunnel } from './making.ts'
import { acceptFinding, giveFile, mendFunnel } from './mending.ts'
import { progressOf } from './progress.ts'
import { setFunnelSettings } from './settings.ts'

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
    async ({ body, by }) => ({ id: await q.inTransaction((tx) => makeFunnel(tx, body, doing(by))) }),
    made,
  )
  handle(routes, funnels.view, ({ params, query }) => viewFunnel(platform, params.id, query.days))
  handle(routes, funnels.check, ({ params }) => checkOf(q, params.id, now()))
  handle(routes, funnels.save, ({ params, body, by }) =>
    q.inTransaction((tx) => saveLine(tx, params.id, body, doing(by))),
  )
  handle(routes, funnels.settings, ({ params, body, by }) =>
    q.inTransaction((tx) => setFunnelSettings(tx, params.id, body, doing(by))),
  )
  handle(routes, funnels.mend, ({ params, body, by }) =>
    q.inTransaction((tx) => mendFunnel(tx, params.id, body, doing(by))),
  )
  handle(routes, funnels.accept, ({ params, body, by }) =>
    q.inTransaction((tx) => acceptFinding(tx, params.id, body, doing(by))),
  )
  handle(routes, funnels.progress, ({ params }) => progressOf(q, params.id))
  handle(routes, funnels.giveFile, ({ params, body, by }) =>
    q.inTransaction((tx) => giveFile(tx, params.id, body.file, doing(by))),
  )
  handle(routes, funnels.open, ({ params, body, by }) =>
    q.inTransaction((tx) => openFunnel(tx, params.id, body.to, doing(by))),
  )
  handle(routes, funnels.countAnew, ({ params, body }) => countAnew(q, params.id, body.anew, now()))
  handle(
    routes,
    funnels.copy,
    async ({ params, body, by }) => ({
      id: await q.inTransaction((tx) => copyFunnel(tx, params.id, body, doing(by))),
    }),
    made,
  )
  routes.use(funnels.import.path, raw({ type: 'application/octet-stream', limit: largestFunnelFile }))
  handle(
    routes,
    funnels.import,
    async ({ query, request, by }) => ({
      id: await q.inTransaction((tx) =>
        importFunnel(tx, { ...query, bytes: request.body as unknown, name: query.name }, doing(by)),
      ),
    }),
    made,
  )
  handleStream(routes, funnels.export, async ({ params, query, response }) => {
    const { name } = await funnelById(q, params.id)
    const file = await gatherFunnel(q, params.id, query.media === 'yes' ? 'whole' : 'withoutMedia')
    response.attachment(`${name}.json`).json(file)
  })
  handle(routes, funnels.archive, ({ params, body }) =>
    q.inTransaction((tx) => archiveFunnel(tx, params.id, body.archived, now())),
  )
  handle(routes, funnels.delete, ({ params }) => q.inTransaction((tx) => deleteFunnel(tx, params.id)))
  return routes
}
