import type { z } from 'zod'
import { beforeAll, describe, expect, it } from 'vitest'
import type { PageView } from '../../contract/pages.ts'
import type { CouponView } from '../../contract/coupons.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import type { ProductRow, ProductView } from '../../contract/products.ts'
import { composer } from '../../core/blocks/compose.ts'
import { productContent, type ProductContent } from '../../core/commerce/product.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { publish } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ worker: false })
const { block } = composer(numberedIds('product'))
type Given = z.input<typeof productContent>
const once = (id: string, amount: number, given: object = {}) => ({
  id,
  pays: { by: 'once' as const, amount },
  ...given,
})
const guide = (given: Given = {}): ProductContent =>
  productContent.parse({
    title: 'Field guide',
    description: 'Thirty pages on thread and needle.',
    bringsNothing: true,
    prices: [once('guideone', 700)],
    ...given,
  })
const make = async (name: string, content: ProductContent): Promise<number> =>
  (await made<{ id: number }>(on.mara.post('/products', { name, content }))).id
const view = (id: number): Promise<ProductView> => on.mara.get<ProductView>(`/products/${id}`)
const publishNow = async (id: number): Promise<number> => {
  const { version, revision } = await view(id)
  return (await on.mara.post(`/products/${id}/publish`, { version, revision })).status
}
const faultsOf = async (content: ProductContent): Promise<[string, string | null, string][]> =>
  (await view(await make('Checked', content))).findings.map(({ level, part, words }) => [level, part, words])

describe('tax', () => {
  it('is missing until somebody sets it, and then holds for every product', async () => {
    const id = await make('Untaxed as yet', guide())
    expect((await view(id)).findings.map(({ words }) => words)).toEqual([
      'Set the tax rate of your country under “Tax”, or say that it is not taxed',
    ])
    expect(await publishNow(id)).toBe(422)
    const twice = [
      { country: 'IE', rate: 2_300 },
      { country: 'IE', rate: 0 },
    ]
    const refused = await on.mara.post('/tax', { tax: 'inside', home: 'IE', rates: twice })
    expect([refused.status, ((await refused.json()) as ProblemDetails).fields]).toEqual([
      422,
      { rates: 'Each country has one rate' },
    ])
    const rates = [{ country: 'IE', rate: 2_300 }]
    expect((await on.mara.post('/tax', { tax: 'inside', home: 'IE', rates })).status).toBe(204)
    expect((await view(id)).findings).toEqual([])
    expect((await view(id)).selling).toEqual({
      currency: 'EUR',
      zone: 'Europe/Dublin',
      tax: { tax: 'inside', home: 'IE', rates },
      takes: 'test',
    })
    expect(await publishNow(id)).toBe(204)
  })
})

