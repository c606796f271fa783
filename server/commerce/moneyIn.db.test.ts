import { beforeAll, describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience/people.ts'
import type { EmailReport } from '../../contract/emails.ts'
import type { FunnelRow } from '../../contract/funnels.ts'
import type { TodayView } from '../../contract/today.ts'
import { made } from '../../testing/people.ts'
import { useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const shop = useShop(on)
const hour = 3_600_000
let page = 0
beforeAll(async () => {
  page = await shop.orderPage('money', [await shop.sell('Counted')])
})

const contactOf = async (address: string): Promise<number> =>
  (await on.q.row<{ id: number }>('select id from contact where address_key = $1', [address]))?.id ?? 0
async function buys(address: string): Promise<number> {
  await shop.buy('money', address)
  return (await shop.orderOf(address)).id
}
const clicked = (contact: number, email: number, hoursAgo: number): Promise<unknown> =>
  on.q.rows(
    `with sent as (insert into message (email_id, contact_id, purpose, state, queued_at, due_at, sent_at, clicked_at)
       values ($2, $1, 'marketing', 'sent', $3, $3, $3, $3) returning id)
     insert into activity (contact_id, kind, details, at)
     select $1, 'emailClicked', jsonb_build_object('email', $2::bigint, 'message', id, 'link', 1), $3 from sent`,
    [contact, email, new Date(on.install.clock.now() - hoursAgo * hour)],
  )
const moneyOf = async (email: number): Promise<[number, number]> => {
  const { money } = await on.mara.get<EmailReport>(`/emails/${email}/report`)
  return [money.amount, money.orders]
}

describe('money in', () => {
  it('is told of today, of 30 days, and of a person, less what went back; trials are not in it', async () => {
    const none = await on.mara.get<TodayView>('/today')
    expect(none.money).toBeNull()
    const order = await buys('one@postbox.test')
    await buys('two@postbox.test')
    await on.q.rows(
      `insert into customer_order (address, currency, net, tax, total, state, test, card_session, placed_at, paid_at)
       values ('trial@postbox.test', 'EUR', 500, 0, 500, 'paid', true, '', $1, $1)`,
      [new Date(on.install.clock.now())],
    )
    const today = await on.mara.get<TodayView>('/today')
    expect(today.money).toMatchObject({
      today: { amount: 1_400, orders: 2, currency: 'EUR' },
      month: { amount: 1_400, orders: 2 },
    })
    await made(on.mara.post(`/orders/${order}/refund`, { amount: 200 })).catch(() => null)
    await eventually(async () => (await on.mara.get<TodayView>('/today')).money?.today.amount === 1_200)
    const person = await on.mara.get<PersonView>(`/people/${await contactOf('one@postbox.test')}`)
    expect(person.money).toEqual({ currency: 'EUR', amount: 500, orders: 1 })
    const stranger = await on.view(await on.add('bought-nothing@postbox.test'))
    expect(stranger.money).toBeNull()
  })

  it('stands beside the email that was clicked last within seven days before the order', async () => {
    const { delivery, reminder } = on.install.emails
    for (const [address, clicks] of [
      ['both@postbox.test', { [delivery]: 30, [reminder]: 2 }],
      ['long-ago@postbox.test', { [delivery]: 7 * 24 + 1 }],
      ['just-in@postbox.test', { [delivery]: 7 * 24 - 1 }],
    ] as const) {
      const contact = await on.add(address)
      for (const [email, ago] of Object.entries(clicks)) await clicked(contact, Number(email), ago)
      await buys(address)
    }
    expect([await moneyOf(delivery), await moneyOf(reminder)]).toEqual([
      [700, 1],
      [700, 1],
    ])
  })

  it('stands beside the funnel on whose pages it was paid', async () => {
    const { id } = await made<{ id: number }>(
      on.mara.post('/funnels', {
        name: 'Selling',
        goal: 'sell',
        labels: [],
        starter: 'nothing',
        path: 'selling',
        currency: null,
        opens: null,
        line: [{ kind: 'page', id: 'station1', page }],
      }),
    )
    const rowOf = async (): Promise<FunnelRow | undefined> =>
      (await on.mara.get<FunnelRow[]>('/funnels')).find((each) => each.id === id)
    const before = (await rowOf())?.money
    await buys('in-the-funnel@postbox.test')
    const after = (await rowOf())?.money
    expect([
      (after?.amount ?? 0) - (before?.amount ?? 0),
      (after?.orders ?? 0) - (before?.orders ?? 0),
    ]).toEqual([700, 1])
  })
})
