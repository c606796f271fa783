import {
  isCouponUsable,
  needsCard,
  priceCart,
  whyNot,
  type PricedCart,
  type SoldProduct,
  type WantedItem,
} from '../../core/commerce/cart.ts'
import { isLimited } from '../../core/commerce/price.ts'
import { personNow } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { queueing } from '../work/jobs.ts'
import { cartOf, type Cart, type CartToken } from './carts.ts'
import type { Selling } from './selling.ts'
import {
  couponOf,
  deadlinesOfBuyer,
  isUsedUp,
  itemsOnSale,
  termsOf,
  usesOfCoupon,
  wantedItems,
  type KnownCoupon,
} from './wanting.ts'

/** Why an order was not placed: nothing of it is kept, and the cart stays. */
export class NotPlaced extends Error {
  readonly field: 'offer' | 'coupon' | null
  constructor(message: string, field: 'offer' | 'coupon' | null = null) {
    super(message)
    this.field = field
  }
}

/** How many have been sold at a price so far: counted once, when it is first limited. */
const soldBefore = `select count(*) from order_line join customer_order on customer_order.id = order_id
  where product_id = $1 and price_id = $2 and state <> 'failed' and not test`

/**
 * Takes a place at each price that is limited, one order after the other.
 * @returns the items, with how many were sold before this order
 */
export async function holdPlaces(q: Queries, items: readonly WantedItem[]): Promise<WantedItem[]> {
  const held: WantedItem[] = []
  const inOrder = [...items].sort(
    (a, b) => a.product.id - b.product.id || (a.price.id < b.price.id ? -1 : a.price.id > b.price.id ? 1 : 0),
  )
  for (const item of inOrder) {
    if (!isLimited(item.price)) {
      held.push(item)
      continue
    }
    const of = [item.product.id, item.price.id]
    await q.rows(
      `insert into price_sale (product_id, price_id, sold) values ($1, $2, (${soldBefore})) on conflict do nothing`,
      of,
    )
    const row = await q.row<{ sold: number }>(
      'update price_sale set sold = sold + 1 where product_id = $1 and price_id = $2 returning sold - 1 sold',
      of,
    )
    held.push({ ...item, sold: row?.sold ?? 0 })
  }
  return items.map(
    (item) =>
      held.find(({ product, price }) => product.id === item.product.id && price.id === item.price.id) ?? item,
  )
}

/** The coupon of a cart, if it can be used; while this transaction lasts nobody else uses it up. */
async function holdCoupon(
  q: Queries,
  { coupon: code, items, contact }: Cart,
  addressKey: string,
  now: number,
): Promise<KnownCoupon | null> {
  if (code === null) return null
  const coupon = await couponOf(q, code)
  if (coupon) await q.row('select from coupon where id = $1 for no key update', [coupon.id])
  const products = items.map(({ product }) => product)
  const isOthers = coupon !== null && coupon.holder !== null && coupon.holder !== contact
  if (!coupon || isOthers || !isCouponUsable(coupon, products, now))
    throw new NotPlaced('This coupon cannot be used here.', 'coupon')
  if (isUsedUp(coupon, await usesOfCoupon(q, coupon.id, addressKey)))
    throw new NotPlaced('This coupon has been used up.', 'coupon')
  return coupon
}

/** How the row of an order is made: common table expressions of which `placed` returns its id. */
interface Placing {
  sql: string
  bind: readonly unknown[]
}

/**
 * Writes an order, what it is of and how it is paid: the first payment is asked for at once, by a job that begins when
 * the transaction ends, the others when they are due. All in one statement: at a hundred orders a second most of the
 * time goes into the ways to the database and back.
 * @returns its number
 */
