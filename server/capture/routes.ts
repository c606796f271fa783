import { Router } from 'express'
import * as api from '../../contract/api.ts'
import { serveVersions } from '../blocks/versionRoutes.ts'
import { handle } from '../http/handle.ts'
import type { WebPlatform } from '../platform.ts'
import { formDrafts } from './formDrafts.ts'
import { formNumbers, listForms } from './formNumbers.ts'
import { formTrials } from './formTrials.ts'
import {
  copyForm,
  createForm,
  createPublishedForm,
  deleteForm,
  renameForm,
  viewForm,
  withSends,
} from './forms.ts'

import {
  copyPopUp,
  createPopUp,
  deletePopUp,
  listPopUps,
  orderPopUps,
  popUpDrafts,
  renamePopUp,
  viewPopUp,
} from './popUps.ts'

/** Forms and pop-ups of the Library. */
export function captureRoutes(platform: WebPlatform): Router {
  const { database, clock } = platform
  const routes = Router()
  const doing = (by: string) => ({ by, at: new Date(clock.now()) })

  handle(routes, api.forms.list, () => listForms(database, clock.now()))
  handle(routes, api.forms.view, ({ params, by }) => viewForm(database, params.id, doing(by)))
  handle(
    routes,
    api.forms.create,
    async ({ body: { publish, ...given }, by }) => ({
      id: await database.inTransaction((tx) =>
        (publish ? createPublishedForm : createForm)(tx, given, doing(by)),
      ),
    }),
    { status: 201 },
  )
  handle(routes, api.forms.rename, ({ params, body }) =>
    database.inTransaction((tx) => renameForm(tx, params.id, body.name)),
  )
  handle(routes, api.forms.save, ({ params, body, by }) =>
    database.inTransaction(async (tx) =>
      withSends(tx, params.id, body.content, await formDrafts.save(tx, params.id, body, doing(by))),
    ),
  )
  serveVersions(platform, routes, api.forms, { drafts: formDrafts, copy: copyForm, remove: deleteForm })
  handle(routes, api.forms.numbers, ({ params }) => formNumbers(database, params.id, clock.now()))

  handle(routes, api.forms.trials, ({ params }) => formTrials(platform, params.id))

  handle(routes, api.popUps.list, () => listPopUps(database, clock.now()))
  handle(routes, api.popUps.view, ({ params, by }) => viewPopUp(database, params.id, doing(by)))
  handle(
    routes,
    api.popUps.create,
    async ({ body, by }) => ({ id: await database.inTransaction((tx) => createPopUp(tx, body, doing(by))) }),
    { status: 201 },
  )
  handle(routes, api.popUps.order, ({ body }) => database.inTransaction((tx) => orderPopUps(tx, body.popUps)))
  handle(routes, api.popUps.rename, ({ params, body }) => renamePopUp(database, params.id, body.name))
  handle(routes, api.popUps.save, ({ params, body, by }) =>
    database.inTransaction((tx) => popUpDrafts.save(tx, params.id, body, doing(by))),
  )
  serveVersions(platform, routes, api.popUps, { drafts: popUpDrafts, copy: copyPopUp, remove: deletePopUp })
  return routes
}