describe('what keeps a product from being sold', () => {
  beforeAll(async () => {
    await on.mara.post('/tax', { tax: 'inside', home: 'IE', rates: [{ country: 'IE', rate: 2_300 }] })
  })

  it('is what is missing or gone', async () => {
    expect(await faultsOf(productContent.parse({}))).toEqual([
      ['error', null, 'Give the product a name that buyers read'],
      ['error', null, 'Give it a price'],
      ['error', null, 'Say what buyers get, or that they get nothing but thanks'],
    ])
    const gone = guide({
      bringsNothing: false,
      description: '',
      pictures: [9_999],
      brings: [
        { does: 'sendFile', file: 9_999 },
        { does: 'addTag', tag: null },
      ],
    })
    expect(await faultsOf(gone)).toEqual([
      ['error', null, 'Choose what is still open under “What buyers get”'],
      ['error', null, 'A picture of it was deleted: choose another, or take it out'],
      ['advice', null, 'Describe it: the words go on the invoice'],
    ])
  })

  it('is a price that contradicts itself, named by its place', async () => {
    const found = await faultsOf(
      guide({
        prices: [
          once('nameless', 700, { brings: [{ does: 'sendFile', file: null }] }),
          once('backward', 900, {
            name: 'Later',
            opens: '2030-02-01T00:00:00Z',
            closes: '2030-01-01T00:00:00Z',
          }),
          once('isgone11', 900, { name: 'Gone', closes: '2020-01-01T00:00:00Z' }),
          once('dearer11', 900, { name: 'later', introductory: { amount: 900 } }),
          { id: 'chosen11', name: 'Yours', pays: { by: 'choice', least: 500, suggested: 400 } },
        ],
      }),
    )
    expect(found).toEqual([
      ['error', 'nameless', 'Price 1: give it a name, so that buyers can choose'],
      ['error', 'nameless', 'Price 1: choose what is still open under “What it brings”'],
      ['error', 'backward', '“Later”: its sale ends before it begins'],
      ['error', 'isgone11', '“Gone”: its sale is over'],
      ['error', 'dearer11', '“later”: the introductory price is not below €9'],
      ['error', 'dearer11', '“later”: say when the introductory price ends, or for how many'],
      ['error', 'chosen11', '“Yours”: suggest at least what is asked for'],
      ['error', 'dearer11', 'Two prices are called “later”'],
    ])
  })

  it('is nothing where every price brings something by itself', async () => {
    const brings = [{ does: 'openAddress' as const, url: 'https://bench.example/' }]
    const [one, two] = [
      once('bringing', 700, { name: 'One', brings }),
      once('bringsno', 900, { name: 'Two' }),
    ]
    expect(await faultsOf(guide({ bringsNothing: false, prices: [one] }))).toEqual([])
    expect(await faultsOf(guide({ bringsNothing: false, prices: [one, two] }))).toEqual([
      ['error', null, 'Say what buyers get, or that they get nothing but thanks'],
    ])
  })

  it('is nothing where two products cost the same', async () => {
    expect(await faultsOf(guide({ prices: [once('samecost', 2_900)] }))).toEqual([])
    expect(await faultsOf(guide({ prices: [once('samecost', 2_900)] }))).toEqual([])
  })

  it('is refused with its field where it cannot be stored', async () => {
    const wrong: [object, RegExp][] = [
      [{ prices: [once('negative', -1)] }, /choose “free”|not negative/],
      [{ prices: [once('fraction', 9.5)] }, /int/i],
      [{ prices: [once('toolarge', 1e12)] }, /too large/],
      [{ prices: [once('twice111', 1), once('twice111', 2)] }, /same id/],
      [{ brings: [{ does: 'openAddress', url: 'javascript:alert(1)' }] }, /web address|Invalid/],
    ]
    for (const [given, says] of wrong) {
      const refused = await on.mara.post('/products', { name: 'Wrong', content: { ...guide(), ...given } })
      const { fields } = (await refused.json()) as ProblemDetails
      expect([refused.status, Object.values(fields ?? {}).join()]).toEqual([422, expect.stringMatching(says)])
    }
  })
})

