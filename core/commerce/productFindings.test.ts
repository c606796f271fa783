import { describe, expect, it } from 'vitest'
import { broughtAt, delivery, isDeliveryOpen, isInHand, type Delivery } from './delivery.ts'
import { describeProductChanges } from './describeProduct.ts'
import { couponWords, paysWords, periodWords, priceName } from './priceWords.ts'
import { freshPrice, price, type Pays } from './price.ts'
import { productContent, type ProductContent } from './product.ts'
import { findingsOfProduct, type ProductSurroundings } from './productFindings.ts'
import { taxSettings } from './tax.ts'

const around: ProductSurroundings = {
  fields: [],
  tags: new Set([1]),
  topics: new Set([2]),
  followups: new Set([3]),
  files: new Set([4]),
  liveCourses: new Set(),
  livePages: new Set([5]),
  liveEmails: new Set([6]),
  pictures: new Set([7]),
  onSale: new Set([1, 2]),
  deadlines: new Map([
    ['welcome', { begins: 'visit', runs: { by: 'length', lasts: { amount: 3, unit: 'days' } } }],
    ['fair', { begins: 'sending', runs: { by: 'date', at: '2027-02-01T12:00:00Z' } }],
    ['letters', { begins: 'followup', runs: { by: 'length', lasts: { amount: 9, unit: 'weeks' } } }],
  ]),
  zone: 'Europe/Dublin',
  currency: 'EUR',
  tax: taxSettings.parse({ home: 'IE', rates: [{ country: 'IE', rate: 2_300 }] }),
  now: Date.parse('2027-01-15T12:00:00Z'),
}
const month = { count: 1, unit: 'month' as const }
const once = { by: 'once' as const, amount: 7_900 }
const product = (given: object = {}): ProductContent =>
  productContent.parse({
    title: 'A guide',
    description: 'Thirty pages.',
    bringsNothing: true,
    prices: [{ id: 'priceone', pays: once }],
    ...given,
  })
const told = (given: object, more: Partial<ProductSurroundings> = {}): string[] =>
  findingsOfProduct(1, product(given), { ...around, ...more }).map(({ level, words }) => `${level}: ${words}`)
const priced = (given: object): string[] => told({ prices: [{ id: 'priceone', pays: once, ...given }] })

