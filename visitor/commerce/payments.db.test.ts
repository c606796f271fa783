import { Webhook } from 'standardwebhooks'
import { beforeAll, describe, expect, it } from 'vitest'
import { gatewayOf, gatewaySecrets } from '../../server/commerce/gateway.ts'
import { lookAfterPayments, takePayment } from '../../server/commerce/taking.ts'
import { freePort } from '../../testing/freePort.ts'
import { once, typeCard, useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ env: { NURTEL_GATEWAY_PATIENCE: '500' } })
const shop = useShop(on)

const moneyTaken = async (): Promise<number> =>
  (
    await on.q.row<{ sum: number }>(
      `select coalesce(sum(total), 0)::bigint sum from payment where state = 'paid'`,
    )
  )?.sum ?? 0

describe('a card', () => {
  beforeAll(async () => {
    const product = await shop.sell('Paid by card')
    await shop.orderPage('card', [product])
  })

  it.each([
    ['declined', 'Your card was declined.'],
    ['insufficientFunds', 'There is not enough money on this card.'],
    ['expired', 'Your card has expired.'],
  ] as const)('that is %s brings the buyer back to their cart, which says why', async (card, words) => {
    const address = `${card.toLowerCase()}@postbox.test`
    const back = await shop.buy('card', address, { card })
    expect(back.path).toMatch(/^\/p\/card\?cart=/)
    expect(back.text).toContain(words)
    expect(back.text).toContain(address)
    // Another card, and the same cart is bought.
    const rest = await shop.get(back.path)
    await typeCard(rest.card ?? '', 'approved')
    await shop.follow(await shop.leads(rest, 'pay'))
    expect((await shop.orderOf(address)).total).toBe(700)
    expect((await shop.orders(`?search=${address}`)).map(({ state }) => state)).toEqual(['paid', 'failed'])
  })

  it('that is not typed is asked for', async () => {
    const back = await shop.buy('card', 'nocard@postbox.test', { card: null })
    expect(back.text).toContain('Type the details of your card.')
  })

  it('with a second confirmation leads to the bank and back, with a yes or a no', async () => {
    for (const [answer, address] of [
      ['yes', 'yes@postbox.test'],
      ['no', 'no@postbox.test'],
    ] as const) {
      const bank = await shop.buy('card', address, { card: 'confirm' })
      expect(bank.path).toMatch(/\/confirm\//)
      const said = await fetch(bank.path, {
        method: 'POST',
        redirect: 'manual',
        body: new URLSearchParams({ answer }),
      })
      const back = await shop.follow(said.headers.get('location') ?? '')
      if (answer === 'yes') expect(back.text).toContain('Thank you, Ada')
      else expect(back.text).toContain('You did not confirm the payment with your bank.')
    }
    await shop.orderOf('yes@postbox.test')
    await shop.orderOf('no@postbox.test', 'failed')
  })

  it('whose buyer never comes back from the bank is called off after half an hour', async () => {
    const bank = await shop.buy('card', 'lost@postbox.test', { card: 'confirm' })
    expect(bank.path).toMatch(/\/confirm\//)
    on.install.clock.move(10_000)
    await lookAfterPayments(on.install.platform)
    expect((await shop.orderOf('lost@postbox.test', 'open')).payments[0]?.state).toBe('confirming')
    on.install.clock.move(31 * 60_000)
    await lookAfterPayments(on.install.platform)
    expect((await shop.orderOf('lost@postbox.test', 'failed')).failure).toBe('cancelled')
    // A yes that comes later pays nothing.
    await fetch(bank.path, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams({ answer: 'yes' }),
    })
    expect((await shop.orders('?search=lost@postbox.test')).map(({ state }) => state)).toEqual(['failed'])
  })

  it('that answers late is waited for, and its order comes by itself', async () => {
    const waits = await shop.buy('card', 'late@postbox.test', { card: 'late' })
    expect(waits.text).toContain('Your payment is under way')
    expect((await shop.orderOf('late@postbox.test')).payments.map(({ state }) => state)).toEqual(['paid'])
  })

  it('that is reported twice is paid once', async () => {
    const before = await moneyTaken()
    await shop.buy('card', 'twice@postbox.test', { card: 'twice' })
    const order = await shop.orderOf('twice@postbox.test')
    await eventually(
      async () => (await on.q.rows('select from gateway_event where look_at is null')).length > 0,
    )
    expect(await moneyTaken()).toBe(before + 700)
    const done = await on.q.rows(`select from activity where kind = 'productBought' and contact_id = $1`, [
      order.contact,
    ])
    expect(done).toHaveLength(1)
  })

  it('that never answers is asked for, called off in the end, and nothing was paid', async () => {
    await shop.buy('card', 'never@postbox.test', { card: 'never' })
    const [open] = await shop.orders('?search=never@postbox.test')
    expect(open?.state).toBe('open')
    for (let look = 0; look < 6; look += 1) {
      on.install.clock.move(10 * 60_000)
      await lookAfterPayments(on.install.platform)
    }
    const order = await shop.orderOf('never@postbox.test', 'failed')
    expect(order.failure).toBe('cancelled')
    const [{ id } = { id: 0 }] = order.payments
    // A request that was still on its way charges nothing any more.
    const late = await gatewayOf(on.install.platform.settings).charge({
      key: `payment ${id}`,
      amount: 700,
      currency: 'EUR',
      session: null,
      method: 'card_approved_x',
      returnUrl: 'http://127.0.0.1/',
    })
    expect(late).toMatchObject({ state: 'failed', failure: 'cancelled' })
  })

  it('is charged once, when a worker was killed between the charge and the order', async () => {
    const { platform } = on.install
    const rest = await shop.get(
      await shop.leads(await shop.get('/p/card'), 'on', { firstName: 'Ada', address: 'crash@postbox.test' }),
    )
    await typeCard(rest.card ?? '', 'approved')
    await shop.follow(await shop.leads(rest, 'pay'))
    const order = await shop.orderOf('crash@postbox.test')
    const [{ id } = { id: 0 }] = order.payments
    // As if nothing of the answer had been written down.
    await on.q.rows(`delete from invoice where order_id = $1`, [order.id])
    await on.q.rows(`update payment set state = 'due', charge = null where id = $1`, [id])
    await on.q.rows(`update customer_order set state = 'open' where id = $1`, [order.id])
    await takePayment(platform, { payment: id })
    await takePayment(platform, { payment: id })
    const charge = await gatewayOf(platform.settings).find(`payment ${id}`)
    expect(charge).toMatchObject({ state: 'paid', amount: 700, refunded: 0 })
    expect((await shop.orderOf('crash@postbox.test')).payments.map(({ state }) => state)).toEqual(['paid'])
  })
})

describe('a gateway that is away', () => {
  it('is told, and the cart is kept', async () => {
    const product = await shop.sell('Unlucky')
    await shop.orderPage('unlucky', [product])
    const rest = await shop.get(
      await shop.leads(await shop.get('/p/unlucky'), 'on', {
        firstName: 'Ada',
        address: 'away@postbox.test',
      }),
    )
    const { settings } = on.install.platform
    const { gatewayPort } = settings
    // Nobody listens there.
    settings.gatewayPort = await freePort()
    const back = await shop.follow(await shop.leads(rest, 'pay'))
    expect(back.text).toContain(
      'Payments cannot be taken at the moment. Nothing was paid, and your cart is kept.',
    )
    settings.gatewayPort = gatewayPort
    const again = await shop.get(back.path)
    await typeCard(again.card ?? '', 'approved')
    await shop.follow(await shop.leads(again, 'pay'))
    expect((await shop.orderOf('away@postbox.test')).state).toBe('paid')
  })
})

describe('what the gateway reports', () => {
  const event = { type: 'charge.changed', timestamp: '2026-11-24T10:00:00.000Z' }
  const charge = (payment: number, given: object = {}) => ({
    id: 'ch_forged',
    key: `payment ${payment}`,
    amount: 700,
    currency: 'EUR',
    state: 'paid',
    failure: null,
    confirmUrl: null,
    method: null,
    refunded: 0,
    ...given,
  })
  const report = (
    body: string,
    given: { id?: string; at?: number; secret?: string } = {},
  ): Promise<Response> => {
    const { platform } = on.install
    const {
      id = 'evt_1',
      at = platform.clock.now(),
      secret = gatewaySecrets(platform.settings).events,
    } = given
    const time = new Date(at)
    return fetch(`${on.install.url}/gateway/events`, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        'webhook-id': id,
        'webhook-timestamp': String(Math.floor(at / 1_000)),
        'webhook-signature': new Webhook(secret).sign(id, time, body),
      },
      body,
    })
  }

  it('is believed when it is signed and recent, and changes nothing else', async () => {
    await shop.buy('card', 'forged@postbox.test', { card: 'declined' })
    const order = await shop.orderOf('forged@postbox.test', 'failed')
    const [{ id } = { id: 0 }] = order.payments
    const paid = JSON.stringify({ ...event, data: charge(id) })
    const now = on.install.platform.clock.now()
    expect((await report(paid, { secret: `whsec_${btoa('another secret of this length')}` })).status).toBe(
      401,
    )
    expect((await report(paid, { at: now - 6 * 60_000 })).status).toBe(400)
    expect((await report('{"type": "charge.changed"}')).status).toBe(422)
    expect((await report(JSON.stringify({ ...event, data: charge(999_999) }), { id: 'evt_2' })).status).toBe(
      204,
    )
    expect((await shop.orders('?search=forged@postbox.test')).map(({ state }) => state)).toEqual(['failed'])
  })
})

