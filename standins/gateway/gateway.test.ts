import { describe, expect, it, vi } from 'vitest'
import type { ChargeRequest } from '../../contract/gateway.ts'
import { createLedger } from './ledger.ts'
import { behaviourOf, hasCheckDigit, testCards, type CardBehaviour } from './testCards.ts'

const ledger = (tell = vi.fn()) => ({
  tell,
  ...createLedger({ confirmUrl: (id) => `/confirm/${id}`, tell, file: null, lateAfter: 10 }),
})
const request = (given: Partial<ChargeRequest> = {}): ChargeRequest => ({
  key: 'payment 1',
  amount: 700,
  currency: 'EUR',
  session: 'session',
  method: null,
  returnUrl: '/back',
  ...given,
})

describe('test cards', () => {
  it('have the check digit of ISO/IEC 7812-1, annex B', () => {
    // The standard's own example, and the same number with another last digit.
    expect(['79927398713', '79927398710'].map((digits) => hasCheckDigit(`0${digits}`))).toEqual([true, false])
    for (const [behaviour, digits] of Object.entries(testCards)) {
      expect([behaviour, hasCheckDigit(digits)]).toEqual([behaviour, true])
      expect(behaviourOf(digits)).toBe(behaviour)
    }
    expect([hasCheckDigit(''), hasCheckDigit('4x'), behaviourOf('79927398713')]).toEqual([false, false, null])
  })
})

describe('a charge', () => {
  it('of one key is one charge, and of another amount a mistake', () => {
    const { keepCard, charge, byKey, balance, tell } = ledger()
    keepCard('session', 'approved')
    const first = charge(request())
    expect(charge(request())).toEqual(first)
    expect(byKey('payment 1')).toEqual(first)
    expect(() => charge(request({ amount: 800 }))).toThrow('another charge')
    expect(balance()).toEqual({ charges: 1, charged: 700, refunded: 0 })
    expect(tell).toHaveBeenCalledTimes(1)
  })

  it.each<[CardBehaviour, object]>([
    ['declined', { state: 'failed', failure: 'declined', method: null }],
    ['insufficientFunds', { state: 'failed', failure: 'insufficientFunds' }],
    ['expired', { state: 'failed', failure: 'expired' }],
    ['confirm', { state: 'confirm', failure: null }],
    ['late', { state: 'asked', failure: null }],
    ['twice', { state: 'paid' }],
  ])('by the card “%s” comes out as it says', (behaviour, outcome) => {
    const { keepCard, charge } = ledger()
    keepCard('session', behaviour)
    expect(charge(request())).toMatchObject(outcome)
  })

  it('without a card is not made, and of a card that never answers there is no answer', () => {
    const { keepCard, charge, byKey } = ledger()
    expect(charge(request())).toMatchObject({ state: 'failed', failure: 'noCard' })
    keepCard('session', 'never')
    expect([charge(request({ key: 'other' })), byKey('other')]).toEqual([null, null])
  })

  it('that was called off is never made; one that was made stays', () => {
    const { keepCard, charge, cancel, balance } = ledger()
    keepCard('session', 'approved')
    cancel(request())
    expect(charge(request())).toMatchObject({ state: 'failed', failure: 'cancelled' })
    charge(request({ key: 'payment 2' }))
    expect(cancel(request({ key: 'payment 2' }))).toMatchObject({ state: 'paid' })
    expect(balance().charges).toBe(1)
  })

  it('that waits for a yes can be called off, and no yes makes it then', () => {
    const { keepCard, charge, cancel, confirm } = ledger()
    keepCard('session', 'confirm')
    const asked = charge(request())
    expect(cancel(request())).toMatchObject({ state: 'failed', failure: 'cancelled' })
    expect(confirm(asked?.id ?? '', true)).toMatchObject({ state: 'failed' })
  })

  it('is confirmed or refused at the bank, once', () => {
    const { keepCard, charge, confirm } = ledger()
    keepCard('session', 'confirm')
    const asked = charge(request())
    expect(confirm(asked?.id ?? '', false)).toMatchObject({ state: 'failed', failure: 'notConfirmed' })
    expect(confirm(asked?.id ?? '', true)).toMatchObject({ state: 'failed' })
  })

  it('is given back by keys, and never more than was paid', () => {
    const { keepCard, charge, refund } = ledger()
    keepCard('session', 'approved')
    const id = charge(request())?.id ?? ''
    expect(refund(id, { key: 'one', amount: 500 }).refunded).toBe(500)
    expect(refund(id, { key: 'one', amount: 500 }).refunded).toBe(500)
    expect(() => refund(id, { key: 'two', amount: 201 })).toThrow('more than was paid')
    expect(refund(id, { key: 'two', amount: 200 }).refunded).toBe(700)
    expect(() => refund('ch_other', { key: 'three', amount: 1 })).toThrow('no such charge')
  })
})
