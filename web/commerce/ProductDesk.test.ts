import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { VSelect } from 'vuetify/components/VSelect'
import type { ProductRow, ProductView } from '../../contract/products.ts'
import { coupon } from '../../core/commerce/coupon.ts'
import { productContent, type ProductContent } from '../../core/commerce/product.ts'
import {
  emptySite,
  type FakeServer,
  fakeServer,
  show,
  type Shown,
  submitDialog,
  typeInDialog,
} from '../../testing/screen.ts'
import { vocabulary } from '../../testing/vocabulary.ts'
import ProductEditor from './ProductEditor.vue'
import ProductList from './ProductList.vue'

const month = { count: 1, unit: 'month' as const }
const product: ProductView = {
  id: 2,
  name: 'Journal course',
  labels: ['courses'],
  state: 'live',
  publishedVersion: 1,
  version: 1,
  revision: 1,
  savedAt: '2026-11-24T09:00:00.000Z',
  savedBy: 'Mara Ellery',
  changes: [],
  findings: [{ level: 'error', words: '“In three”: its sale is over', part: 'inthree1' }],
  others: [],
  usedIn: ['page Sales'],
  versions: [],
  content: productContent.parse({
    title: 'Bind Your First Journal',
    prices: [
      {
        id: 'atonce11',
        name: 'At once',
        pays: { by: 'once', amount: 7_900 },
        introductory: { amount: 4_900, first: 40 },
      },
      {
        id: 'inthree1',
        name: 'In three',
        pays: { by: 'payments', amount: 10_000, payments: 3, every: month },
      },
      { id: 'circle11', name: 'Circle', pays: { by: 'subscription', amount: 1_500, every: month } },
    ],
  }),
  coupons: [
    {
      ...coupon.parse({ code: 'TEN-OFF', off: { by: 'amount', amount: 1_000 } }),
      id: 1,
      productNames: [],
      changedAt: '2026-11-24T09:00:00.000Z',
      changedBy: 'Mara Ellery',
    },
  ],
  selling: {
    currency: 'EUR',
    zone: 'Europe/Dublin',
    tax: {
      tax: 'inside',
      home: 'IE',
      rates: [
        { country: 'IE', rate: 2_300 },
        { country: 'DE', rate: 1_900 },
      ],
    },
  },
}

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(1_200)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers()
  vi.setSystemTime('2027-01-31T10:00:00Z')
  server = fakeServer()
  server.answers('GET /products/2', product)
  server.answers('GET /vocabulary', vocabulary)
  server.answers('GET /site', emptySite())
  server.answers('POST /tax', null)
  server.answers('POST /products/2/save', ({ body }: { body: unknown }) => ({
    ...product,
    revision: (body as { revision: number }).revision + 1,
  }))
})
afterEach(() => vi.useRealTimers())

const button = (words: string) => shown.wrapper.findAll('button').find((each) => each.text() === words)
const input = (label: string) =>
  shown.wrapper
    .findAll('.v-input')
    .find((each) => each.find('label').exists() && each.find('label').text() === label)!
    .get('input')
const rows = (section: string): string[] =>
  shown.wrapper
    .get(`section[aria-labelledby="${section}"]`)
    .findAll('tbody tr')
    .map((row) =>
      row
        .findAll('td')
        .map((cell) => cell.text().replace(/\s+/g, ' '))
        .join(' | '),
    )
const saved = (): ProductContent =>
  (server.sent('POST /products/2/save').at(-1) as { content: ProductContent }).content

describe('the editor of a product', () => {
  beforeEach(async () => {
    shown = await show(ProductEditor, { id: 2 })
    await settle()
  })

  it('has a row for each price as it is now, with what is to be fixed', () => {
    expect(rows('price-list')).toEqual([
      'At once | €79 €49 | first 40 places, then €79 | on sale',
      'In three | 3 payments of €33.34 or €33.33 |  | to fix',
      'Circle | €15 a month |  | on sale',
    ])
  })

  it('says what a buyer pays when: each payment, and what of it is tax', () => {
    const [once, three, circle] = rows('buyers-pay')
    expect(once).toContain('€39.84 | €9.16 | €49')
    expect(three).toMatch(/31 Jan 2027: €33.34.*28 Feb 2027: €33.33.*31 Mar 2027: €33.33/)
    expect(three).toContain('€81.31 | €18.69 | €100')
    expect(circle).toMatch(/and so on.*€12\.20 \| €2\.80 \| €15 each time/)
    expect(shown.wrapper.text()).toContain('23 % tax is inside.')
  })

  it('says what a coupon takes off', async () => {
    const choices = shown.wrapper.findAllComponents(VSelect)
    choices
      .find((each) => each.props('label') === 'With the coupon')
      ?.vm.$emit('update:modelValue', 'TEN-OFF')
    await settle()
    const [once, three, circle] = rows('buyers-pay')
    expect(once).toContain('€39')
    expect(three).toContain('€90')
    // The first time only: what follows costs as much as ever.
    expect(circle).toMatch(/2027: €5.*2027: €15.*€15 each time/)
  })

  it('is typed with a comma; what is no amount is said, and the last one stays', async () => {
    await button('At once')?.trigger('click')
    await settle()
    await input('In all').setValue('89,50')
    await settle()
    expect(saved().prices[0]?.pays).toEqual({ by: 'once', amount: 8_950 })
    await input('In all').setValue('lots')
    await settle()
    expect(shown.wrapper.text()).toContain('Type an amount such as 19.99')
    expect(saved().prices[0]?.pays).toEqual({ by: 'once', amount: 8_950 })
    await shown.wrapper.get('button[aria-label="Undo"]').trigger('click')
    await settle()
    expect(saved().prices[0]?.pays).toEqual({ by: 'once', amount: 7_900 })
  })

  it('gets prices, copies and moves them, and deletes them', async () => {
    await button('Add a price')?.trigger('click')
    await settle()
    expect(saved().prices).toHaveLength(4)
    await shown.wrapper.get('button[aria-label="Move up"]').trigger('click')
    await settle()
    expect(saved().prices.map(({ name }) => name)).toEqual(['At once', 'In three', '', 'Circle'])
    await button('Duplicate')?.trigger('click')
    await settle()
    expect(saved().prices).toHaveLength(5)
    await button('Delete this price')?.trigger('click')
    await settle()
    expect(saved().prices).toHaveLength(4)
    expect(shown.wrapper.text()).toContain('What buyers get')
  })
})