describe('the last places', () => {
  it('are sold to so many and no more, whoever comes at the same moment', async () => {
    const product = await shop.sell('Few places', { prices: [once('fewplace', 700, { places: 4 })] })
    await shop.orderPage('few', [product])
    const forms = await Promise.all(
      Array.from({ length: 12 }, async (_, n) => {
        const first = await shop.get('/p/few')
        const rest = await shop.get(
          await shop.leads(first, 'on', { firstName: 'Ada', address: `few${n}@postbox.test` }),
        )
        await typeCard(rest.card ?? '', 'approved')
        return rest
      }),
    )
    const pressed = await Promise.all(forms.map((form) => shop.press(form, 'pay')))
    expect(pressed.filter((each) => 'to' in each)).toHaveLength(4)
    const refused = pressed.find((each) => !('to' in each))
    expect(refused && 'status' in refused && refused.markup).toContain('It is sold out.')
    expect((await shop.get('/p/few')).markup).toContain('sold out')
  })

  it('are free again when their payment fails', async () => {
    const product = await shop.sell('One place', { prices: [once('oneplace', 700, { places: 1 })] })
    await shop.orderPage('one-place', [product])
    await shop.buy('one-place', 'failing@postbox.test', { card: 'declined' })
    await shop.orderOf('failing@postbox.test', 'failed')
    await shop.buy('one-place', 'lucky@postbox.test')
    expect((await shop.orderOf('lucky@postbox.test')).total).toBe(700)
  })
})
