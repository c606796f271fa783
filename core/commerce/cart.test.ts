import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { cartTerms } from '../../testing/shownOrders.ts'
import { needsCard, priceCart, whyNot, type CartTerms, type PricedCart, type WantedItem } from './cart.ts'
import { pricesBehind, shownChoice } from './choices.ts'
import { coupon as couponShape, type Coupon } from './coupon.ts'
import { taxByRate } from './invoice.ts'
import { price as priceShape, type Pays } from './price.ts'
import { productContent } from './product.ts'
import { taxSettings } from './tax.ts'

const month = { count: 1, unit: 'month' as const }
const item = (
  pays: Pays,
  given: Partial<Omit<WantedItem, 'price'>> & { id?: number; price?: object } = {},
): WantedItem => {
  const { id = 1, price: more, ...rest } = given
  const price = priceShape.parse({ id: 'priceone', pays, ...(more as object) })
  return {
    kind: 'main',
    chosen: null,
    sold: 0,
    ownEnd: undefined,
    together: [],
    product: { id, version: 1, content: productContent.parse({ title: `Thing ${id}`, prices: [price] }) },
    ...rest,
    price,
  }
}
const once = (amount: number, given: Parameters<typeof item>[1] = {}): WantedItem =>
  item({ by: 'once', amount }, given)
const coupon = (given: object): Coupon => couponShape.parse({ code: 'TEN-OFF', ...given })
const priced = (items: WantedItem[], given: Partial<CartTerms> = {}): PricedCart =>
  priceCart(items, cartTerms(given))

describe('a cart', () => {
  it('adds up, whatever is in it, whatever is off, and however it is taxed (fast-check)', () => {
    const pays = fc.oneof(
      fc.integer({ min: 1, max: 100_000 }).map((amount): Pays => ({ by: 'once', amount })),
      fc
        .tuple(fc.integer({ min: 100, max: 100_000 }), fc.integer({ min: 2, max: 12 }))
        .map(([amount, payments]): Pays => ({ by: 'payments', amount, payments, every: month })),
      fc
        .integer({ min: 1, max: 10_000 })
        .map((amount): Pays => ({ by: 'subscription', amount, every: month, trialDays: 0, payments: null })),
      fc.constant<Pays>({ by: 'free' }),
    )
    const off = fc.oneof(
      fc.integer({ min: 1, max: 100 }).map((percent) => ({ by: 'percent', percent })),
      fc.integer({ min: 1, max: 200_000 }).map((amount) => ({ by: 'amount', amount })),
    )
    fc.assert(
      fc.property(
        fc.array(pays, { minLength: 1, maxLength: 4 }),
        fc.option(off),
        fc.integer({ min: 0, max: 3_000 }),
        fc.constantFrom('inside', 'onTop'),
        fc.boolean(),
        (all, taken, rate, tax, reverseCharge) => {
          const items = all.map((each, i) => item(each, { id: i + 1 }))
          const cart = priced(items, {
            coupon: taken && coupon({ off: taken }),
            tax: taxSettings.parse({ tax, home: 'IE', rates: [{ country: 'IE', rate }] }),
            reverseCharge,
          })
          expect(cart.due.net + cart.due.tax).toBe(cart.due.total)
          const now = cart.lines.flatMap((line) => line.now ?? [])
          expect(now.reduce((sum, { total }) => sum + total, 0)).toBe(cart.due.total)
          for (const { full, amount, later } of cart.lines) {
            expect(amount).toBeGreaterThanOrEqual(0)
            expect(amount).toBeLessThanOrEqual(full)
            for (const { net, tax: part, total } of later) expect(net + part).toBe(total)
          }
          expect(cart.off).toBeGreaterThanOrEqual(0)
          if (!taken) expect(cart.off).toBe(0)
          if (reverseCharge) expect(cart.due.tax).toBe(0)
        },
      ),
    )
  })

  it('takes an amount off once, shared out among the things that it is for', () => {
    const items = [once(7_900, { id: 1 }), once(1_200, { id: 2 }), once(700, { id: 3 })]
    const cart = priced(items, { coupon: coupon({ off: { by: 'amount', amount: 1_000 }, products: [1, 2] }) })
    expect(cart.lines.map(({ amount }) => amount)).toEqual([7_031, 1_069, 700])
    expect([cart.off, cart.due.total]).toEqual([1_000, 8_800])
    const all = priced(items, { coupon: coupon({ off: { by: 'amount', amount: 1_000_000 } }) })
    expect([all.due.total, needsCard(all)]).toEqual([0, false])
    const over = priced(items, {
      coupon: coupon({ off: { by: 'percent', percent: 50 }, until: '2020-01-01T00:00:00Z' }),
    })
    expect(over.off).toBe(0)
  })

  it('keeps the card of a trial, and takes the first payment when it ends', () => {
    const pays: Pays = { by: 'subscription', amount: 1_500, every: month, trialDays: 14, payments: null }
    const [line] = priced([item(pays)], { coupon: coupon({ off: { by: 'percent', percent: 50 } }) }).lines
    expect([line?.now, line?.later.map(({ total }) => total), line?.renews?.total]).toEqual([
      null,
      [750],
      1_500,
    ])
    expect(needsCard(priced([item(pays)]))).toBe(true)
  })

  it('is refused what is not on sale, sold out, or too little where buyers choose', () => {
    const now = cartTerms().now
    expect(whyNot(once(700), now)).toBe(null)
    expect(whyNot(once(700, { price: { opens: '2030-01-01T00:00:00Z' } }), now)).toMatch(/not on sale yet/)
    expect(whyNot(once(700, { price: { closes: '2020-01-01T00:00:00Z' } }), now)).toMatch(/sale is over/)
    expect(whyNot(once(700, { price: { places: 3 }, sold: 3 }), now)).toMatch(/sold out/)
    const choice: Pays = { by: 'choice', least: 500, suggested: 900 }
    expect(whyNot(item(choice, { chosen: 499 }), now)).toMatch(/less than it costs/)
    expect(priced([item(choice)]).due.total).toBe(900)
    expect(priced([item(choice, { chosen: 1_234 })]).due.total).toBe(1_234)
  })
})

