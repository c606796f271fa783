import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { coupon, couponState, discounted, isFor } from './coupon.ts'
import { digitsOf, moneyWords, readAmount, shared, typedAmount } from './money.ts'
import { offerOf } from './offer.ts'
import { paymentsOf } from './payments.ts'
import { price, type Pays } from './price.ts'
import { rateFor, taxed, taxSettings } from './tax.ts'

const zone = 'Europe/Dublin'
const at = (iso: string): number => DateTime.fromISO(iso, { zone }).toMillis()
const days = (pays: Pays, from: string, amount = 9_900): string[] =>
  paymentsOf(pays, { amount, currency: 'EUR', from: at(from), zone }).map((each) =>
    DateTime.fromMillis(each.at, { zone }).toFormat('yyyy-MM-dd HH:mm'),
  )

describe('money', () => {
  it('has as many digits as ISO 4217 gives its currency', () => {
    // ISO 4217, list one: minor units (from memory); the fifths of MGA have two digits all the same.
    expect(['EUR', 'JPY', 'BHD', 'GBP', 'MGA'].map(digitsOf)).toEqual([2, 0, 3, 2, 2])
    expect(() => digitsOf('XQQ')).toThrow(RangeError)
  })

  it('is written and read in its own units, with a point or a comma', () => {
    expect(moneyWords({ amount: 1_999, currency: 'EUR' })).toBe('€19.99')
    expect(moneyWords({ amount: 7_900, currency: 'EUR' })).toBe('€79')
    expect(moneyWords({ amount: 500, currency: 'JPY' }, 'en-GB')).toBe('JP¥500')
    expect(['19.99', '19,99', '7', ' 7.5 ', '0'].map((typed) => readAmount(typed, 'EUR'))).toEqual([
      1_999, 1_999, 700, 750, 0,
    ])
    expect([readAmount('1.234', 'BHD'), readAmount('12', 'JPY')]).toEqual([1_234, 12])
    for (const wrong of ['', '-3', '1.999', '1e3', '12.', 'seven', '99999999999', '1 000'])
      expect([wrong, readAmount(wrong, 'EUR')]).toEqual([wrong, null])
    expect(readAmount('1.5', 'JPY')).toBe(null)
    // The largest amount of a currency without smaller units has ten digits.
    expect([readAmount('1000000000', 'JPY'), readAmount('1000000001', 'JPY')]).toEqual([1_000_000_000, null])
  })

  it('is read as it was written, whatever it is (fast-check)', () => {
    fc.assert(
      fc.property(fc.nat(1e9), fc.constantFrom('EUR', 'JPY', 'BHD'), (amount, currency) => {
        expect(readAmount(typedAmount({ amount, currency }), currency)).toBe(amount)
      }),
    )
  })

  it('is shared out to the last unit, no two parts further apart than one (fast-check)', () => {
    // Three payments of a hundred: common practice.
    expect(shared({ amount: 10_000, currency: 'EUR' }, [1, 1, 1])).toEqual([3_334, 3_333, 3_333])
    fc.assert(
      fc.property(fc.nat(1e9), fc.integer({ min: 1, max: 36 }), (amount, n) => {
        const parts = shared({ amount, currency: 'EUR' }, new Array<number>(n).fill(1))
        expect(parts.reduce((sum, part) => sum + part, 0)).toBe(amount)
        expect(Math.max(...parts) - Math.min(...parts)).toBeLessThanOrEqual(1)
      }),
    )
  })
})

