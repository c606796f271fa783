import { beforeAll, describe, expect, it } from 'vitest'
import type { OrderView } from '../../contract/orders.ts'
import { survivorOf } from '../../server/audience/people/contacts.ts'
import { belongingsOf } from '../../server/commerce/belongings.ts'
import { composer } from '../../core/blocks/compose.ts'
import { numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { computer, lookAt, publish } from '../../testing/publishing.ts'
import { once, useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const shop = useShop(on)
const { block } = composer(numberedIds('next'))
const ids = { workshop: 0, templates: 0, bigger: 0 }

interface Offered {
  path: string
  text: string
}
const fieldsOf = (text: string): Record<string, string> => {
  const form = text.slice(text.indexOf('class="next"'))
  return Object.fromEntries(
    [...form.matchAll(/<input\s+type="hidden"\s+name="([^"]+)"\s+value="([^"]*)"/g)].map(
      ([, name = '', value = '']) => [name, value],
    ),
  )
}
const actionOf = (text: string): string =>
  (/action="([^"]+)" class="next"/.exec(text)?.[1] ?? '').replaceAll('&amp;', '&')
const declineOf = (text: string): string =>
  (/<p class="no"><a href="([^"]+)"/.exec(text)?.[1] ?? '').replaceAll('&amp;', '&')
/** Presses yes. @returns where it leads, or the status */
async function yes({ text }: Offered): Promise<string> {
  const answer = await fetch(`${on.install.url}${actionOf(text)}`, {
    method: 'POST',
    redirect: 'manual',
    headers: { 'user-agent': computer },
    body: new URLSearchParams({ ...fieldsOf(text), do: 'yes' }),
  })
  return answer.headers.get('location') ?? `${answer.status} ${await answer.text()}`
}

