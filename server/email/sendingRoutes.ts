import { Router } from 'express'
import * as api from '../../contract/api.ts'
import { handle } from '../http/handle.ts'
import type { Platform } from '../platform.ts'
import {
  addSender,
  askSenderAgain,
  deleteSender,
  listSenders,
  makeUsualSender,
  renameSender,
} from './senders.ts'
import { loadSendingRules, saveSendingRules } from './sendingRules.ts'

/** From whom mail comes, how much of it, and when. */
export function sendingRoutes({ database, clock }: Platform): Router {
  const routes = Router()
  const { senders, sendingRules } = api
  const now = (): Date => new Date(clock.now())

  handle(routes, senders.list, () => listSenders(database))
  handle(
    routes,
    senders.create,
    async ({ body }) => ({ id: await database.inTransaction((tx) => addSender(tx, body, now())) }),
    { status: 201 },
  )
  handle(routes, senders.rename, ({ params, body }) =>
    database.inTransaction((tx) => renameSender(tx, params.id, body.name)),
  )
  handle(routes, senders.ask, ({ params }) =>
    database.inTransaction((tx) => askSenderAgain(tx, params.id, now())),
  )
  handle(routes, senders.makeUsual, ({ params }) =>
    database.inTransaction((tx) => makeUsualSender(tx, params.id)),
  )
  handle(routes, senders.delete, ({ params }) => database.inTransaction((tx) => deleteSender(tx, params.id)))

  handle(routes, sendingRules.view, () => loadSendingRules(database))
  handle(routes, sendingRules.save, ({ body }) => database.inTransaction((tx) => saveSendingRules(tx, body)))
  return routes
}
