import { isHeldOut, saveRecovery } from '../../server/commerce/leftCarts.ts'
import { appendFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Queries } from '../../server/database/connect.ts'
import type { Platform } from '../../server/platform.ts'
import type { OrderPages } from './orderPages.ts'
import type { Shop } from './shop.ts'

/** What each product costs by itself, as its price is called; and where it is bought. */
function prices({ products }: Shop, pages: OrderPages) {
  return [
    { product: products.guide, price: 'guideonce', page: pages.guide },
    { product: products.course, price: 'courseonce', page: pages.course },
    { product: products.circle, price: 'circlemonth', page: pages.circle },
  ]
}

const trialDays = 14
const monthly = 1_500

/** A price with tax inside, in SQL: net = gross × 100 / (100 + rate), rounded half up. */
const netOf = (amount: string): string => `((2 * ${amount} * 10000 + 10000 + rate) / (2 * (10000 + rate)))`
const net = netOf('amount')
const monthlyNet = netOf(String(monthly))

/** Who is in the Circle has begun it with a trial, two weeks before the tag says so. */
const joinCircle = (q: Queries, { products, circleMember }: Shop): Promise<object[]> =>
  q.rows(
    `insert into activity (contact_id, kind, details, at)
     select contact_id, 'productBought', jsonb_build_object('product', $1::bigint, 'amount', 0, 'currency', 'EUR'),
       greatest(added_at - interval '3 seconds', contact.created_at)
     from contact_tag join contact on contact.id = contact_id where tag_id = $2 and not rehearsal`,
    [products.circle, circleMember],
  )

/** Every order of the story, one after the other in time, with the rate of its buyer's country. */
const tellOrders = (q: Queries, shop: Shop, pages: OrderPages): Promise<object[]> =>
  q.rows(
    `create temporary table told_order on commit drop as
     select row_number() over (order by activity.at, activity.id) id, activity.id activity, activity.at, contact_id,
       (details->>'product')::bigint product, (details->>'amount')::bigint amount, details->>'currency' currency,
       price, page, contact.address, first_name, last_name, country, price = 'circlemonth' renews,
       coalesce((select (each->>'rate')::int from business, jsonb_array_elements(tax->'rates') each
         where each->>'country' = contact.country),
         (select (each->>'rate')::int from business, jsonb_array_elements(tax->'rates') each
           where each->>'country' = tax->>'home'), 0) rate
     from activity join contact on contact.id = contact_id
     join jsonb_to_recordset($1) known (product bigint, price text, page bigint) on product = (details->>'product')::bigint
     where kind = 'productBought'`,
    [JSON.stringify(prices(shop, pages))],
  )

/** Payments: at once, and of the Circle each month since its trial ended, with the next one still due. */
async function tellPayments(q: Queries, now: number): Promise<void> {
  await q.rows(
    `insert into payment (order_id, n, due_at, net, tax, total, state, charge, paid_at)
     select id, 0, at, ${net}, amount - ${net}, amount, 'paid', 'ch_told_' || id, at from told_order order by id`,
  )
  await q.rows(
    `insert into payment (order_id, n, line, turn, due_at, net, tax, total, state, charge, paid_at)
     select id, turn + 1, 0, turn, due, ${monthlyNet}, ${monthly} - ${monthlyNet}, ${monthly},
       case when due <= $1 then 'paid' else 'due' end, case when due <= $1 then 'ch_told_' || id || '_' || turn end,
       case when due <= $1 then due end
     from told_order, generate_series(0, 15) turn,
       lateral (select at + interval '${trialDays} days' + turn * interval '1 month' due) each
     where renews and (due <= $1 or turn = 0 or due - interval '1 month' <= $1)`,
    [new Date(now)],
  )
}

/** Invoices of everything that was paid, numbered by the time at which it was. */
const tellInvoices = (q: Queries): Promise<object[]> =>
  q.rows(
    `insert into invoice (number, order_id, payment_id, kind, issued_at, content)
     select row_number() over (order by payment.paid_at, payment.id), told_order.id, payment.id, 'invoice', payment.paid_at,
       jsonb_build_object('currency', told_order.currency,
       'seller', jsonb_build_object('name', business.name, 'postalAddress', postal_address, 'country', business.tax->>'home'),
       'buyer', jsonb_build_object('name', trim(first_name || ' ' || last_name), 'address', address, 'country', country,
         'vatNumber', null),
       'order', told_order.id, 'of', null, 'note', '',
       'lines', jsonb_build_array(jsonb_build_object('title', content->>'title', 'description', content->>'description',
         'words', case when renews then '€15 a month' else '€' || amount / 100 end, 'rate', rate, 'net', payment.net,
         'tax', payment.tax, 'total', payment.total)),
       'net', payment.net, 'tax', payment.tax, 'total', payment.total)
     from told_order join payment on order_id = told_order.id and payment.state = 'paid' and payment.total > 0
     join product_version on product_id = product and number = 1, business`,
  )

/**
 * Writes the orders behind everything that people of the story have bought, with their payments and invoices, one
 * after the other in time; the activities then name price and order.
 */
