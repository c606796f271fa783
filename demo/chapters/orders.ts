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
  ]
}

/** A price with tax inside, in SQL: net = gross × 100 / (100 + rate), rounded half up. */
const net = '((2 * amount * 10000 + 10000 + rate) / (2 * (10000 + rate)))'

/**
 * Writes the orders behind everything that people of the story have bought, with their payments and invoices, one
 * after the other in time; the activities then name price and order.
 */
export async function storeOrders(q: Queries, shop: Shop, pages: OrderPages): Promise<void> {
  await q.rows(
    `create temporary table told_order on commit drop as
     select row_number() over (order by activity.at, activity.id) id, activity.id activity, activity.at, contact_id,
       (details->>'product')::bigint product, (details->>'amount')::bigint amount, details->>'currency' currency,
       price, page, contact.address, first_name, last_name, country,
       coalesce((select (each->>'rate')::int from business, jsonb_array_elements(tax->'rates') each
         where each->>'country' = contact.country),
         (select (each->>'rate')::int from business, jsonb_array_elements(tax->'rates') each
           where each->>'country' = tax->>'home'), 0) rate
     from activity join contact on contact.id = contact_id
     join jsonb_to_recordset($1) known (product bigint, price text, page bigint) on product = (details->>'product')::bigint
     where kind = 'productBought'`,
    [JSON.stringify(prices(shop, pages))],
  )
  await q.rows(
    `insert into customer_order (id, page_id, contact_id, address, first_name, last_name, country, currency, net, tax, total,
       state, test, card_session, placed_at, paid_at)
     overriding system value
     select id, page, contact_id, address, first_name, last_name, country, currency, ${net}, amount - ${net}, amount,
       'paid', false, 'demo-' || id, at - interval '40 seconds', at from told_order order by id`,
  )
  await q.rows(
    `insert into order_line (order_id, n, kind, product_id, version, price_id, title, words, amount, rate, net, tax, total)
     select told_order.id, 0, 'main', product, 1, price, content->>'title', '€' || amount / 100, amount, rate, ${net},
       amount - ${net}, amount
     from told_order join product_version on product_id = product and number = 1`,
  )
  await q.rows(
    `insert into payment (order_id, n, due_at, net, tax, total, state, charge, paid_at)
     select id, 0, at, ${net}, amount - ${net}, amount, 'paid', 'ch_told_' || id, at from told_order order by id`,
  )
  await q.rows(
    `insert into invoice (number, order_id, payment_id, kind, issued_at, content)
     select told_order.id, told_order.id, payment.id, 'invoice', at, jsonb_build_object('currency', told_order.currency,
       'seller', jsonb_build_object('name', business.name, 'postalAddress', postal_address, 'country', business.tax->>'home'),
       'buyer', jsonb_build_object('name', trim(first_name || ' ' || last_name), 'address', address, 'country', country,
         'vatNumber', null),
       'order', told_order.id, 'of', null, 'note', '',
       'lines', jsonb_build_array(jsonb_build_object('title', content->>'title', 'description', content->>'description',
         'words', '€' || amount / 100, 'rate', rate, 'net', ${net}, 'tax', amount - ${net}, 'total', amount)),
       'net', ${net}, 'tax', amount - ${net}, 'total', amount)
     from told_order join payment on order_id = told_order.id
     join product_version on product_id = product and number = 1, business`,
  )
  await q.rows(
    `update activity set details = details || jsonb_build_object('price', price, 'order', told_order.id)
     from told_order where activity.id = told_order.activity`,
  )
  await q.rows(`update business set last_invoice = (select coalesce(max(number), 0) from invoice)`)
  await q.rows(
    `select setval(pg_get_serial_sequence('customer_order', 'id'), (select coalesce(max(id), 1) from customer_order))`,
  )
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
