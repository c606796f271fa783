import { beforeAll, describe, expect, it } from 'vitest'
import { readerMark } from '../pages/readers.ts'
import { typeCard, useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const shop = useShop(on)

describe('a buyer', () => {
  beforeAll(async () => {
    await shop.orderPage('buyers', [await shop.sell('Bought')])
  })

  it('who is erased leaves sums and invoices, and nothing that is due or says who they were', async () => {
    await shop.buy('buyers', 'gone@postbox.test')
    const { id, contact } = await shop.orderOf('gone@postbox.test')
    expect((await on.mara.post(`/people/${contact}/erase`)).status).toBe(204)
    const order = await on.q.row<object>(
      `select address, first_name, contact_id, method, total from customer_order where id = $1`,
      [id],
    )
    expect(order).toEqual({ address: '', first_name: '', contact_id: null, method: null, total: 700 })
    expect(await on.q.rows('select from invoice where order_id = $1', [id])).toHaveLength(1)
    expect(await on.q.rows(`select from cart where address = 'gone@postbox.test'`)).toEqual([])
  })

  it('who is merged keeps orders and carts', async () => {
    await shop.buy('buyers', 'second@postbox.test')
    const { id, contact } = await shop.orderOf('second@postbox.test')
    const keep = await on.add('first@postbox.test')
    expect((await on.mara.post(`/people/${keep}/merge`, { other: contact })).status).toBe(204)
    const found = await on.q.row('select contact_id contact from customer_order where id = $1', [id])
    expect(found).toEqual({ contact: keep })
  })

  it('in rehearsal buys for nothing by their mark, and begins again as if they never had', async () => {
    const ada = await on.add('ada@rehearsal.test', { firstName: 'Ada' })
    await on.q.rows('update contact set rehearsal = true where id = $1', [ada])
    const mark = readerMark(on.install.platform, ada)
    const first = await shop.get(`/p/buyers?me=${mark}`)
    expect(first.markup).toContain('This is a test: no money moves.')
    const rest = await shop.get(
      await shop.leads(first, 'on', { firstName: 'Ada', address: 'ada@rehearsal.test' }),
    )
    await typeCard(rest.card ?? '', 'approved')
    await shop.follow(await shop.leads(rest, 'pay'))
    const order = await shop.orderOf('ada@rehearsal.test', 'paid', '&show=test')
    expect([order.test, order.contact, order.invoices]).toEqual([true, ada, []])
    const bought = (): Promise<object[]> =>
      on.q.rows(`select from activity where kind = 'productBought' and contact_id = $1`, [ada])
    expect(await bought()).toHaveLength(1)
    const before = await on.mara.get<{ orders: number }>('/orders/takings')
    await eventually(
      async () => (await on.mara.post(`/people/${ada}/start-over`, { agreed: true })).status < 300,
    )
    expect([await bought(), await shop.orders('?show=test')]).toEqual([[], []])
    // Trials count nowhere, before or after.
    expect((await on.mara.get<{ orders: number }>('/orders/takings')).orders).toBe(before.orders)
  })

  it('who only types the address of somebody made up pays like anybody', async () => {
    const rest = await shop.get(
      await shop.leads(await shop.get('/p/buyers'), 'on', { firstName: 'X', address: 'ada@rehearsal.test' }),
    )
    expect(rest.markup).not.toContain('This is a test')
  })
})