describe('what an order form offers', () => {
  it('is each price of a product, or the one that was chosen, as it is now', () => {
    const content = productContent.parse({
      title: 'Course',
      prices: [
        {
          id: 'atonce11',
          name: 'At once',
          pays: { by: 'once', amount: 7_900 },
          introductory: { amount: 4_900, first: 40 },
          places: 41,
        },
        {
          id: 'inthree1',
          name: 'In three',
          pays: { by: 'payments', amount: 8_700, payments: 3, every: month },
        },
      ],
    })
    const products = new Map([[5, { id: 5, version: 1, content }]])
    const both = pricesBehind([{ product: 5, price: null }], products)
    expect(both.map(({ price }) => price.id)).toEqual(['atonce11', 'inthree1'])
    expect(
      pricesBehind(
        [
          { product: 5, price: 'inthree1' },
          { product: 6, price: null },
          { product: null, price: null },
        ],
        products,
      ),
    ).toHaveLength(1)
    const shown = (sold: number) => both[0] && shownChoice(both[0], 'EUR', cartTerms().now, sold, undefined)
    expect(shown(0)).toMatchObject({
      title: 'Course: At once',
      words: '€49',
      note: 'later €79',
      closed: null,
    })
    expect(shown(38)).toMatchObject({ words: '€49', note: 'later €79, 2 left' })
    expect(shown(40)).toMatchObject({ words: '€79', note: '1 left' })
    expect(shown(41)).toMatchObject({ closed: 'sold out' })
  })
})

describe('products sold together', () => {
  const thing = (id: number, ...prices: object[]) => ({
    id,
    version: 3,
    content: productContent.parse({ title: `Thing ${id}`, prices }),
  })
  const bundle = { id: 'together', pays: { by: 'once', amount: 3_400 }, products: [2, 3] }
  const all = [thing(1, bundle), thing(2, { id: 'twoalone', pays: { by: 'once', amount: 700 } }), thing(3)]

  it('cost what the one price says, whatever each of them costs alone', () => {
    const [choice] = pricesBehind(
      [{ product: 1, price: null }],
      new Map(all.map((each) => [each.id, each] as const)),
    )
    const { lines, due } = priced([
      { ...choice!, kind: 'main', chosen: null, sold: 0, ownEnd: undefined },
      once(500, { id: 9, kind: 'extra' }),
    ])
    expect(
      lines.map(({ kind, product, price, version, words }) => [kind, product, price, version, words]),
    ).toEqual([
      ['main', 1, 'together', 3, '€34'],
      ['together', 2, 'together', 3, 'with Thing 1'],
      ['together', 3, 'together', 3, 'with Thing 1'],
      ['extra', 9, 'priceone', 1, '€5'],
    ])
    expect(due).toEqual({ net: 2_764 + 407, tax: 636 + 93, total: 3_900 })
    expect(lines.map(({ now }) => now?.total ?? null)).toEqual([3_400, null, null, 500])
  })

  it('are not sold while one of them is not on sale', () => {
    const without = new Map(all.slice(0, 2).map((each) => [each.id, each] as const))
    expect(pricesBehind([{ product: 1, price: null }], without)).toEqual([])
    expect(pricesBehind([{ product: 2, price: null }], without)).toHaveLength(1)
  })
})

describe('an invoice', () => {
  it('lists the tax of each rate once', () => {
    const line = { title: '', description: '', words: '', total: 0 }
    const lines = [
      { ...line, rate: 2_300, net: 100, tax: 23 },
      { ...line, rate: 900, net: 200, tax: 18 },
      { ...line, rate: 2_300, net: 50, tax: 12 },
    ]
    expect(taxByRate({ lines })).toEqual([
      { rate: 2_300, net: 150, tax: 35 },
      { rate: 900, net: 200, tax: 18 },
    ])
  })
})
