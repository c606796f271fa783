import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { OrderRow, OrderView } from '../../contract/orders.ts'
import { fakeServer, type FakeServer, show, submitDialog } from '../../testing/screen.ts'
import OrderList from './OrderList.vue'
import OrderScreen from './OrderScreen.vue'
import RecoveryView from './RecoveryView.vue'
import { failureOf, orderMark } from './orderStates.ts'

const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(1_200)
  await flushPromises()
}
const row = (given: Partial<OrderRow> = {}): OrderRow => ({
  id: 7,
  state: 'paid',
  failure: null,
  test: false,
  contact: 3,
  name: 'Ada Finch',
  address: 'ada@postbox.test',
  titles: ['Field Guide', 'Cards'],
  currency: 'EUR',
  total: 1_900,
  refunded: 0,
  placedAt: '2027-01-31T09:00:00.000Z',
  ...given,
})
const order = (given: Partial<OrderView> = {}): OrderView => ({
  ...row(),
  country: 'IE',
  vatNumber: null,
  coupon: 'TEN-OFF',
  off: 100,
  net: 1_545,
  tax: 355,
  paidAt: '2027-01-31T09:01:00.000Z',
  renews: false,
  endedAt: null,
  endedBy: null,
  pausedUntil: null,
  each: null,
  disputedAt: null,
  page: { id: 4, name: 'Order' },
  lines: [
    { product: 1, title: 'Field Guide', words: '€7', kind: 'main', rate: 2_300, tax: 131, total: 700 },
    { product: 2, title: 'Cards', words: '€12', kind: 'extra', rate: 2_300, tax: 224, total: 1_200 },
  ],
  payments: [
    {
      id: 1,
      n: 0,
      dueAt: '2027-01-31T09:00:00.000Z',
      total: 1_900,
      tax: 355,
      state: 'paid',
      failure: null,
      paidAt: '2027-01-31T09:01:00.000Z',
    },
  ],
  refunds: [],
  invoices: [{ number: 12, kind: 'invoice', issuedAt: '2027-01-31T09:01:00.000Z', total: 1_900 }],
  publicPath: '/order/abc',
  refundable: 1_900,
  ...given,
})
const press = async (words: string): Promise<void> => {
  const buttons = [...document.querySelectorAll<HTMLElement>('button')]
  buttons.findLast((each) => each.textContent.trim() === words)?.click()
  await settle()
}

let server: FakeServer
beforeEach(() => {
  vi.useFakeTimers()
  vi.setSystemTime('2027-01-31T10:00:00Z')
  server = fakeServer()
})
afterEach(() => vi.useRealTimers())

describe('the list of orders', () => {
  const takings = { takes: 'test', currency: 'EUR', paid: 190_000, refunded: 1_900, orders: 31 }

  it('says who bought what, what was not paid and why, and what came in', async () => {
    server.answers('GET /orders?show=all', {
      rows: [row(), row({ id: 6, state: 'failed', failure: 'declined', contact: null, name: '' })],
      next: 6,
    })
    server.answers('GET /orders/takings', takings)
    const { wrapper } = await show(OrderList, {})
    await settle()
    for (const words of [
      'Ada Finch',
      'Field Guide, Cards',
      'the card was declined',
      '€1,900',
      '31 orders',
      '€19 given back',
    ])
      expect(wrapper.text()).toContain(words)
    // The next page goes on from the last order of this one.
    server.answers('GET /orders?show=all&after=6', {
      rows: [row({ id: 5, name: 'Bram Okafor' })],
      next: null,
    })
    await press('Next')
    expect(wrapper.text()).toContain('Bram Okafor')
  })

  it('takes payments only after a question', async () => {
    server.answers('GET /orders?show=all', { rows: [], next: null })
    server.answers('GET /orders/takings', takings)
    server.answers('POST /takes', null)
    const { wrapper } = await show(OrderList, {})
    await settle()
    expect(wrapper.text()).toContain('test: no money moves')
    await press('Take payments')
    expect(server.sent('POST /takes')).toEqual([])
    await press('Take payments')
    expect(server.sent('POST /takes')).toEqual([{ takes: 'live' }])
  })
})