describe('the check of a product', () => {
  it('has nothing to say of one that is sound, free or paid', () => {
    expect(told({})).toEqual([])
    expect(told({ description: '', prices: [{ id: 'priceone', pays: { by: 'free' } }] })).toEqual([])
    expect(told({ pictures: [7], bringsNothing: false, brings: [{ does: 'sendFile', file: 4 }] })).toEqual([])
  })

  it('asks for the tax rate where something taxed is paid, and only there', () => {
    const untaxed = { tax: taxSettings.parse({ home: 'IE' }) }
    const words = 'error: Set the tax rate of your country under “Tax”, or say that it is not taxed'
    expect(told({}, untaxed)).toEqual([words])
    expect(told({ taxed: false }, untaxed)).toEqual([])
    expect(told({ prices: [{ id: 'priceone', pays: { by: 'free' } }] }, untaxed)).toEqual([])
    // Another country's rate is none for those without one.
    const abroad = { tax: taxSettings.parse({ home: 'IE', rates: [{ country: 'DE', rate: 1_900 }] }) }
    expect(told({}, abroad)).toEqual([words])
  })

  it('looks at each price by the clock', () => {
    expect(priced({ closes: '2027-01-15T12:00:00Z' })).toEqual(['error: Price 1: its sale is over'])
    expect(priced({ closes: '2027-01-15T12:00:01Z' })).toEqual([])
    expect(priced({ opens: '2027-03-01T00:00:00Z' })).toEqual([])
    expect(priced({ introductory: { amount: 4_900, until: '2027-01-15T12:00:00Z' } })).toEqual([
      'advice: Price 1: the introductory price is over',
    ])
    expect(priced({ introductory: { amount: 4_900, until: '2027-01-16T12:00:00Z' } })).toEqual([])
  })

  it('sells together only what is on sale, and never a product with itself', () => {
    const words = 'error: Price 1: choose other products that are on sale under “Sold together”'
    expect(priced({ products: [2] })).toEqual([])
    expect(priced({ products: [2, 3] })).toEqual([words])
    expect(priced({ products: [1] })).toEqual([words])
    // What is sold together is what buyers get.
    expect(told({ bringsNothing: false, prices: [{ id: 'priceone', pays: once, products: [2] }] })).toEqual(
      [],
    )
  })

  it('says of a price that brings nothing of the product that it is so', () => {
    expect(priced({ instead: true })).toEqual(['advice: Price 1: buyers get nothing but thanks at it'])
    const elsewhere = [{ does: 'openAddress', url: 'https://elsewhere.test/room' }]
    expect(priced({ instead: true, brings: elsewhere })).toEqual([])
  })

  it('refuses an introductory price that is none', () => {
    expect(priced({ introductory: { amount: 7_900, first: 3 } })).toEqual([
      'error: Price 1: the introductory price is not below €79',
    ])
    expect(priced({ introductory: { amount: 4_900 } })).toEqual([
      'error: Price 1: say when the introductory price ends, or for how many',
    ])
    const chosen = { by: 'choice', least: 500, suggested: 900 }
    expect(priced({ pays: chosen, introductory: { amount: 100, first: 3 } })).toEqual([
      'error: Price 1: what is free or chosen has no introductory price',
    ])
  })

  it('says when buyers may pay nothing at all, which may be meant', () => {
    expect(priced({ pays: { by: 'choice', least: 0, suggested: 500 } })).toEqual([
      'advice: Price 1: buyers may pay nothing at all',
    ])
  })

  it('says when a sale ends before a deadline that counts down to it', () => {
    const ends = (deadline: string, closes: string | null): string[] => priced({ deadline, closes })
    const early = (name: string): string[] => [
      `advice: Price 1: its sale ends before the deadline “${name}” of who comes now`,
    ]
    expect(ends('welcome', null)).toEqual([])
    expect(ends('welcome', '2027-01-18T12:00:00Z')).toEqual([])
    expect(ends('welcome', '2027-01-18T11:59:59Z')).toEqual(early('welcome'))
    expect(ends('fair', '2027-02-01T12:00:00Z')).toEqual([])
    expect(ends('fair', '2027-02-01T11:00:00Z')).toEqual(early('fair'))
    // How long it is, its follow-up says.
    expect(ends('letters', '2027-01-16T12:00:00Z')).toEqual([])
    expect(ends('welcome', '2027-01-14T12:00:00Z')).toEqual(['error: Price 1: its sale is over'])
    expect(ends('gone', null)).toEqual(['error: Price 1: the deadline “gone” was deleted: choose another'])
  })

  it('says when something costs nothing beside what is paid, but for whom a deadline lets in', () => {
    const free = { id: 'pricefree', name: 'Sample', pays: { by: 'free' } }
    const paid = { id: 'priceone', name: 'Whole', pays: once }
    expect(told({ prices: [paid, free] })).toEqual([
      'advice: “Sample” costs nothing beside prices that are paid: buyers may take it instead',
    ])
    expect(told({ prices: [paid, { ...free, deadline: 'welcome' }] })).toEqual([])
  })

  it('wants names that tell several prices apart', () => {
    const prices = ['Plain', 'plain', ''].map((name, n) => ({ id: `prices${n}x`, name, pays: once }))
    expect(told({ prices })).toEqual([
      'error: Price 3: give it a name, so that buyers can choose',
      'error: Two prices are called “plain”',
    ])
  })
})

describe('what a product brings', () => {
  const sound: readonly Delivery[] = [
    { does: 'sendFile', file: 4 },
    { does: 'openPage', page: 5 },
    { does: 'sendEmail', email: 6 },
    { does: 'openAddress', url: 'https://shelf.example/' },
    { does: 'addTag', tag: 1 },
    { does: 'removeTag', tag: 1 },
    { does: 'startFollowup', followup: 3 },
    { does: 'joinTopic', topic: 2 },
    { does: 'leaveTopic', topic: 2 },
    { does: 'notifyTeam' },
  ]

  it('is open while nothing is chosen, or what was chosen is gone or not live', () => {
    for (const each of sound) expect([each.does, isDeliveryOpen(each, around)]).toEqual([each.does, false])
    const kinds = delivery.options.map((option) => option.shape.does.value)
    for (const does of kinds.filter((kind) => kind !== 'notifyTeam'))
      expect([does, isDeliveryOpen(delivery.parse({ does }), around)]).toEqual([does, true])
    expect(isDeliveryOpen({ does: 'openPage', page: 99 }, around)).toBe(true)
    expect(isDeliveryOpen({ does: 'setField', field: 9, value: 'x' }, around)).toBe(true)
  })

  it('is in the buyer’s hands by files, pages, emails, addresses and follow-ups alone', () => {
    expect(sound.filter(isInHand).map(({ does }) => does)).toEqual([
      'sendFile',
      'openPage',
      'sendEmail',
      'openAddress',
      'startFollowup',
    ])
  })
})

