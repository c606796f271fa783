import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { coupon } from '../../core/commerce/coupon.ts'
import { fakeServer, show, submitDialog, typeInDialog } from '../../testing/screen.ts'
import CouponList from './CouponList.vue'

const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(1_200)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers()
  vi.setSystemTime('2027-01-31T10:00:00Z')
})
afterEach(() => vi.useRealTimers())

describe('the list of coupons', () => {
  it('says what each takes off, of what and until when; one is made in a dialog', async () => {
    const server = fakeServer()
    server.answers('GET /products', [])
    server.answers('GET /coupons', [
      {
        ...coupon.parse({ code: 'TEN-OFF', off: { by: 'amount', amount: 1_000 } }),
        everyTime: true,
        usesEach: 1,
        until: '2027-01-01T00:00:00Z',
        id: 1,
        productNames: [],
        changedAt: '2026-11-24T09:00:00.000Z',
        changedBy: 'Mara Ellery',
      },
    ])
    server.answers('POST /coupons', { id: 3 })
    const shown = await show(CouponList, {})
    await settle()
    const text = shown.wrapper.text()
    for (const each of ['TEN-OFF', '€10 of every payment', 'all products', '1 a person', 'over'])
      expect(text).toContain(each)
    const make = shown.wrapper.findAll('button').find((each) => each.text() === 'New coupon')
    await make?.trigger('click')
    await settle()
    typeInDialog('autumn-20')
    await settle()
    submitDialog()
    await settle()
    expect(server.sent('POST /coupons')[0]).toMatchObject({
      code: 'AUTUMN-20',
      off: { by: 'percent', percent: 20 },
      usesEach: 1,
    })
  })
})
