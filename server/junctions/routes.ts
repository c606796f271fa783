import { Router } from 'express'
import * as api from '../../contract/api.ts'
import type { Doing } from '../blocks/drafts.ts'
import { serveVersions } from '../blocks/versionRoutes.ts'
import { handle } from '../http/handle.ts'
import type { WebPlatform } from '../platform.ts'
import { junctionDrafts, viewProof } from './junctionDrafts.ts'
import {
  copyJunction,
  createJunction,
  deleteJunction,
  listJunctions,
  junctionPaths,
  viewJunction,
} from './junctions.ts'
import { passesOf, sortedNow, tryJunction } from './sorting.ts'

/** Junctions of the Library: one address each that sends each person on. */
export function junctionRoutes(platform: WebPlatform): Router {
  const { database: q, clock, settings, questions } = platform
  const { junctions } = api
  const routes = Router()
  const drafts = junctionDrafts(settings.publicUrl)
  const doing = (by: string): Doing => ({ by, at: new Date(clock.now()) })

  handle(routes, junctions.list, () => listJunctions(q, clock.now()))
  handle(routes, junctions.view, ({ params, by }) => viewJunction(q, params.id, settings, doing(by)))
  handle(
    routes,
    junctions.create,
    async ({ body, by }) => ({
      id: await q.inTransaction((tx) => createJunction(tx, body, doing(by))),
    }),
    { status: 201 },
  )
  handle(routes, junctions.settings, ({ params, body }) =>
    q.inTransaction((tx) => junctionPaths.set(tx, params.id, body)),
  )
  handle(routes, junctions.save, ({ params, body, by }) =>
    q.inTransaction(async (tx) => ({
      ...(await drafts.save(tx, params.id, body, doing(by))),
      proof: await viewProof(tx, body.content, settings.publicUrl),
    })),
  )
  serveVersions(platform, routes, junctions, {
    drafts,
    copy: copyJunction,
    remove: deleteJunction,
  })
  handle(routes, junctions.sorted, ({ body, response }) =>
    questions.whileConnected(response, (tx) => sortedNow(tx, body.content, clock.now())),
  )
  handle(routes, junctions.try, ({ body, response }) =>
    questions.whileConnected(response, (tx) => tryJunction(tx, body.content, body.contact, clock)),
  )
  handle(routes, junctions.passes, ({ params }) => passesOf(q, params.id, clock.now()))
  return routes
}
