import { priceCart, whyNot } from '../../core/commerce/cart.ts'
import type { Choice } from '../../core/commerce/choices.ts'
import { personNow } from '../audience/people/contacts.ts'
import type { Clock } from '../clock.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { holdPlaces, NotPlaced, writeOrder } from './placing.ts'
import { getSelling } from './selling.ts'
import { deadlinesOfBuyer, termsOf, wantedItems } from './wanting.ts'

/** So long after paying one more thing can be added with one click (ms): later the card is asked for again. */
export const oneClickWithin = 60 * 60_000

/** An order to which one more thing can be added. */
export interface Before {
  id: number
  contact: number | null
  state: string
  paidAt: Date | null
  hasCard: boolean
}

export const beforeOf = async (q: Queries, order: number): Promise<Before | null> =>
  (await q.row<Before>(
    `select id, contact_id contact, state, paid_at "paidAt", method is not null "hasCard" from customer_order where id = $1`,
    [order],
  )) ?? null

/** Can this order still be added to with one click? */
export const isOpenForMore = ({ state, paidAt, hasCard }: Before, now: number): boolean =>
  state === 'paid' && hasCard && paidAt !== null && now - paidAt.getTime() <= oneClickWithin

/** Does whoever placed the order have this product, by it or by another one that was not given back? */
export async function hasProduct(q: Queries, { id, contact }: Before, product: number): Promise<boolean> {
  const row = await q.row(
    `select from order_line join customer_order on customer_order.id = order_id
     where product_id = $1 and (customer_order.id = $2 or after_id = $2 or ($3::bigint is not null and contact_id = $3))
       and state in ('open', 'paid') and (refunded < customer_order.total or customer_order.total = 0)
     limit 1`,
    [product, id, contact],
  )
  return row !== undefined
}

/** The time on the clock of whoever buys: that of the business, but of somebody made up. */
async function timeOf(q: Queries, clock: Clock, contact: number | null): Promise<number> {
  const row =
    contact === null
      ? undefined
      : await q.row<{ ahead: number }>('select clock_ahead ahead from contact where id = $1', [contact])
  return personNow(clock, { clockAhead: row?.ahead ?? 0 })
}

/**
 * Places an order of one more thing, which the card of the order before pays. Pressing twice places one.
 * @returns its number
 * @throws NotPlaced
 */
export async function placeNext(
  platform: Platform,
  before: number,
  { product, price, together }: Choice,
  page: number,
): Promise<number> {
  const { database, clock } = platform
  return database.inTransaction(async (tx) => {
    await tx.row('select from customer_order where id = $1 for no key update', [before])
    const known = await beforeOf(tx, before)
    if (!known || !isOpenForMore(known, clock.now()))
      throw new NotPlaced('This offer is over. Nothing was paid.')
    const taken = await tx.row<{ id: number }>(
      `select id from customer_order join order_line on order_id = id
       where after_id = $1 and product_id = $2 and state in ('open', 'paid')`,
      [before, product.id],
    )
    if (taken) return taken.id
    if (await hasProduct(tx, known, product.id))
      throw new NotPlaced('You have this already. Nothing was paid.')
    const now = await timeOf(tx, clock, known.contact)
    const at = new Date(now)
    const selling = await getSelling(tx)
    const from = await tx.row<{ country: string | null; vatNumber: string | null; test: boolean }>(
      'select country, vat_number "vatNumber", test from customer_order where id = $1',
      [before],
    )
    if (!from) throw new NotPlaced('This order is no longer kept.')
    const next = { kind: 'next', chosen: null, product, price, together } as const
    const wanted = await wantedItems(tx, [next], await deadlinesOfBuyer(tx, known.contact, [next]))
    const items = from.test ? wanted : await holdPlaces(tx, wanted)
    const refused = items.map((item) => whyNot(item, now)).find((each) => each !== null)
    if (refused !== undefined) throw new NotPlaced(refused)
    const priced = priceCart(items, termsOf(selling, from, null, now))
    return writeOrder(
      tx,
      {
        sql: `placed as (
          insert into customer_order (after_id, page_id, contact_id, address, first_name, last_name, country, vat_number,
            currency, net, tax, total, state, test, card_session, method, placed_at)
          select id, $2, contact_id, address, first_name, last_name, country, vat_number, $3, $4, $5, $6, 'open', test,
            card_session, method, $7 from customer_order where id = $1 returning id)`,
        bind: [before, page, selling.currency, priced.due.net, priced.due.tax, priced.due.total, at],
      },
      priced,
      at,
    )
  })
}

/** The order before, when this one was taken with one click after it. */
export const orderBefore = async (
  q: Queries,
  order: number,
): Promise<{ id: number; page: number | null } | null> =>
  (await q.row<{ id: number; page: number | null }>(
    'select after_id id, page_id page from customer_order where id = $1 and after_id is not null',
    [order],
  )) ?? null