export async function storeOrders(q: Queries, shop: Shop, pages: OrderPages, now: number): Promise<void> {
  await joinCircle(q, shop)
  await tellOrders(q, shop, pages)
  await q.rows(
    `insert into customer_order (id, page_id, contact_id, address, first_name, last_name, country, currency, net, tax, total,
       state, test, card_session, method, placed_at, paid_at)
     overriding system value
     select id, page, contact_id, address, first_name, last_name, country, currency, ${net}, amount - ${net}, amount,
       'paid', false, 'told-' || id, 'card_approved_told', at - interval '40 seconds', at from told_order order by id`,
  )
  await q.rows(
    `insert into order_line (order_id, n, kind, product_id, version, price_id, title, words, amount, rate, net, tax, total, renews)
     select told_order.id, 0, 'main', product, 1, price, content->>'title',
       case when renews then '€15 a month, the first ${trialDays} days free' else '€' || amount / 100 end, amount, rate,
       ${net}, amount - ${net}, amount,
       case when renews then jsonb_build_object('every', jsonb_build_object('count', 1, 'unit', 'month'), 'times', null,
         'from', floor(extract(epoch from at + interval '${trialDays} days') * 1000), 'net', ${monthlyNet},
         'tax', ${monthly} - ${monthlyNet}, 'total', ${monthly}) end
     from told_order join product_version on product_id = product and number = 1`,
  )
  await tellPayments(q, now)
  await tellInvoices(q)
  await q.rows(
    `update activity set details = details || jsonb_build_object('price', price, 'order', told_order.id)
     from told_order where activity.id = told_order.activity`,
  )
  await q.rows(`update business set last_invoice = (select coalesce(max(number), 0) from invoice)`)
  await q.rows(
    `select setval(pg_get_serial_sequence('customer_order', 'id'), (select coalesce(max(id), 1) from customer_order))`,
  )
}

const day = 86_400_000

/**
 * Carts that were left within the last weeks: of some who bought a day later, and of readers who have not come back.
 * Each is told of an hour after it was filled.
 */
export async function storeLeftCarts(
  q: Queries,
  { products }: Shop,
  pages: OrderPages,
  now: number,
): Promise<void> {
  const item = (product: number, price: string): string =>
    JSON.stringify([{ kind: 'main', product, price, chosen: null }])
  await q.rows(
    `create temporary table told_cart on commit drop as
     select contact_id, address, first_name, last_name, placed_at - interval '25 hours' began, id order_id, page_id page,
       case when page_id = $3 then $5::jsonb else $6::jsonb end items
     from customer_order where placed_at > $1 and contact_id % 5 = 0 and page_id in ($3, $4)
     union all
     select id, address, first_name, last_name, $2::timestamptz - (id * 7919 % 52 * interval '1 day') - (id * 104729 % 1400 * interval '1 minute')
       - interval '70 minutes', null, $3, $5::jsonb
     from contact where marketing_state = 'subscribed' and not rehearsal and id % 17 = 7 and created_at < $1
       and not exists (select from customer_order where contact_id = contact.id)`,
    [
      new Date(now - 54 * day),
      new Date(now),
      pages.course,
      pages.guide,
      item(products.course, 'courseonce'),
      item(products.guide, 'guideonce'),
    ],
  )
  const carts = await q.rows<{ id: number; order: number | null }>(
    `insert into cart (token_hash, page_id, block, contact_id, address, address_key, first_name, last_name, trusted, items,
       card_session, began_at, changed_at, left_at, ordered_at, held_out)
     select sha256(convert_to('told' || told_cart.contact_id || began, 'UTF8')), page, 'told', told_cart.contact_id, told_cart.address,
       told_cart.address, told_cart.first_name, told_cart.last_name, true, items, 'told', began, began,
       began + interval '1 hour', placed_at, ${isHeldOut('told_cart.contact_id', '20')}
     from told_cart left join customer_order on customer_order.id = order_id order by began
     returning id, (select id from customer_order where placed_at = ordered_at and contact_id = cart.contact_id limit 1) "order"`,
  )
  await q.rows(
    `update customer_order set cart_id = cart from unnest($1::bigint[], $2::bigint[]) t (cart, bought) where id = bought`,
    [carts.map(({ id }) => id), carts.map(({ order }) => order)],
  )
  await q.rows(
    `insert into activity (contact_id, kind, details, at)
     select contact_id, 'checkoutLeft', jsonb_strip_nulls(jsonb_build_object('cart', id,
       'product', (items->0->>'product')::bigint, 'heldOut', nullif(held_out, false))), left_at
     from cart where block = 'told'`,
  )
  await saveRecovery(q, { afterMinutes: 60, heldOut: 20 })
}

/** Tells the gateway of the charges behind the story's orders, so that they can be given back. */
export async function tellGateway({ database, settings }: Platform): Promise<void> {
  if (settings.dataDir === null) return
  const charges = await database.rows<{ id: string; payment: number; amount: number; currency: string }>(
    `select charge id, payment.id payment, payment.total amount, currency from payment
     join customer_order on customer_order.id = order_id where charge is not null`,
  )
  const lines = charges.map(({ id, payment, amount, currency }) => {
    const charge = {
      id,
      key: `payment ${payment}`,
      amount,
      currency,
      state: 'paid',
      failure: null,
      confirmUrl: null,
      method: 'card_approved_told',
      refunded: 0,
    }
    return `${JSON.stringify({ charge, returnUrl: '', refunds: {} })}\n`
  })
  await appendFile(join(settings.dataDir, 'charges.jsonl'), lines.join(''))
}
