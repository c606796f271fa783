import { describe, expect, it } from 'vitest'
import type { GatewayEvent } from '../../contract/gateway.ts'
import { keepEvent, takeEvents } from '../../server/commerce/gatewayEvents.ts'
import { useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'

// Without a worker: the answer of the charge never comes, and events alone tell of it.
const on = useInstall({ worker: false })
const shop = useShop(on)

/** Places an order whose payment nobody has asked for yet. @returns what the gateway would tell of it when it is paid */
async function placed(path: string, address: string): Promise<GatewayEvent> {
  await shop.orderPage(path, [await shop.sell(path)])
  const rest = await shop.get(
    await shop.leads(await shop.get(`/p/${path}`), 'on', { firstName: 'Ada', address }),
  )
  await shop.leads(rest, 'pay')
  const payment = await on.q.row<{ id: number }>('select max(id) id from payment')
  return {
    type: 'charge.changed',
    timestamp: new Date(on.install.clock.now()).toISOString(),
    data: {
      id: `ch_${path}`,
      key: `payment ${payment?.id ?? 0}`,
      amount: 700,
      currency: 'EUR',
      state: 'paid',
      failure: null,
      confirmUrl: null,
      method: 'card_approved_x',
      refunded: 0,
    },
  }
}

const stateOf = async (address: string): Promise<string | undefined> =>
  (await shop.orders(`?search=${address}`))[0]?.state

it('is told of a payment that goes before all other work, since its buyer waits for it', async () => {
  await placed('waited-for', 'waits@postbox.test')
  const jobs = await on.q.rows<{ task: string; priority: number }>(
    'select task_identifier task, priority from graphile_worker.jobs order by priority, run_at, id',
  )
  expect(jobs[0]).toEqual({ task: 'takePayment', priority: -1 })
  expect(jobs.some(({ priority }) => priority === 0)).toBe(true)
})

describe('an event of the gateway', () => {
  it('pays the order whose answer never came, once, in whatever company it comes', async () => {
    const { platform } = on.install
    const paid = await placed('told', 'told@postbox.test')
    await keepEvent(platform, 'evt_foreign', {
      ...paid,
      data: { ...paid.data, key: 'subscription of others' },
    })
    await keepEvent(platform, 'evt_unknown', { ...paid, data: { ...paid.data, key: 'payment 999999' } })
    await keepEvent(platform, 'evt_told', paid)
    await keepEvent(platform, 'evt_told', {
      ...paid,
      data: { ...paid.data, state: 'failed', failure: 'declined' },
    })
    await takeEvents(platform)
    expect(await stateOf('told@postbox.test')).toBe('paid')
    await keepEvent(platform, 'evt_again', paid)
    await takeEvents(platform)
    const invoices = await on.q.rows('select from invoice')
    expect(invoices).toHaveLength(1)
    expect(await on.q.rows('select from gateway_event where look_at is not null')).toEqual([])
  })

  it('that cannot be done is kept and tried again a minute later; the others are done', async () => {
    const { platform, clock } = on.install
    const first = await placed('first', 'first@postbox.test')
    const second = await placed('second', 'second@postbox.test')
    await on.q.rows(`update payment set state = 'failed' where id = $1`, [first.data.key.replace(/\D/g, '')])
    await on.q.rows(
      `create function refuse() returns trigger language plpgsql as 'begin raise exception ''full''; end'`,
    )
    await on.q.rows(
      `create trigger refuse before update on payment for each row when (old.state = 'failed') execute function refuse()`,
    )
    await keepEvent(platform, 'evt_first', first)
    await keepEvent(platform, 'evt_second', second)
    await takeEvents(platform)
    expect(await stateOf('second@postbox.test')).toBe('paid')
    await on.q.rows('drop trigger refuse on payment')
    await takeEvents(platform)
    expect(await stateOf('first@postbox.test')).toBe('open')
    clock.move(61_000)
    await takeEvents(platform)
    expect(await stateOf('first@postbox.test')).toBe('paid')
  })
})