describe('products of the Library', () => {
  it('say what they cost now, and what came of them', async () => {
    const id = await make(
      'Journal course',
      guide({
        prices: [
          once('courseon', 7_900, { name: 'At once', introductory: { amount: 4_900, first: 40 } }),
          {
            id: 'courseby',
            name: 'In three',
            pays: { by: 'payments', amount: 8_700, payments: 3, every: { count: 1, unit: 'month' } },
          },
          {
            id: 'coursein',
            name: 'Circle',
            pays: { by: 'subscription', amount: 1_500, every: { count: 1, unit: 'month' } },
          },
          { id: 'coursefr', name: 'Taste', pays: { by: 'free' } },
        ],
      }),
    )
    const buyer = await on.add('buyer@postbox.test')
    const bought = { contact: buyer, kind: 'productBought' as const }
    const at = on.install.platform.clock.now()
    const details = (amount: number, currency = 'EUR') => ({ product: id, amount, currency })
    await on.install.platform.database.inTransaction((tx) =>
      recordActivities(tx, [
        { ...bought, at, details: details(4_900) },
        { ...bought, at, details: details(700, 'USD') },
        { ...bought, at: at - 31 * 86_400_000, details: details(7_900) },
      ]),
    )
    const row = (await on.mara.get<ProductRow[]>('/products')).find((each) => each.id === id)
    expect(row).toMatchObject({
      prices: ['€49', '3 × €29', '€15 a month', 'free'],
      sold: 2,
      income: 4_900,
      state: 'draft',
    })
  })

  it('are copied as drafts with prices of their own', async () => {
    const id = await make('To copy', guide())
    await on.mara.post(`/products/${id}/settings`, { name: 'To copy', labels: ['guides'] })
    const { id: copied } = await made<{ id: number }>(on.mara.post(`/products/${id}/copy`))
    const copy = await view(copied)
    expect([copy.name, copy.labels, copy.state]).toEqual(['To copy (copy)', ['guides'], 'draft'])
    expect(copy.content.prices[0]?.id).not.toBe('guideone')
    expect(copy.content).toMatchObject({ ...guide(), prices: [{ pays: { by: 'once', amount: 700 } }] })
  })

  it('stay when they were on sale or something leads to them; others can be deleted', async () => {
    const sold = await make('On sale once', guide())
    expect(await publishNow(sold)).toBe(204)
    const refused = await on.mara.post(`/products/${sold}/delete`)
    expect([refused.status, ((await refused.json()) as ProblemDetails).title]).toEqual([
      409,
      'This product has been on sale',
    ])
    const wanted = await make('Led to', guide())
    const target = { to: 'product' as const, product: wanted }
    await publish(on, 'sells', [block('button', { label: 'Buy', target })])
    const inUse = await on.mara.post(`/products/${wanted}/delete`)
    expect([inUse.status, ((await inUse.json()) as ProblemDetails).detail]).toEqual([
      409,
      'Take it out of these first: page sells.',
    ])
    const free = await make('Never sold', guide())
    expect((await on.mara.post(`/products/${free}/delete`)).status).toBe(204)
    expect((await on.mara.post(`/products/${free}/delete`)).status).toBe(404)
  })

  it('are named where what they bring is deleted', async () => {
    const page = await publish(on, 'inside', [block('heading', { words: 'Inside' })])
    await make('Brings a page', guide({ brings: [{ does: 'openPage', page }] }))
    expect((await on.mara.get<PageView>(`/pages/${page}`)).usedIn).toEqual(['product Brings a page'])
  })

  it('say what is different from what is on sale, overwrite nobody, and go back', async () => {
    const id = await make('Changed', guide())
    expect(await publishNow(id)).toBe(204)
    const { version, revision } = await view(id)
    const next = guide({
      title: 'The field guide',
      bringsNothing: false,
      prices: [once('guidetwo', 900, { name: 'Signed' }), once('guideone', 800, { name: 'Plain' })],
    })
    const saved = await made<ProductView>(
      on.mara.post(`/products/${id}/save`, { version, revision, content: next }),
    )
    expect(saved.changes).toEqual([
      'Added the price “Signed”',
      'Changed the price “Plain”',
      'Changed the name that buyers read',
      'Changed what buyers get',
    ])
    const stale = await on.mara.post(`/products/${id}/save`, { version, revision, content: guide() })
    expect([stale.status, (await view(id)).content]).toEqual([409, next])
    await on.mara.post(`/products/${id}/go-back`, { version: 1 })
    await eventually(async () => (await view(id)).changes.length === 0)
  })
})

describe('coupons', () => {
  const autumn = { code: 'autumn-20', off: { by: 'percent', percent: 20 } }
  const list = (): Promise<CouponView[]> => on.mara.get<CouponView[]>('/coupons')

  it('are found by their code, hold for their products, and are told of there', async () => {
    const mine = await make('With a coupon', guide())
    const other = await make('Without one', guide())
    const { id } = await made<{ id: number }>(on.mara.post('/coupons', { ...autumn, products: [mine] }))
    expect(await list()).toMatchObject([{ id, code: 'AUTUMN-20', productNames: ['With a coupon'] }])
    expect((await view(mine)).coupons.map(({ code }) => code)).toEqual(['AUTUMN-20'])
    expect((await view(other)).coupons).toEqual([])
    const all = { ...autumn, code: 'autumn-25', off: { by: 'amount', amount: 500 } }
    expect((await on.mara.post(`/coupons/${id}/save`, all)).status).toBe(204)
    expect((await view(other)).coupons.map(({ code }) => code)).toEqual(['AUTUMN-25'])
    expect((await on.mara.post(`/coupons/${id}/delete`)).status).toBe(204)
    expect((await on.mara.post(`/coupons/${id}/delete`)).status).toBe(404)
    expect(await list()).toEqual([])
  })

  it('are refused with their field: a code that is taken or cannot be said, a product that is gone', async () => {
    await made(on.mara.post('/coupons', { ...autumn, code: 'TAKEN' }))
    const wrong: [object, number, string][] = [
      [{ code: 'taken' }, 409, 'code'],
      [{ code: 'two words' }, 422, 'code'],
      [{ products: [99_999] }, 422, 'products'],
      [{ off: { by: 'percent', percent: 120 } }, 422, 'off.percent'],
      [{ from: '2027-02-01T00:00:00Z', until: '2027-01-01T00:00:00Z' }, 422, 'until'],
      [{ uses: 0 }, 422, 'uses'],
    ]
    for (const [given, status, field] of wrong) {
      const refused = await on.mara.post('/coupons', { ...autumn, ...given })
      const { fields } = (await refused.json()) as ProblemDetails
      expect([refused.status, Object.keys(fields ?? {})]).toEqual([status, [field]])
    }
  })
})