describe('payments', () => {
  const month = { count: 1, unit: 'month' as const }

  it('are due by the wall clock, also over a change of it, and on the last day of shorter months', () => {
    const three: Pays = { by: 'payments', amount: 9_900, payments: 3, every: month }
    expect(days(three, '2027-01-31T09:30')).toEqual([
      '2027-01-31 09:30',
      '2027-02-28 09:30',
      '2027-03-31 09:30',
    ])
    const every: Pays = {
      by: 'subscription',
      amount: 1_500,
      every: { count: 2, unit: 'week' },
      trialDays: 14,
      payments: 3,
    }
    expect(days(every, '2026-10-10T08:00')).toEqual([
      '2026-10-24 08:00',
      '2026-11-07 08:00',
      '2026-11-21 08:00',
    ])
  })

  it('are one where it is paid once, none where it is free, and go on where nothing ends them', () => {
    expect(days({ by: 'once', amount: 1 }, '2027-01-01T00:00')).toHaveLength(1)
    expect(days({ by: 'free' }, '2027-01-01T00:00')).toEqual([])
    const on: Pays = { by: 'subscription', amount: 1_500, every: month, trialDays: 0, payments: null }
    expect(days(on, '2024-02-29T12:00').slice(11)).toEqual(['2025-01-29 12:00'])
  })
})

describe('tax', () => {
  it('inside a price is what the Directive says, and adds up', () => {
    // 123.00 with 23 % inside are 100.00 and 23.00; 7.00 with 13.5 % are 6.17 and 0.83 (worked by hand).
    expect(taxed(12_300, 2_300, 'inside')).toEqual({ net: 10_000, tax: 2_300, total: 12_300 })
    expect(taxed(700, 1_350, 'inside')).toEqual({ net: 617, tax: 83, total: 700 })
    expect(taxed(700, 1_350, 'onTop')).toEqual({ net: 700, tax: 95, total: 795 })
  })

  it('is within half a unit of the exact value, inside and on top (fast-check)', () => {
    fc.assert(
      fc.property(fc.nat(1e9), fc.integer({ min: 0, max: 10_000 }), (amount, rate) => {
        const inside = taxed(amount, rate, 'inside')
        expect(inside.net + inside.tax).toBe(amount)
        // In whole numbers, which are exact: |net × (10000 + rate) − amount × 10000| ≤ (10000 + rate) / 2.
        const off = BigInt(inside.net) * BigInt(10_000 + rate) - BigInt(amount) * 10_000n
        expect(2n * (off < 0n ? -off : off) <= BigInt(10_000 + rate)).toBe(true)
        const onTop = taxed(amount, rate, 'onTop')
        expect(onTop.total - onTop.tax).toBe(amount)
        const over = BigInt(onTop.tax) * 10_000n - BigInt(amount) * BigInt(rate)
        expect(2n * (over < 0n ? -over : over) <= 10_000n).toBe(true)
      }),
    )
  })

  it('is that of the buyer’s country, else that of home', () => {
    const settings = taxSettings.parse({
      home: 'IE',
      rates: [
        { country: 'IE', rate: 2_300 },
        { country: 'DE', rate: 1_900 },
      ],
    })
    expect([rateFor(settings, 'DE'), rateFor(settings, 'NZ'), rateFor(settings, null)]).toEqual([
      1_900, 2_300, 2_300,
    ])
    expect(rateFor(taxSettings.parse({}), 'IE')).toBe(null)
    const twice = [
      { country: 'IE', rate: 0 },
      { country: 'IE', rate: 1 },
    ]
    expect(taxSettings.safeParse({ rates: twice }).success).toBe(false)
  })
})

