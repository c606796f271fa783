import { beforeAll, describe, expect, it } from 'vitest'
import type { ProblemDetails } from '../../contract/problems.ts'
import type { OrderView } from '../../contract/orders.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const shop = useShop(on)
let tag = 0

const refund = (order: OrderView, body: object): Promise<Response> =>
  on.mara.post(`/orders/${order.id}/refund`, body)
const refunded = (order: OrderView, amount: number): Promise<OrderView> =>
  eventually(async () => {
    const seen = await on.mara.get<OrderView>(`/orders/${order.id}`)
    return seen.refunded === amount && seen
  })
const tagsOf = async ({ contact }: OrderView): Promise<number[]> =>
  (await on.view(contact ?? 0)).tags.map(({ id }) => id)

describe('a refund', () => {
  beforeAll(async () => {
    tag = (await made<{ id: number }>(on.mara.post('/tags', { name: 'Buyer' }))).id
    const product = await shop.sell('Given back', {
      brings: [
        { does: 'addTag', tag },
        { does: 'openAddress', url: 'https://kept.test/room' },
      ],
    })
    await shop.orderPage('back', [product])
  })

  it('of a part leaves the rest, with a credit note whose tax is in proportion', async () => {
    await shop.buy('back', 'part@postbox.test')
    const order = await shop.orderOf('part@postbox.test')
    expect((await refund(order, { amount: 350, reason: 'Late' })).status).toBe(204)
    const seen = await refunded(order, 350)
    expect(await (await fetch(`${on.install.url}${order.publicPath}`)).text()).toContain(
      'https://kept.test/room',
    )
    expect([seen.refundable, seen.refunds[0]?.reason]).toEqual([350, 'Late'])
    expect(seen.invoices.map(({ kind, total }) => [kind, total])).toEqual([
      ['invoice', 700],
      ['credit', -350],
    ])
    expect(await tagsOf(order)).toEqual([tag])
    const content = await on.q.row<{ content: { net: number; tax: number } }>(
      `select content from invoice where kind = 'credit' and order_id = $1`,
      [order.id],
    )
    // Half of 569 net and 131 tax; the halves of a cent go to the tax.
    expect([content?.content.net, content?.content.tax]).toEqual([-285, -65])
  })

  it('of the whole takes back what it brought, by choice, and the journal says so', async () => {
    await shop.buy('back', 'whole@postbox.test')
    const order = await shop.orderOf('whole@postbox.test')
    await refund(order, { amount: 700, takesBack: true })
    await refunded(order, 700)
    expect(await tagsOf(order)).toEqual([])
    const told = await on.q.rows<{ details: { amount: number } }>(
      `select details from activity where kind = 'orderRefunded' and contact_id = $1`,
      [order.contact],
    )
    expect(told.map(({ details }) => details.amount)).toEqual([700])
    expect((await shop.orders('?show=refunded')).map(({ id }) => id)).toContain(order.id)
    const page = await fetch(`${on.install.url}${order.publicPath}`)
    expect(await page.text()).not.toContain('https://kept.test/room')
  })

  it('keeps what another order of theirs brought too', async () => {
    await shop.buy('back', 'both@postbox.test')
    const first = await shop.orderOf('both@postbox.test')
    await shop.buy('back', 'both@postbox.test')
    await refund(first, { amount: 700, takesBack: true })
    await refunded(first, 700)
    expect(await tagsOf(first)).toEqual([tag])
  })

  it('twice, or of more than was paid, is refused with what is left', async () => {
    await shop.buy('back', 'more@postbox.test')
    const order = await shop.orderOf('more@postbox.test')
    for (const amount of [0, -100, 1.5, 1e12]) expect((await refund(order, { amount })).status).toBe(422)
    const [one, two] = await Promise.all([refund(order, { amount: 700 }), refund(order, { amount: 700 })])
    expect([one.status, two.status].sort()).toEqual([204, 422])
    const refused = one.status === 422 ? one : two
    expect(((await refused.json()) as ProblemDetails).fields).toEqual({
      amount: 'Nothing is left to give back.',
    })
    await refunded(order, 700)
    expect((await on.mara.post('/orders/999999/refund', { amount: 1 })).status).toBe(404)
  })
})

describe('invoices', () => {
  it('have numbers without gaps, whoever buys at once, and trials have none', async () => {
    // Pages are told of it a moment later.
    const takes = async (what: 'test' | 'live'): Promise<void> => {
      await on.mara.post('/takes', { takes: what })
      await eventually(async () => {
        const page = await (await fetch(`${on.install.url}/p/back`)).text()
        return page.includes('This is a test: no money moves.') === (what === 'test')
      })
    }
    await takes('test')
    await shop.buy('back', 'trial@postbox.test')
    const trial = await shop.orderOf('trial@postbox.test', 'paid', '&show=test')
    expect([trial.test, trial.contact, trial.invoices]).toEqual([true, null, []])
    await takes('live')
    await Promise.all(Array.from({ length: 5 }, (_, n) => shop.buy('back', `gap${n}@postbox.test`)))
    await Promise.all(Array.from({ length: 5 }, (_, n) => shop.orderOf(`gap${n}@postbox.test`)))
    const rows = await on.q.rows<{ number: number }>('select number from invoice order by number')
    expect(rows.map(({ number }) => number)).toEqual(rows.map((_, n) => n + 1))
  })

  it('can be read and saved by who holds the link of the order, and by nobody else', async () => {
    const order = await shop.orderOf('gap0@postbox.test')
    const address = `${on.install.url}${order.publicPath}/invoice/${order.invoices[0]?.number}`
    const page = await (await lookAt(address)).text()
    for (const words of ['Given back', 'All of Given back.', '23 %', '€5.69', '€1.31', '€7'])
      expect(page).toContain(words)
    const pdf = await lookAt(`${address}.pdf`)
    expect([pdf.headers.get('content-type'), (await pdf.text()).slice(0, 5)]).toEqual([
      'application/pdf',
      '%PDF-',
    ])
    expect((await lookAt(`${on.install.url}${order.publicPath}/invoice/1`)).status).toBe(404)
    expect((await lookAt(`${on.install.url}/order/made.up/invoice/1`)).status).toBe(404)
  })

  it('come in once more by email when somebody asks', async () => {
    const order = await shop.orderOf('gap1@postbox.test')
    expect((await on.mara.post(`/orders/${order.id}/receipt`)).status).toBe(204)
    await eventually(
      () => (on.install.mail.standins?.mailbox.list({ to: 'gap1@postbox.test' }).length ?? 0) >= 2,
    )
  })
})
