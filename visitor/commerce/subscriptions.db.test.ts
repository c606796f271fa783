import { beforeAll, describe, expect, it } from 'vitest'
import { DateTime } from 'luxon'
import type { OrderView } from '../../contract/orders.ts'
import { chargeDue } from '../../server/commerce/laterPayments.ts'
import { ensureActivityMonths } from '../../server/database/migrate.ts'
import { lookAt } from '../../testing/publishing.ts'
import { typeCard, useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const shop = useShop(on)
const zone = 'Europe/Dublin'
const month = { count: 1, unit: 'month' as const }

/** Moves the clock to a day of the business's calendar, and lets what is due be charged. */
async function goTo(day: string): Promise<void> {
  const { clock } = on.install
  clock.move(DateTime.fromISO(day, { zone }).toMillis() - clock.now())
  // Years pass here: whoever is signed in stays so.
  await on.q.rows(`update sign_in set expires_at = '2100-01-01'`)
  await ensureActivityMonths(on.q, clock.now())
  await chargeDue(on.install.platform)
}
const view = (id: number): Promise<OrderView> => on.mara.get<OrderView>(`/orders/${id}`)
const statesOf = ({ payments }: OrderView): string[] => payments.map(({ state }) => state)
const until = (id: number, states: string[]): Promise<OrderView> =>
  eventually(async () => {
    const order = await view(id)
    return JSON.stringify(statesOf(order)) === JSON.stringify(states) && order
  })
const daysOf = ({ payments }: OrderView): string[] =>
  payments.map(({ dueAt }) => DateTime.fromISO(dueAt, { zone }).toFormat('d LLL HH:mm'))
/** The renewals of an order fail from now on. */
const breakCard = (id: number): Promise<object[]> =>
  on.q.rows(`update customer_order set method = 'card_declined_told' where id = $1`, [id])

describe('a price in payments', () => {
  it('is charged part by part, on its days, each with an invoice', async () => {
    await goTo('2026-12-31T10:00')
    const product = await shop.sell('In three', {
      prices: [{ id: 'inthree1', pays: { by: 'payments', amount: 10_000, payments: 3, every: month } }],
    })
    await shop.orderPage('three', [product])
    await shop.buy('three', 'three@postbox.test')
    const { id } = await shop.orderOf('three@postbox.test')
    expect(statesOf(await view(id))).toEqual(['paid', 'due', 'due'])
    // The 31st of January and the last day of February; common practice.
    expect(daysOf(await view(id))).toEqual(['31 Dec 10:00', '31 Jan 10:00', '28 Feb 10:00'])
    await goTo('2027-01-31T10:01')
    await until(id, ['paid', 'paid', 'due'])
    await goTo('2027-02-28T10:01')
    const done = await until(id, ['paid', 'paid', 'paid'])
    expect(done.payments.map(({ total }) => total)).toEqual([3_334, 3_333, 3_333])
    expect(done.invoices.map(({ total }) => total)).toEqual([3_334, 3_333, 3_333])
    await goTo('2027-06-01T10:00')
    expect(statesOf(await view(id))).toEqual(['paid', 'paid', 'paid'])
  })
})

describe('a subscription', () => {
  let circle = 0
  beforeAll(async () => {
    circle = await shop.sell('Circle', {
      prices: [{ id: 'circle11', pays: { by: 'subscription', amount: 1_500, every: month } }],
    })
    await shop.orderPage('circle', [circle])
  })

  it('is renewed by the clock, also across its change, until it is ended by its buyer', async () => {
    await goTo('2027-09-30T09:00')
    await shop.buy('circle', 'circle@postbox.test')
    const { id } = await shop.orderOf('circle@postbox.test')
    await goTo('2027-10-30T09:01')
    await until(id, ['paid', 'paid', 'due'])
    // The clocks go back on the 31st of October (IANA time zone database): the hour of the day stays.
    await goTo('2027-11-30T09:01')
    const running = await until(id, ['paid', 'paid', 'paid', 'due'])
    expect(daysOf(running)).toEqual(['30 Sep 09:00', '30 Oct 09:00', '30 Nov 09:00', '30 Dec 09:00'])
    const ended = await fetch(`${on.install.url}${running.publicPath}/card`, {
      method: 'POST',
      body: new URLSearchParams({ do: 'end' }),
    })
    expect(await ended.text()).toContain('Nothing more is taken from your card.')
    await goTo('2028-03-01T09:00')
    const last = await view(id)
    expect([statesOf(last), last.endedBy]).toEqual([['paid', 'paid', 'paid'], 'buyer'])
  })

  it('with a trial keeps the card, and takes the first payment when the trial ends', async () => {
    const tried = await shop.sell('Tried', {
      prices: [{ id: 'tried111', pays: { by: 'subscription', amount: 900, every: month, trialDays: 14 } }],
    })
    await shop.orderPage('tried', [tried])
    await goTo('2028-03-01T09:00')
    await shop.buy('tried', 'tried@postbox.test')
    const { id, total } = await shop.orderOf('tried@postbox.test')
    expect([total, daysOf(await view(id))]).toEqual([0, ['1 Mar 09:00', '15 Mar 09:00']])
    await goTo('2028-03-15T09:01')
    const running = await until(id, ['paid', 'paid', 'due'])
    expect(daysOf(running).at(-1)).toBe('15 Apr 09:00')
  })

  it('whose card fails is tried again on days 1, 3, 5 and 7, and goes on with another card', async () => {
    await goTo('2028-05-01T09:00')
    await shop.buy('circle', 'fails@postbox.test')
    const { id, publicPath } = await shop.orderOf('fails@postbox.test')
    await breakCard(id)
    for (const day of ['2028-06-01T09:01', '2028-06-02T09:02', '2028-06-04T09:02', '2028-06-06T09:02']) {
      await goTo(day)
      await eventually(async () => (await view(id)).payments[1]?.failure === 'declined')
      await on.q.rows('update payment set failure = null where order_id = $1 and n = 1', [id])
    }
    expect((await view(id)).endedBy).toBe(null)
    await goTo('2028-06-08T09:02')
    await until(id, ['paid', 'failed'])
    // What is read in one look may be older by a part: the order is read before its payments.
    expect((await view(id)).endedBy).toBe('card')
    const told = () =>
      (on.install.mail.standins?.mailbox.list({ to: 'fails@postbox.test' }) ?? []).filter(({ subject }) =>
        subject.startsWith('Your card did not pay'),
      ).length
    await eventually(() => told() >= 5)
    expect(told()).toBe(5)

    const page = await (await lookAt(`${on.install.url}${publicPath}/card`)).text()
    const [, card = ''] = /<iframe src="([^"]+)"/.exec(page) ?? []
    const [, session = ''] = /name="session" value="([^"]+)"/.exec(page) ?? []
    const use = (): Promise<Response> =>
      fetch(`${on.install.url}${publicPath}/card`, {
        method: 'POST',
        body: new URLSearchParams({ do: 'card', session }),
      })
    expect(await (await use()).text()).toContain('Type the details of your card.')
    await typeCard(card, 'approved')
    expect(await (await use()).text()).toContain('From now on this card pays.')
    await chargeDue(on.install.platform)
    const again = await until(id, ['paid', 'paid', 'due'])
    expect([again.endedBy, daysOf(again).at(-1)]).toEqual([null, '1 Jul 09:00'])
  })

  const onCardPage = async (path: string, given: Record<string, string>): Promise<string> =>
    (
      await fetch(`${on.install.url}${path}/card`, { method: 'POST', body: new URLSearchParams(given) })
    ).text()

  it('rests as long as its buyer wants, then goes on by a month each', async () => {
    await goTo('2029-01-15T09:00')
    await shop.buy('circle', 'rests@postbox.test')
    const { id, publicPath } = await shop.orderOf('rests@postbox.test')
    expect(await onCardPage(publicPath, { do: 'resume' })).toContain('There is nothing to change')
    expect(await onCardPage(publicPath, { do: 'pause', months: '2' })).toContain('15 April 2029')
    await goTo('2029-03-20T09:00')
    const resting = await view(id)
    expect([statesOf(resting), resting.pausedUntil]).toEqual([['paid', 'due'], '2029-04-15T08:00:00.000Z'])
    await goTo('2029-04-15T09:01')
    const running = await until(id, ['paid', 'paid', 'due'])
    expect([daysOf(running).at(-1), running.pausedUntil]).toEqual(['15 May 09:00', null])
    await goTo('2029-05-15T09:01')
    expect(daysOf(await until(id, ['paid', 'paid', 'paid', 'due'])).at(-1)).toBe('15 Jun 09:00')
  })

  it('is let rest by hand until a day, and goes on at once when that is taken back', async () => {
    await goTo('2029-06-01T09:00')
    await shop.buy('circle', 'by-hand@postbox.test')
    const { id } = await shop.orderOf('by-hand@postbox.test')
    const early = await on.mara.post(`/orders/${id}/pause`, { until: '2029-06-15T09:00:00Z' })
    expect([early.status, await early.json()]).toMatchObject([
      422,
      { fields: { until: 'Choose a day after the next payment' } },
    ])
    expect((await on.mara.post(`/orders/${id}/pause`, { until: '2029-12-01T09:00:00Z' })).status).toBe(204)
    await goTo('2029-08-10T10:00')
    expect((await on.mara.post(`/orders/${id}/pause`, { until: null })).status).toBe(204)
    await chargeDue(on.install.platform)
    expect(daysOf(await until(id, ['paid', 'paid', 'due'])).at(-1)).toBe('10 Sep 10:00')
  })

  it('that rests while its card fails is tried again after the rest, not before', async () => {
    await goTo('2029-10-01T09:00')
    await shop.buy('circle', 'rests-failing@postbox.test')
    const { id, publicPath } = await shop.orderOf('rests-failing@postbox.test')
    await breakCard(id)
    const failed = (): Promise<true> =>
      eventually(async () => (await view(id)).payments[1]?.failure === 'declined' || false)
    await goTo('2029-11-01T09:01')
    await failed()
    expect(daysOf(await view(id)).at(-1)).toBe('2 Nov 09:00')
    expect(await onCardPage(publicPath, { do: 'pause', months: '1' })).toContain('2 December 2029')
    await on.q.rows('update payment set failure = null where order_id = $1 and n = 1', [id])
    await goTo('2029-12-02T09:02')
    await failed()
    const next = DateTime.fromISO((await view(id)).payments[1]?.dueAt ?? '', { zone })
    expect(next > DateTime.fromISO('2029-12-03', { zone })).toBe(true)
  })

  it('costs something else from the next payment on, and its buyer is told', async () => {
    await goTo('2030-01-10T09:00')
    await shop.buy('circle', 'dearer@postbox.test')
    const { id } = await shop.orderOf('dearer@postbox.test')
    const same = await on.mara.post(`/orders/${id}/price`, { amount: 1_500 })
    expect(same.status).toBe(422)
    expect((await on.mara.post(`/orders/${id}/price`, { amount: 1_845 })).status).toBe(204)
    const mail = await eventually(
      () =>
        on.install.mail.standins?.mailbox
          .list({ to: 'dearer@postbox.test' })
          .find(({ subject }) => subject.includes('another price')) ?? false,
    )
    expect(mail.text).toContain(
      'from 10 February 2030 on, Circle costs €18.45 each time. Until then it is €15.',
    )
    await goTo('2030-02-10T09:01')
    const paid = await until(id, ['paid', 'paid', 'due'])
    expect(paid.payments.map(({ total }) => total)).toEqual([1_500, 1_845, 1_845])
    // 23 % inside: 18.45 / 1.23 = 15.00 and 3.45 of tax.
    expect(paid.invoices.map(({ total }) => total)).toEqual([1_500, 1_845])
    expect(paid.each).toBe(1_845)
  })

  it('is ended by hand, once', async () => {
    await shop.buy('circle', 'hand@postbox.test')
    const { id } = await shop.orderOf('hand@postbox.test')
    expect((await on.mara.post(`/orders/${id}/end`)).status).toBe(204)
    expect((await on.mara.post(`/orders/${id}/end`)).status).toBe(409)
    expect((await on.mara.post(`/orders/999999/end`)).status).toBe(404)
    expect((await view(id)).endedBy).toBe('Mara Ellery')
  })
})