describe('a coupon', () => {
  it('takes off a share, rounded to the unit, or an amount, and never more than all', () => {
    expect(discounted(999, { by: 'percent', percent: 20 })).toBe(799)
    expect(discounted(10, { by: 'percent', percent: 25 })).toBe(7)
    expect(discounted(700, { by: 'amount', amount: 1_000 })).toBe(0)
    fc.assert(
      fc.property(fc.nat(1e9), fc.integer({ min: 1, max: 100 }), (amount, percent) => {
        const left = discounted(amount, { by: 'percent', percent })
        // In whole numbers: within half a unit of the exact value.
        expect(Math.abs(left * 100 - amount * (100 - percent))).toBeLessThanOrEqual(50)
        expect(left).toBeGreaterThanOrEqual(0)
        expect(left).toBeLessThanOrEqual(amount)
      }),
    )
  })

  it('is of the whole in payments, of the first time of a subscription, or of every time', () => {
    const month = { count: 1, unit: 'month' as const }
    const amounts = (pays: Pays, everyTime: boolean): number[] =>
      paymentsOf(
        pays,
        {
          amount: 9_000,
          currency: 'EUR',
          from: 0,
          zone,
          coupon: { off: { by: 'amount', amount: 1_000 }, everyTime },
        },
        3,
      ).map(({ amount }) => amount)
    expect(amounts({ by: 'payments', amount: 9_000, payments: 3, every: month }, false)).toEqual([
      2_667, 2_667, 2_666,
    ])
    const on: Pays = { by: 'subscription', amount: 9_000, every: month, trialDays: 0, payments: null }
    expect(amounts(on, false)).toEqual([8_000, 9_000, 9_000])
    expect(amounts(on, true)).toEqual([8_000, 8_000, 8_000])
  })

  it('is open from its first moment to its last, for its products', () => {
    const dated = { from: '2027-01-01T00:00:00Z', until: '2027-02-01T00:00:00Z' }
    const state = (iso: string) => couponState(dated, Date.parse(iso))
    expect(['2026-12-31T23:59:59Z', dated.from, '2027-01-31T23:59:59Z', dated.until].map(state)).toEqual([
      'notYet',
      'open',
      'open',
      'over',
    ])
    expect([isFor({ products: [] }, 3), isFor({ products: [3] }, 3), isFor({ products: [4] }, 3)]).toEqual([
      true,
      true,
      false,
    ])
  })

  it('has a code that one can say, in capitals, and ends after it begins', () => {
    const given = { off: { by: 'percent', percent: 20 } }
    expect(coupon.parse({ ...given, code: ' autumn-20 ' }).code).toBe('AUTUMN-20')
    for (const code of ['', 'A', '-AB', 'AB-', 'TWO WORDS', 'ÄPFEL', 'X'.repeat(31)])
      expect([code, coupon.safeParse({ ...given, code }).success]).toEqual([code, false])
    const backwards = { from: '2027-02-01T00:00:00Z', until: '2027-01-01T00:00:00Z' }
    expect(coupon.safeParse({ ...given, code: 'AUTUMN', ...backwards }).error?.issues[0]?.path).toEqual([
      'until',
    ])
  })
})

describe('an offer', () => {
  const journal = price.parse({
    id: 'journal1',
    pays: { by: 'once', amount: 7_900 },
    introductory: { amount: 4_900, first: 40, until: '2027-03-01T00:00:00Z' },
    places: 100,
    opens: '2027-02-01T00:00:00Z',
    closes: '2027-06-01T00:00:00Z',
  })
  const offer = (iso: string, sold: number) => offerOf(journal, Date.parse(iso), sold, undefined)

  it('opens and closes to the second, and ends with the last place', () => {
    expect(offer('2027-01-31T23:59:59Z', 0).state).toBe('notYet')
    expect(offer('2027-02-01T00:00:00Z', 0).state).toBe('open')
    expect(offer('2027-05-31T23:59:59Z', 99)).toMatchObject({ state: 'open', left: 1 })
    expect(offer('2027-05-31T23:59:59Z', 100)).toMatchObject({ state: 'soldOut', left: 0 })
    expect(offer('2027-06-01T00:00:00Z', 0).state).toBe('over')
  })

  it('costs less until its day, and for those who come first', () => {
    expect(offer('2027-02-01T12:00:00Z', 39)).toMatchObject({
      amount: 4_900,
      usually: 7_900,
      left: 1,
      until: Date.parse('2027-03-01T00:00:00Z'),
    })
    expect(offer('2027-02-01T12:00:00Z', 40)).toMatchObject({ amount: 7_900, usually: null, left: 60 })
    expect(offer('2027-03-01T00:00:00Z', 0)).toMatchObject({ amount: 7_900, left: 100 })
  })
})
