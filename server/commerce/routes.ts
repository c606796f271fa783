import { Router } from 'express'
import * as api from '../../contract/api.ts'
import type { Doing } from '../blocks/drafts.ts'
import { serveVersions } from '../blocks/versionRoutes.ts'
import { handle } from '../http/handle.ts'
import type { WebPlatform } from '../platform.ts'
import { createCoupon, deleteCoupon, listCoupons, saveCoupon } from './coupons.ts'
import { createDeadline, deleteDeadline, listDeadlines, saveDeadline } from './deadlines.ts'
import { saveRecovery } from './leftCarts.ts'
import { endByHand, listOrders, resendReceipt, setTakes, viewOrder, viewTakings } from './orders.ts'
import { productDrafts } from './productDrafts.ts'
import {
  copyProduct,
  createProduct,
  deleteProduct,
  listProducts,
  setProduct,
  viewProduct,
} from './products.ts'
import { viewRecovery } from './recovery.ts'
import { askRefund } from './refunds.ts'
import { saveTax } from './selling.ts'
import { changeSubscriptionPrice, pauseSubscription, resumeSubscription } from './subscriptions.ts'

/** Products and coupons of the Library, how everything is taxed, and orders. */
export function commerceRoutes(platform: WebPlatform): Router {
  const { database: q, clock } = platform
  const { coupons, deadlines, orders, products } = api
  const routes = Router()
  const doing = (by: string): Doing => ({ by, at: new Date(clock.now()) })

  handle(routes, products.list, () => listProducts(q, clock.now()))
  handle(routes, products.view, ({ params, by }) => viewProduct(q, params.id, doing(by)))
  handle(
    routes,
    products.create,
    async ({ body, by }) => ({ id: await q.inTransaction((tx) => createProduct(tx, body, doing(by))) }),
    { status: 201 },
  )
  handle(routes, products.settings, ({ params, body }) =>
    q.inTransaction((tx) => setProduct(tx, params.id, body)),
  )
  handle(routes, products.save, ({ params, body, by }) =>
    q.inTransaction((tx) => productDrafts.save(tx, params.id, body, doing(by))),
  )
  serveVersions(platform, routes, products, {
    drafts: productDrafts,
    copy: copyProduct,
    remove: deleteProduct,
  })
  handle(routes, products.saveTax, ({ body }) => q.inTransaction((tx) => saveTax(tx, body)))
  handle(routes, coupons.list, () => listCoupons(q))
  handle(
    routes,
    coupons.create,
    async ({ body, by }) => ({ id: await q.inTransaction((tx) => createCoupon(tx, body, doing(by))) }),
    { status: 201 },
  )
  handle(routes, coupons.save, ({ params, body, by }) =>
    q.inTransaction((tx) => saveCoupon(tx, params.id, body, doing(by))),
  )
  handle(routes, coupons.delete, ({ params }) => q.inTransaction((tx) => deleteCoupon(tx, params.id)))
  handle(routes, deadlines.list, () => listDeadlines(q, clock.now()))
  handle(
    routes,
    deadlines.create,
    async ({ body, by }) => ({ id: await q.inTransaction((tx) => createDeadline(tx, body, doing(by))) }),
    { status: 201 },
  )
  handle(routes, deadlines.save, ({ params, body, by }) =>
    q.inTransaction((tx) => saveDeadline(tx, params.id, body, doing(by))),
  )
  handle(routes, deadlines.delete, ({ params }) => q.inTransaction((tx) => deleteDeadline(tx, params.id)))
  handle(routes, orders.list, ({ query }) => listOrders(q, query))
  handle(routes, orders.takings, () => viewTakings(q, clock.now()))
  handle(routes, orders.recovery, ({ query }) => viewRecovery(q, query.days, clock.now()))
  handle(routes, orders.saveRecovery, ({ body }) => q.inTransaction((tx) => saveRecovery(tx, body)))
  handle(routes, orders.view, ({ params }) => viewOrder(platform, params.id))
  handle(routes, orders.refund, ({ params, body, by }) =>
    q.inTransaction((tx) => askRefund(tx, params.id, body, doing(by))),
  )
  handle(routes, orders.resend, ({ params }) => q.inTransaction((tx) => resendReceipt(tx, params.id)))
  handle(routes, orders.end, ({ params, by }) => q.inTransaction((tx) => endByHand(tx, params.id, doing(by))))
  handle(routes, orders.pause, ({ params, body }) =>
    q.inTransaction((tx) => {
      const now = new Date(clock.now())
      return body.until === null
        ? resumeSubscription(tx, params.id, now)
        : pauseSubscription(tx, params.id, new Date(body.until), now)
    }),
  )
  handle(routes, orders.changePrice, ({ params, body }) =>
    q.inTransaction((tx) => changeSubscriptionPrice(tx, params.id, body.amount)),
  )
  handle(routes, orders.setTakes, ({ body }) => q.inTransaction((tx) => setTakes(tx, body.takes)))
  return routes
}
