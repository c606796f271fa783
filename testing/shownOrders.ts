import type { Block } from '../core/blocks/block.ts'
import { priceCart, type CartTerms } from '../core/commerce/cart.ts'
import { productContent } from '../core/commerce/product.ts'
import type { ShownChoice, ShownOrder, ShownPurchase } from '../core/commerce/shownOrder.ts'
import { taxSettings } from '../core/commerce/tax.ts'

/** What carts rest on, made up: euros, Irish tax inside. */
export const cartTerms = (given: Partial<CartTerms> = {}): CartTerms => ({
  currency: 'EUR',
  zone: 'Europe/Dublin',
  tax: taxSettings.parse({ tax: 'inside', home: 'IE', rates: [{ country: 'IE', rate: 2_300 }] }),
  now: Date.parse('2026-11-24T10:00:00Z'),
  country: null,
  reverseCharge: false,
  coupon: null,
  ...given,
})

const choice = (given: Partial<ShownChoice> = {}): ShownChoice => ({
  product: 1,
  price: 'priceone',
  title: 'Field Guide',
  words: '€7',
  note: 'later €9, 3 left',
  closed: null,
  least: null,
  ...given,
})

/** An order form as somebody sees it who has typed their address. */
export function shownOrderOf(block: Block<'orderForm'>, given: Partial<ShownOrder> = {}): ShownOrder {
  const content = productContent.parse({
    title: 'Field Guide',
    prices: [{ id: 'priceone', pays: { by: 'once', amount: 700 } }],
  })
  const [price] = content.prices
  if (!price) throw new Error('the product has a price')
  const item = {
    kind: 'main',
    chosen: null,
    product: { id: 1, version: 1, content },
    price,
    together: [],
    sold: 0,
    ownEnd: undefined,
  } as const
  return {
    block,
    action: '/p/order?cart=abc',
    currency: 'EUR',
    part: 'whole',
    choices: [choice(), choice({ price: 'pricetwo', title: 'Later', closed: 'sold out', least: 100 })],
    extra: choice({ product: 2, title: 'Cards' }),
    typed: { firstName: 'Ada', coupon: '<b>"', amount: '7' },
    faults: { address: 'Type your email address.', card: 'Type your card.' },
    notice: 'Almost there.',
    cart: priceCart([item], cartTerms()),
    coupon: '20 % off',
    buyer: null,
    card: 'http://127.0.0.1:4690/card/abc',
    termsHref: '/p/terms',
    test: true,
    ...given,
  }
}

export const shownPurchaseOf = (given: Partial<ShownPurchase> = {}): ShownPurchase => ({
  firstName: 'Ada',
  lines: [{ title: 'Field Guide', paid: '€7' }],
  ways: [{ label: 'Download Field Guide', href: '/files/abc' }],
  total: '€7',
  invoiceHref: '/order/abc/invoice/1',
  ...given,
})