export async function writeOrder(
  q: Queries,
  { sql, bind }: Placing,
  { lines, due }: PricedCart,
  at: Date,
): Promise<number> {
  const bought = lines.map(({ now, ...line }, n) => ({
    ...line,
    n,
    net: now?.net ?? 0,
    tax: now?.tax ?? 0,
    total: now?.total ?? 0,
  }))
  const later = lines
    .flatMap((line, of) =>
      line.later.map((payment, i) => ({ ...payment, line: of, turn: line.now ? i + 1 : i })),
    )
    .sort((a, b) => a.at - b.at)
  const payments = [{ ...due, at: at.getTime(), line: null, turn: 0 }, ...later].map((payment, n) => ({
    ...payment,
    n,
    due_at: new Date(payment.at).toISOString(),
  }))
  const [ofLines, ofPayments, ofJobs] = [1, 2, 3].map((n) => `$${bind.length + n}`)
  const taking = queueing(
    `(select jsonb_agg(jsonb_set(${ofJobs}::jsonb -> 0, '{payload,payment}', to_jsonb(id))) from paid where n = 0)`,
    [{ name: 'takePayment', payload: { payment: 0 } }],
  )
  const row = await q.prepared.row<{ id: number }>(
    `with ${sql}, bought as (
       insert into order_line (order_id, n, kind, product_id, version, price_id, title, words, amount, rate, net, tax, total, renews)
       select placed.id, n, kind, product, version, price, title, words, amount, rate, net, tax, total, renews
       from placed, jsonb_to_recordset(${ofLines}::jsonb) t (n integer, kind text, product bigint, version integer, price text,
         title text, words text, amount bigint, rate integer, net bigint, tax bigint, total bigint, renews jsonb)),
     paid as (
       insert into payment (order_id, n, line, turn, due_at, net, tax, total, state)
       select placed.id, n, line, turn, due_at, net, tax, total, 'due'
       from placed, jsonb_to_recordset(${ofPayments}::jsonb) t (n integer, line integer, turn integer, due_at timestamptz,
         net bigint, tax bigint, total bigint)
       returning id, n)
     select id, (${taking.sql}) asked from placed`,
    [...bind, JSON.stringify(bought), JSON.stringify(payments), taking.jobs],
  )
  if (!row) throw new Error('an insert returned no row')
  return row.id
}

/** The order that a cart has become, if it has and it did not fail. */
export async function orderOfCart(q: Queries, cart: number): Promise<number | undefined> {
  const row = await q.row<{ id: number }>(
    `select id from customer_order where cart_id = $1 and state in ('open', 'paid')`,
    [cart],
  )
  return row?.id
}

/** What is on sale, and what prices rest on. */
export interface OnSale {
  products: ReadonlyMap<number, SoldProduct>
  selling: Selling
}

/**
 * Places the order of a cart: all sums are worked out once more, places and coupon are held, and the payment is asked
 * for by a job that begins when the transaction ends.
 * @param onSale as this process knows it, which hears of every change
 * @param seen what the buyer saw as the sum: nobody pays another one
 * @returns its number
 * @throws NotPlaced
 */
export async function placeOrder(
  platform: Platform,
  token: CartToken,
  { products, selling }: OnSale,
  { seen, test }: { seen: number; test: boolean },
): Promise<number> {
  const { database, clock } = platform
  return database.inTransaction(async (tx) => {
    const cart = await cartOf(tx, token, true)
    if (!cart) throw new NotPlaced('This cart is no longer kept.')
    // Pressing twice buys nothing twice.
    const before = cart.orderedAt === null ? undefined : await orderOfCart(tx, cart.id)
    if (before !== undefined) return before
    const now = personNow(clock, cart)
    const at = new Date(now)
    const { addressKey } = cart
    const coupon = await holdCoupon(tx, cart, addressKey, now)
    const onSale = itemsOnSale(products, cart.items)
    const wanted = await wantedItems(tx, onSale, await deadlinesOfBuyer(tx, cart.contact, onSale))
    if (wanted.length < cart.items.length || wanted.length === 0)
      throw new NotPlaced('Something in the cart is no longer on sale.', 'offer')
    const items = test ? wanted : await holdPlaces(tx, wanted)
    const refused = items.map((item) => whyNot(item, now)).find((each) => each !== null)
    if (refused !== undefined) throw new NotPlaced(refused, 'offer')
    const priced = priceCart(items, termsOf(selling, cart, coupon, now))
    if (priced.due.total !== seen)
      throw new NotPlaced('What it costs has changed meanwhile: look at the sum below, then press again.')
    const order = await writeOrder(
      tx,
      {
        sql: `ordered as (update cart set ordered_at = $17, changed_at = $17 where id = $1), placed as (
          insert into customer_order (cart_id, page_id, contact_id, address, first_name, last_name, country, vat_number,
            currency, coupon, off, net, tax, total, state, test, card_session, placed_at)
          values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, 'open', $15, $16, $17) returning id)`,
        bind: [
          cart.id,
          cart.page,
          cart.contact,
          cart.address,
          cart.firstName,
          cart.lastName,
          cart.country,
          cart.vatNumber,
          selling.currency,
          coupon?.code ?? null,
          priced.off,
          priced.due.net,
          priced.due.tax,
          priced.due.total,
          test,
          needsCard(priced) ? cart.cardSession : '',
          at,
        ],
      },
      priced,
      at,
    )
    // A trial uses up nothing.
    if (coupon && !test)
      await tx.rows('insert into coupon_use (coupon_id, order_id, address_key) values ($1, $2, $3)', [
        coupon.id,
        order,
        addressKey,
      ])
    return order
  })
}