describe('a price in the inspector', () => {
  const choose = (label: string, value: unknown): void => {
    const found = shown.wrapper.findAllComponents(VSelect).find((each) => each.props('label') === label)
    found?.vm.$emit('update:modelValue', value)
  }
  beforeEach(async () => {
    shown = await show(ProductEditor, { id: 2 })
    await settle()
    await button('At once')?.trigger('click')
    await settle()
  })

  it('is paid in another way with the amount that was typed', async () => {
    choose('How it is paid', 'payments')
    await settle()
    expect(saved().prices[0]?.pays).toEqual({ by: 'payments', amount: 7_900, payments: 3, every: month })
    expect(rows('price-list')[0]).toContain('3 payments of €16.34 or €16.33')
    choose('How it is paid', 'subscription')
    await settle()
    expect(saved().prices[0]?.pays).toMatchObject({ by: 'subscription', amount: 7_900, payments: null })
    expect(shown.wrapper.text()).toContain('Until it is cancelled, when empty')
  })

  it('has no introductory price where it is free or chosen', async () => {
    expect(shown.wrapper.text()).toContain('Introductory price')
    choose('How it is paid', 'free')
    await settle()
    expect(saved().prices[0]).toMatchObject({ pays: { by: 'free' }, introductory: null })
    expect(shown.wrapper.text()).not.toContain('Introductory price')
    choose('How it is paid', 'choice')
    await settle()
    expect(saved().prices[0]?.pays).toEqual({ by: 'choice', least: 0, suggested: 1_000 })
    await input('At least').setValue('2,50')
    await settle()
    expect(saved().prices[0]?.pays).toEqual({ by: 'choice', least: 250, suggested: 1_000 })
  })

  it('begins with an introductory price below its own, and can be without one', async () => {
    const toggle = input('Introductory price')
    await toggle.setValue(false)
    await settle()
    expect(saved().prices[0]?.introductory).toBeNull()
    await input('Introductory price').setValue(true)
    await settle()
    expect(saved().prices[0]?.introductory).toEqual({ amount: 4_740, until: null, first: null })
    await input('At first').setValue('49')
    await settle()
    expect(rows('price-list')[0]).toContain('€79 €49')
  })
})

describe('the tax of the business', () => {
  const inDialog = (words: string) =>
    [...document.querySelectorAll<HTMLButtonElement>('.v-dialog button')].find(
      (each) => each.textContent.trim() === words,
    )
  beforeEach(async () => {
    shown = await show(ProductEditor, { id: 2 })
    await settle()
    await button('Tax')?.trigger('click')
    await settle()
  })

  it('is set for all products at once: the way, the country, a rate for each', async () => {
    inDialog('On top of prices')?.click()
    document.querySelector<HTMLButtonElement>('.v-dialog [aria-label="Remove Germany"]')?.click()
    await settle()
    inDialog('Add a rate')?.click()
    await settle()
    submitDialog()
    await settle()
    const [sent] = server.sent('POST /tax') as { tax: string; home: string; rates: object[] }[]
    expect(sent).toMatchObject({ tax: 'onTop', home: 'IE' })
    expect(sent?.rates).toHaveLength(2)
    expect(sent?.rates[0]).toEqual({ country: 'IE', rate: 2_300 })
    // What rests on it is read again.
    expect(server.asked.filter(({ path }) => path === '/products/2')).toHaveLength(2)
  })

  it('says what the server refuses, and keeps what was typed', async () => {
    server.refuses('POST /tax', {
      title: 'Nothing was saved',
      fields: { rates: 'Each country has one rate' },
    })
    inDialog('Add a rate')?.click()
    await settle()
    submitDialog()
    await settle()
    expect(document.querySelector('.v-dialog')?.textContent).toContain('Each country has one rate')
    expect(document.querySelectorAll('.v-dialog [aria-label^="Remove "]')).toHaveLength(3)
  })
})

describe('the list of products', () => {
  it('shows what each costs now and what came of it, and makes one', async () => {
    const { id, name, labels, state, usedIn } = product
    const row: ProductRow = {
      ...{ id, name, labels, state, usedIn },
      hasDraft: true,
      prices: ['€49', '3 × €29'],
      sold: 68,
      income: 537_200,
      changedAt: '2026-11-24T09:00:00.000Z',
    }
    server.answers('GET /products', [row])
    server.answers('POST /products', { id: 9 })
    server.answers('GET /products/9', { ...product, id: 9 })
    shown = await show(ProductList, {})
    await settle()
    const text = shown.wrapper.text()
    for (const each of ['Journal course', '€49 or 3 × €29', '68', '€5,372', 'page Sales'])
      expect(text).toContain(each)
    await button('New product')?.trigger('click')
    await settle()
    typeInDialog('Case templates')
    await settle()
    submitDialog()
    await settle()
    expect(server.sent('POST /products')[0]).toMatchObject({
      name: 'Case templates',
      content: { title: 'Case templates', prices: [{ pays: { by: 'once' } }] },
    })
  })
})