describe('one more offer after paying', () => {
  beforeAll(async () => {
    const { id: tag } = await made<{ id: number }>(on.mara.post('/tags', { name: 'Workshop' }))
    const thanks = await publish(on, 'thanks', [block('purchase', { greeting: 'Thank you' })])
    ids.workshop = await shop.sell('Workshop', {
      prices: [once('workshop', 14_900)],
      brings: [{ does: 'addTag', tag }],
    })
    ids.templates = await shop.sell('Templates', { prices: [once('template', 2_900)] })
    const to = (page: number) => ({ to: 'page' as const, page })
    const offer = (product: number) => ({ product, price: null })
    const smaller = await publish(on, 'smaller', [
      block('nextOffer', {
        offer: offer(ids.templates),
        label: 'Yes, the templates',
        decline: 'No',
        yes: to(thanks),
        no: to(thanks),
      }),
    ])
    ids.bigger = await publish(on, 'bigger', [
      block('nextOffer', {
        offer: offer(ids.workshop),
        label: 'Yes, the workshop',
        decline: 'No',
        yes: to(thanks),
        no: to(smaller),
      }),
    ])
    const course = await shop.sell('Course', { prices: [once('course11', 7_900)], after: to(ids.bigger) })
    await shop.orderPage('course', [course])
  })

  it('is taken with one click by the same card, once, and the thank-you names both', async () => {
    const offered = await shop.buy('course', 'yes@postbox.test')
    expect(offered.path).toMatch(/^\/p\/bigger\?.*order=/)
    for (const words of ['Workshop', '€149', 'Yes, the workshop']) expect(offered.text).toContain(words)
    const [one, two] = await Promise.all([yes(offered), yes(offered)])
    expect(one).toBe(two)
    const thanks = await shop.follow(one)
    expect(thanks.path).toMatch(/^\/p\/thanks\?/)
    for (const words of ['Thank you</span>, Ada', 'Course', 'Workshop', 'You paid €228'])
      expect(thanks.text).toContain(words)
    const orders = await shop.orders('?search=yes@postbox.test')
    expect(orders.map(({ total, state }) => [total, state])).toEqual([
      [14_900, 'paid'],
      [7_900, 'paid'],
    ])
    // Among what is theirs each stands by itself, with its invoice.
    const whose = await survivorOf(on.q, orders[0]?.contact ?? 0)
    const theirs = whose ? await belongingsOf(on.q, whose, new Date(on.install.clock.now())) : []
    expect(
      theirs.map(({ order, invoices }) => [
        order.lines.map(({ title }) => title),
        order.total,
        invoices.length,
      ]),
    ).toEqual([
      [['Workshop'], 14_900, 1],
      [['Course'], 7_900, 1],
    ])
    const person = await on.view(orders[0]?.contact ?? 0)
    expect(person.tags.map(({ name }) => name)).toEqual(['Workshop'])
    // It is never offered again to who has it.
    const again = await shop.follow(offered.path)
    expect(again.path).toMatch(/^\/p\/thanks\?/)
  })

  it('is not made to who got the same together with what they bought', async () => {
    const cards = await shop.sell('Cards', { prices: [once('cardsone', 1_200)] })
    const set = await shop.sell('Set', {
      prices: [once('setofall', 18_000, { products: [ids.workshop, cards] })],
      after: { to: 'page', page: ids.bigger },
    })
    await shop.orderPage('set', [set])
    const thanks = await shop.buy('set', 'set@postbox.test')
    expect(thanks.path).toMatch(/^\/p\/thanks\?/)
    for (const words of ['Set', '€180', 'Workshop', 'with Set', 'You paid €180'])
      expect(thanks.text).toContain(words)
    const [order] = await shop.orders('?search=set@postbox.test')
    const person = await on.view(order?.contact ?? 0)
    // What the other product does with its buyers is done too, and the journal names both, the price as its own.
    expect(person.tags.map(({ name }) => name)).toEqual(['Workshop'])
    const bought = person.journal.map(({ title }) => title).filter((title) => title.startsWith('bought'))
    expect(bought).toEqual(['bought “Cards”', 'bought “Workshop”', 'bought “Set”'])
    const { lines } = await on.mara.get<OrderView>(`/orders/${order?.id}`)
    expect(lines.map(({ kind, title, total }) => [kind, title, total])).toEqual([
      ['main', 'Set', 18_000],
      ['together', 'Workshop', 0],
      ['together', 'Cards', 0],
    ])
    // While one of them is not on sale, the set is not either.
    expect((await on.mara.post(`/products/${cards}/archive`, { archived: true })).status).toBe(204)
    // Nobody is asked for anything then.
    const page = await eventually(async () => {
      const markup = await (await lookAt(`${on.install.url}/p/set`)).text()
      return markup.includes('Nothing here is on sale now') && markup
    })
    expect(page).not.toContain('name="address"')
  })

  it('that is refused leads to the smaller one, and nothing is paid', async () => {
    const offered = await shop.buy('course', 'no@postbox.test')
    const smaller = await shop.follow(declineOf(offered.text))
    expect(smaller.path).toMatch(/^\/p\/smaller\?/)
    const thanks = await shop.follow(declineOf(smaller.text))
    expect(thanks.text).toContain('You paid €79')
    expect(await shop.orders('?search=no@postbox.test')).toHaveLength(1)
    const taken = await shop.follow(await yes(smaller))
    expect(taken.text).toContain('You paid €108')
  })

  it('whose card fails comes back and says so; what was bought before stays', async () => {
    const offered = await shop.buy('course', 'fails@postbox.test')
    await on.q.rows(
      `update customer_order set method = 'card_declined_told' where address = 'fails@postbox.test'`,
    )
    const back = await shop.follow(await yes(offered))
    expect(back.path).toMatch(/^\/p\/bigger\?/)
    expect(back.text).toContain('Your card was declined.')
    const orders = await shop.orders('?search=fails@postbox.test')
    expect(orders.map(({ state }) => state)).toEqual(['failed', 'paid'])
  })

  it('is over after an hour, and is made to nobody without an order', async () => {
    const offered = await shop.buy('course', 'slow@postbox.test')
    on.install.clock.move(61 * 60_000)
    expect(await yes(offered)).toMatch(/^\/p\/smaller\?/)
    expect(await shop.orders('?search=slow@postbox.test')).toHaveLength(1)
    for (const query of ['', '?order=', '?order=made.up'])
      expect(await (await lookAt(`${on.install.url}/p/bigger${query}`)).text()).not.toContain('class="next"')
  })
})