describe('an order', () => {
  it('says what was bought, by whom, what was paid, and has its invoices', async () => {
    server.answers('GET /orders/7', order())
    server.answers('POST /orders/7/receipt', null)
    const { wrapper } = await show(OrderScreen, { id: 7 })
    await settle()
    for (const words of [
      'extra on the form',
      '23 %',
      'Coupon TEN-OFF',
      'Ireland',
      'Invoice 12',
      '€3.55',
      '€19',
    ])
      expect(wrapper.text()).toContain(words)
    await press('Send the receipt again')
    expect(server.sent('POST /orders/7/receipt')).toHaveLength(1)
    expect(wrapper.text()).toContain('Receipt sent')
  })

  it('is given back in part, and what the server refuses stands in the dialog', async () => {
    server.answers('GET /orders/7', order({ refunded: 500, refundable: 1_400 }))
    server.refuses('POST /orders/7/refund', {
      title: 'That is more than was paid',
      fields: { amount: '€14 at most can be given back.' },
    })
    await show(OrderScreen, { id: 7 })
    await settle()
    await press('Refund')
    expect(document.body.textContent).toContain('€14 can be given back')
    submitDialog()
    await settle()
    expect(server.sent('POST /orders/7/refund')).toEqual([{ amount: 1_400, reason: '', takesBack: false }])
    expect(document.body.textContent).toContain('€14 at most can be given back.')
  })

  it('of a subscription is ended after a question, and its price set', async () => {
    server.answers('GET /orders/7', order({ renews: true, each: 1_500 }))
    server.answers('POST /orders/7/end', null)
    server.refuses('POST /orders/7/price', {
      title: 'That is what it costs',
      fields: { amount: 'It costs that already' },
    })
    const { wrapper } = await show(OrderScreen, { id: 7 })
    await settle()
    expect(wrapper.text()).toContain('goes on, €15 each time')
    await press('Subscription')
    await press('Set price')
    expect(server.sent('POST /orders/7/price')).toEqual([{ amount: 1_500 }])
    expect(document.querySelector('.v-dialog')?.textContent).toContain('It costs that already')
    await press('End the subscription')
    expect(server.sent('POST /orders/7/end')).toHaveLength(1)
  })

  it('of a subscription that rests goes on at a press', async () => {
    server.answers(
      'GET /orders/7',
      order({ renews: true, each: 1_500, pausedUntil: '2027-04-01T08:00:00.000Z' }),
    )
    server.answers('POST /orders/7/pause', null)
    const { wrapper } = await show(OrderScreen, { id: 7 })
    await settle()
    expect(wrapper.text()).toContain('rests until')
    await press('Subscription')
    await press('Go on now')
    expect(server.sent('POST /orders/7/pause')).toEqual([{ until: null }])
  })
})

describe('left carts', () => {
  it('say who left what and who came back, with how sure the shares are', async () => {
    const share = (of: number) => ({ of, among: 40, rate: of / 40, low: 0.1, high: 0.35 })
    server.answers('GET /orders/recovery?days=30', {
      currency: 'EUR',
      left: 40,
      written: share(30),
      back: share(8),
      money: 63_200,
      comparison: {
        mailed: share(8),
        heldOut: share(4),
        gain: { difference: 0.1, low: -0.05, high: 0.24 },
      },
      settings: { afterMinutes: 60, heldOut: 20 },
      rows: [
        {
          id: 1,
          contact: 3,
          name: 'Femi Novak',
          address: 'femi@postbox.test',
          titles: ['Course', 'Cards'],
          leftAt: '2027-01-30T09:00:00.000Z',
          state: 'back',
          paid: 7_900,
        },
      ],
    })
    server.answers('GET /orders/recovery?days=90', {
      currency: 'EUR',
      left: 0,
      written: share(0),
      back: share(0),
      money: 0,
      comparison: null,
      settings: { afterMinutes: 45, heldOut: 0 },
      rows: [],
    })
    server.answers('POST /orders/recovery', undefined)
    const shown = await show(RecoveryView, {})
    const { wrapper } = shown
    await settle()
    for (const words of [
      '30 · 75 %',
      '8 · 20 %',
      '(10 to 35)',
      '€632',
      'Femi Novak',
      'Course, Cards',
      'came back',
      '€79',
      '4 · 10 %',
      '+10',
      '(−5 to +24)',
    ])
      expect(wrapper.text()).toContain(words)
    await shown.press('When a cart is left')
    await shown.fill('Held out, %', '10')
    await shown.press('Save')
    expect(server.sent('POST /orders/recovery')).toEqual([{ afterMinutes: 60, heldOut: 10 }])
    await press('90 days')
    expect(wrapper.text()).toContain('Nobody has left a checkout.')
    expect(wrapper.text()).toContain('does not buy within 45 minutes')
  })
})

describe('the mark of an order', () => {
  it('says what became of it', () => {
    const words = (given: Partial<OrderRow>): string => orderMark(row(given)).words
    expect([
      words({}),
      words({ state: 'open' }),
      words({ state: 'failed' }),
      words({ refunded: 500 }),
      words({ refunded: 1_900 }),
    ]).toEqual(['paid', 'under way', 'not paid', 'partly refunded', 'refunded'])
    expect([failureOf('away'), failureOf(null)]).toEqual(['the card gateway could not be reached', ''])
  })
})