describe('a price in words', () => {
  it('says how it is paid', () => {
    const words = (pays: Pays, amount = 8_700): string => paysWords(pays, 'EUR', amount)
    const every = { by: 'payments' as const, amount: 8_700, payments: 3, every: month }
    expect(words(once)).toBe('€87')
    expect(words(every)).toBe('3 × €29')
    expect(words(every, 10_000)).toBe('3 payments of €33.34 or €33.33')
    const on = { by: 'subscription' as const, amount: 1_500, every: month, trialDays: 0, payments: null }
    expect(words(on, 1_500)).toBe('€15 a month')
    expect(words({ ...on, trialDays: 14, payments: 6 }, 1_500)).toBe(
      '€15 a month, 6 times, the first 14 days free',
    )
    expect(words({ ...on, every: { count: 2, unit: 'week' } }, 1_500)).toBe('€15 every 2 weeks')
    expect(words({ by: 'choice', least: 0, suggested: 500 })).toBe('what you like')
    expect(words({ by: 'choice', least: 250, suggested: 500 })).toBe('€2.50 or more')
    expect(words({ by: 'free' })).toBe('free')
    expect(periodWords({ count: 1, unit: 'year' })).toBe('a year')
  })

  it('is called by its name, or by what it costs', () => {
    expect(priceName(price.parse({ id: 'named111', name: 'Signed', pays: once }), 'EUR')).toBe('Signed')
    expect(priceName(price.parse({ id: 'plain111', pays: once }), 'EUR')).toBe('€79')
    expect(priceName(freshPrice('fresh111'), 'JPY')).toBe('JP¥1,000')
  })

  it('of a coupon says what it takes off', () => {
    expect(couponWords({ off: { by: 'percent', percent: 20 }, everyTime: false }, 'EUR')).toBe('20 %')
    expect(couponWords({ off: { by: 'amount', amount: 1_000 }, everyTime: true }, 'EUR')).toBe(
      '€10 of every payment',
    )
  })
})

describe('what is different from what is on sale', () => {
  const two = product({
    prices: [
      { id: 'priceone', name: 'Plain', pays: once },
      { id: 'pricetwo', name: 'Signed', pays: { by: 'once', amount: 9_900 } },
    ],
  })

  it('is said part by part', () => {
    expect(describeProductChanges(two, two, 'EUR')).toEqual([])
    const [plain, signed] = two.prices
    if (!plain || !signed) throw new Error('no prices')
    const after = product({
      title: 'The guide',
      description: 'Forty pages.',
      pictures: [7],
      taxed: false,
      after: { to: 'web', url: 'https://shelf.example/' },
      brings: [{ does: 'notifyTeam' }],
      prices: [{ ...signed, places: 3 }, plain, { id: 'pricenew', pays: { by: 'free' } }],
    })
    expect(describeProductChanges(two, after, 'EUR')).toEqual([
      'Added the price “free”',
      'Changed the price “Signed”',
      'Changed the order of the prices',
      'Changed the name that buyers read',
      'Changed the description',
      'Changed the pictures',
      'Changed what buyers get',
      'Changed where buyers go after paying',
      'Changed whether it is taxed',
    ])
    expect(describeProductChanges(two, { ...two, prices: [plain] }, 'EUR')).toEqual([
      'Deleted the price “Signed”',
    ])
  })
})

describe('what a price brings', () => {
  const file = { does: 'sendFile', file: 4 } as const
  const elsewhere = { does: 'openAddress', url: 'https://elsewhere.test/room' } as const
  const sold = product({
    brings: [file],
    prices: [
      { id: 'standard', pays: once },
      { id: 'dearer11', pays: once, brings: [elsewhere] },
      { id: 'service1', pays: once, brings: [elsewhere], instead: true },
    ],
  })

  it('comes besides what the product brings, or instead of it', () => {
    expect(broughtAt(sold, 'standard')).toEqual([file])
    expect(broughtAt(sold, 'dearer11')).toEqual([file, elsewhere])
    expect(broughtAt(sold, 'service1')).toEqual([elsewhere])
    // Sold together with another product, at a price of that one.
    expect(broughtAt(sold, 'anothers')).toEqual([file])
  })
})
