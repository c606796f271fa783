import { beforeAll, describe, expect, it } from 'vitest'
import type { OrderView } from '../../contract/orders.ts'
import { composer } from '../../core/blocks/compose.ts'
import { chargeDue } from '../../server/commerce/laterPayments.ts'
import { noteLeftCarts } from '../../server/commerce/leftCarts.ts'
import { ensureActivityMonths } from '../../server/database/migrate.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { numberedIds } from '../../testing/documents.ts'
import { computer, publish } from '../../testing/publishing.ts'
import { once, typeCard, useShop, type ShownForm } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

/** A whole purchase as somebody made up goes through it with test cards, over the hours, days and months. */
const on = useInstall()
const shop = useShop(on)
const { block } = composer(numberedIds('rehearse'))
const address = 'ada@rehearsal.test'
const month = { count: 1, unit: 'month' as const }
const hour = 3_600_000
const day = 24 * hour
let ada = 0
let ahead = 0

/** Moves her clock on, and lets happen what is due on it. */
async function pass(time: number): Promise<void> {
  ahead += time
  await ensureActivityMonths(on.q, on.install.clock.now() + ahead)
  await eventually(async () => {
    const until = new Date(on.install.clock.now() + ahead).toISOString()
    const answer = await on.mara.post(`/people/${ada}/jump`, { until })
    return (
      answer.status < 300 && Date.parse(((await answer.json()) as { now: string }).now) >= Date.parse(until)
    )
  })
  await noteLeftCarts(on.install.platform)
  await chargeDue(on.install.platform)
}
const journal = async (): Promise<string[]> => (await on.view(ada)).journal.map(({ title }) => title)
const trials = () => shop.orders('?show=test')
const view = (id: number): Promise<OrderView> => on.mara.get<OrderView>(`/orders/${id}`)
const invoiceOf = async (who: string): Promise<number | undefined> =>
  (await shop.orderOf(who)).invoices[0]?.number
const mailed = (subject: string): number =>
  (on.install.mail.standins?.mailbox.list({ to: address }) ?? []).filter((each) =>
    each.subject.startsWith(`Test: ${subject}`),
  ).length

describe('a purchase in rehearsal', () => {
  beforeAll(async () => {
    ada = await on.add(address, { firstName: 'Ada' })
    await on.q.rows('update contact set rehearsal = true where id = $1', [ada])
    const thanks = await publish(on, 'all-yours', [block('purchase', { greeting: 'Thank you' })])
    const lamp = await shop.sell('Lamp', { prices: [once('lamponce', 4_000)] })
    const more = await publish(on, 'a-lamp-too', [
      block('nextOffer', {
        offer: { product: lamp, price: null },
        label: 'Yes',
        decline: 'No',
        yes: { to: 'page', page: thanks },
        no: { to: 'page', page: thanks },
      }),
    ])
    const club = await shop.sell('Club', {
      // One place: a trial must not take it.
      prices: [
        {
          id: 'clubmonth',
          pays: { by: 'subscription', amount: 1_500, every: month },
          places: 2,
        },
      ],
      after: { to: 'page', page: more },
    })
    await shop.orderPage('club', [club])
  })

  it('leaves the cart, is declined, pays, takes one more thing, renews, and loses its card, with no trace in the numbers', async () => {
    await shop.buy('club', 'before@postbox.test')
    const before = await invoiceOf('before@postbox.test')
    const takings = await on.mara.get('/orders/takings')

    // The cart is left, on her own clock.
    const mark = readerMark(on.install.platform, ada)
    const first = await shop.get(`/p/club?me=${mark}`)
    expect(first.markup).toContain('This is a test: no money moves.')
    const left = await shop.leads(first, 'on', { firstName: 'Ada', address })
    await pass(2 * hour)
    expect(await journal()).toContain('left the checkout of “Club”')

    // A card that is declined loses nothing; another one pays.
    const rest = await shop.get(left)
    await typeCard(rest.card ?? '', 'declined')
    const declined = (await shop.follow(await shop.leads(rest, 'pay'))).text
    expect(declined).toContain('Your card was declined.')
    const again: ShownForm = await shop.get(left)
    await typeCard(again.card ?? '', 'approved')
    const offered = await shop.follow(await shop.leads(again, 'pay'))
    expect(offered.path).toMatch(/^\/p\/a-lamp-too\?/)

    // One click adds the lamp.
    const form = offered.text.slice(offered.text.indexOf('class="next"'))
    const fields = Object.fromEntries(
      [...form.matchAll(/<input\s+type="hidden"\s+name="([^"]+)"\s+value="([^"]*)"/g)].map(
        ([, name = '', value = '']) => [name, value],
      ),
    )
    const action = (/action="([^"]+)" class="next"/.exec(offered.text)?.[1] ?? '').replaceAll('&amp;', '&')
    const yes = await fetch(`${on.install.url}${action}`, {
      method: 'POST',
      redirect: 'manual',
      headers: { 'user-agent': computer },
      body: new URLSearchParams({ ...fields, do: 'yes' }),
    })
    const thanks = await shop.follow(yes.headers.get('location') ?? '')
    for (const words of ['Club', 'Lamp', 'You paid €55.']) expect(thanks.text).toContain(words)
    const bought = await journal()
    for (const title of ['bought “Club”', 'bought “Lamp”']) expect(bought).toContain(title)
    await eventually(() => mailed('Your order: ') >= 2)

    // A month later it renews; then the card fails, is tried on days 1, 3, 5 and 7, and it ends.
    const club = (await trials()).find(({ titles, state }) => titles.includes('Club') && state === 'paid')
    const states = async (): Promise<string[]> =>
      (await view(club?.id ?? 0)).payments.map(({ state }) => state)
    await pass(32 * day)
    await eventually(async () => (await states()).join() === 'paid,paid,due')
    await on.q.rows(`update customer_order set method = 'card_declined_told' where id = $1`, [club?.id])
    await pass(31 * day)
    for (const days of [1, 2, 2, 2]) {
      await eventually(async () => (await view(club?.id ?? 0)).payments[2]?.failure === 'declined')
      await on.q.rows('update payment set failure = null where order_id = $1 and n = 2', [club?.id])
      await pass(days * day + hour)
    }
    await eventually(async () => (await view(club?.id ?? 0)).endedBy === 'card')
    await eventually(() => mailed('Your card did not pay') >= 5)

    // Nothing of it has an invoice or counts, and it has taken nobody's place.
    for (const { id } of await trials()) expect((await view(id)).invoices).toEqual([])
    expect(await on.mara.get('/orders/takings')).toEqual(takings)
    await shop.buy('club', 'after@postbox.test')
    expect(await invoiceOf('after@postbox.test')).toBe((before ?? 0) + 1)
    expect((await shop.get('/p/club')).markup).toContain('sold out')

    // Begun again, there is nothing of it left.
    await eventually(
      async () => (await on.mara.post(`/people/${ada}/start-over`, { agreed: true })).status < 300,
    )
    expect(await trials()).toEqual([])
    expect((await journal()).some((title) => title.startsWith('bought'))).toBe(false)
  })
})
