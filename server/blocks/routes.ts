import { Router } from 'express'
import * as api from '../../contract/api.ts'
import { handle } from '../http/handle.ts'
import type { Platform } from '../platform.ts'
import type { Doing } from './drafts.ts'
import { listMergeFields } from './mergeFields.ts'
import { createDetail, deleteDetail, listDetails, saveDetail } from './sharedDetails.ts'

/** What all documents can say: shared details and merge fields. */
export function blockRoutes({ database, clock }: Platform): Router {
  const routes = Router()
  const doing = (by: string): Doing => ({ by, at: new Date(clock.now()) })
  const { sharedDetails } = api

  handle(routes, sharedDetails.list, () => listDetails(database, clock.now()))
  handle(
    routes,
    sharedDetails.create,
    async ({ body, by }) => ({
      id: await database.inTransaction((tx) => createDetail(tx, body, doing(by))),
    }),
    { status: 201 },
  )
  handle(routes, sharedDetails.save, ({ params, body, by }) =>
    database.inTransaction((tx) => saveDetail(tx, params.id, body, doing(by))),
  )
  handle(routes, sharedDetails.delete, ({ params }) =>
    database.inTransaction((tx) => deleteDetail(tx, params.id)),
  )
  handle(routes, sharedDetails.mergeFields, ({ query }) =>
    listMergeFields(database, query.person ?? null, clock.now()),
  )
  return routes
}
