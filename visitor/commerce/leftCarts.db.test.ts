import { beforeAll, describe, expect, it } from 'vitest'
import type { z } from 'zod'
import type { recovery } from '../../contract/orders.ts'
import { noteLeftCarts } from '../../server/commerce/leftCarts.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { lookAt } from '../../testing/publishing.ts'
import { typeCard, useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall()
const shop = useShop(on)
const hour = 3_600_000
let sold = 0

const leave = async (address: string): Promise<string> =>
  shop.leads(await shop.get('/p/left'), 'on', { firstName: 'Ada', address })
const contactOf = async (address: string): Promise<number> =>
  (await on.q.row<{ id: number }>('select id from contact where address_key = $1', [address]))?.id ?? 0
const noted = async (address: string): Promise<number> =>
  (
    await on.q.rows(`select from activity where kind = 'checkoutLeft' and contact_id = $1`, [
      await contactOf(address),
    ])
  ).length
async function pass(hours: number): Promise<void> {
  on.install.clock.move(hours * hour)
  await noteLeftCarts(on.install.platform)
}

describe('a cart that is left', () => {
  beforeAll(async () => {
    sold = await shop.sell('Left behind')
    await shop.orderPage('left', [sold])
  })

  it('is noted after an hour, once, with what is in it', async () => {
    await leave('leaves@postbox.test')
    await pass(0.9)
    expect(await noted('leaves@postbox.test')).toBe(0)
    await pass(0.2)
    await pass(1)
    expect(await noted('leaves@postbox.test')).toBe(1)
    const row = await on.q.row<{ cart: number | null; product: number | null }>(
      `select (details->>'cart')::bigint cart, (details->>'product')::bigint product
       from activity where kind = 'checkoutLeft' and contact_id = $1`,
      [await contactOf('leaves@postbox.test')],
    )
    const kept = await on.q.row<{ cart: number }>(
      `select id cart from cart where address = 'leaves@postbox.test'`,
    )
    expect(row).toEqual({ cart: kept?.cart, product: sold })
  })

  it('is nobody’s once it was bought', async () => {
    const rest = await shop.get(await leave('buys@postbox.test'))
    await typeCard(rest.card ?? '', 'approved')
    await shop.follow(await shop.leads(rest, 'pay'))
    await shop.orderOf('buys@postbox.test')
    await pass(2)
    expect(await noted('buys@postbox.test')).toBe(0)
  })

  it('comes back on any device by a link of their own mail, and by nobody else’s', async () => {
    await leave('device@postbox.test')
    const mark = readerMark(on.install.platform, await contactOf('device@postbox.test'))
    const back = await lookAt(`${on.install.url}/cart?me=${mark}`)
    const to = back.headers.get('location') ?? ''
    expect(to).toMatch(/^\/p\/left\?cart=/)
    const form = await shop.get(to)
    expect([form.markup.includes('For device@postbox.test'), form.card !== null]).toEqual([true, true])
    await typeCard(form.card ?? '', 'approved')
    await shop.follow(await shop.leads(form, 'pay'))
    await shop.orderOf('device@postbox.test')
    const gone = await lookAt(`${on.install.url}/cart?me=${mark}`)
    expect([gone.status, (await gone.text()).includes('Your cart is empty')]).toEqual([404, true])
    for (const query of ['', '?me=forged', '?me='])
      expect((await lookAt(`${on.install.url}/cart${query}`)).status).toBe(404)
  })

  it('tells of somebody known only while they want our mail, and at most once a day', async () => {
    await on.add('never-asked@postbox.test')
    await leave('never-asked@postbox.test')
    const reader = await on.add('reader@postbox.test')
    await on.q.rows(`update contact set marketing_state = 'subscribed' where id = $1`, [reader])
    for (let n = 0; n < 3; n += 1) await leave('reader@postbox.test')
    await pass(2)
    expect([await noted('never-asked@postbox.test'), await noted('reader@postbox.test')]).toEqual([0, 3])
    await leave('reader@postbox.test')
    await pass(2)
    expect(await noted('reader@postbox.test')).toBe(3)
    await pass(24)
    await leave('reader@postbox.test')
    await pass(2)
    expect(await noted('reader@postbox.test')).toBe(4)
  })

  it('runs on the clock of somebody made up', async () => {
    const ada = await on.add('ada@rehearsal.test')
    await on.q.rows('update contact set rehearsal = true where id = $1', [ada])
    const mark = readerMark(on.install.platform, ada)
    await shop.leads(await shop.get(`/p/left?me=${mark}`), 'on', {
      firstName: 'Ada',
      address: 'ada@rehearsal.test',
    })
    await noteLeftCarts(on.install.platform)
    expect(await noted('ada@rehearsal.test')).toBe(0)
    await on.q.rows('update contact set clock_ahead = $2 where id = $1', [ada, 2 * hour])
    await noteLeftCarts(on.install.platform)
    expect(await noted('ada@rehearsal.test')).toBe(1)
  })
})

describe('the share that is held out', () => {
  let held = 0
  const settings = (given: object): Promise<Response> =>
    on.mara.post('/orders/recovery', { afterMinutes: 60, heldOut: 0, ...given })
  const report = () => on.mara.get<z.infer<typeof recovery>>('/orders/recovery?days=3660')

  it('is counted apart, starts nothing, and is set beside the others with its interval', async () => {
    await pass(48)
    expect((await settings({ heldOut: 50 })).status).toBe(204)
    const addresses = Array.from({ length: 24 }, (_, n) => `arm${n}@postbox.test`)
    for (const address of addresses) await leave(address)
    await pass(1.1)
    const arms = await on.q.rows<{ address: string; heldOut: boolean; told: boolean | null }>(
      `select cart.address, held_out "heldOut", (details->>'heldOut')::boolean told
       from cart join activity on kind = 'checkoutLeft' and (details->>'cart')::bigint = cart.id
       where cart.address like 'arm%' order by cart.id`,
    )
    expect(arms.map(({ address }) => address)).toEqual(addresses)
    expect(new Set(arms.map(({ heldOut }) => heldOut))).toEqual(new Set([true, false]))
    for (const { heldOut, told } of arms) expect(told).toBe(heldOut ? true : null)
    held = arms.filter(({ heldOut }) => heldOut).length

    const { comparison, rows } = await report()
    expect([comparison?.heldOut.among, comparison?.mailed.among]).toEqual([held, 24 - held])
    expect(comparison?.gain).toEqual({
      difference: 0,
      low: expect.any(Number) as number,
      high: expect.any(Number) as number,
    })
    expect(comparison?.gain.low).toBeLessThan(0)
    expect(rows.filter(({ state }) => state === 'heldOut')).toHaveLength(held)
    const person = await on.view(await contactOf(arms.find(({ heldOut }) => heldOut)?.address ?? ''))
    expect(person.journal.map(({ title }) => title)).toContain(
      'left the checkout of “Left behind” (held out: no email about it)',
    )

    // The same people each time.
    await on.q.rows(`update contact set marketing_state = 'subscribed' where address like 'arm%'`)
    await pass(25)
    for (const address of addresses) await leave(address)
    await pass(1.1)
    const again = await on.q.rows<{ heldOut: boolean }>(
      `select distinct on (address) held_out "heldOut" from cart where address like 'arm%'
       order by address, id desc`,
    )
    expect(again.filter(({ heldOut }) => heldOut)).toHaveLength(held)
    await settings({})
  })

  it('ends with the choice, and a cart is left as early as the settings say', async () => {
    await settings({ afterMinutes: 10 })
    await leave('early@postbox.test')
    await pass(0.1)
    expect(await noted('early@postbox.test')).toBe(0)
    await pass(0.1)
    expect(await noted('early@postbox.test')).toBe(1)
    // While nobody is held out, carts stand on neither side: what is compared left at the same time.
    const before = (await report()).comparison?.mailed.among
    const sides = await on.q.rows('select held_out side from cart where address = $1', ['early@postbox.test'])
    expect([sides, before]).toEqual([[{ side: null }], 24 + 24 - 2 * held])
    await settings({})
  })

  it('refuses what makes no sense, in words', async () => {
    const refused = await settings({ afterMinutes: 1, heldOut: 90 })
    expect([refused.status, (await refused.json()) as unknown]).toEqual([
      422,
      expect.objectContaining({
        fields: { afterMinutes: 'Give people 5 minutes at least', heldOut: 'Half of them at most' },
      }),
    ])
  })
})

describe('the report of left carts', () => {
  it('says who left, who was written to, who came back, and what that brought, with its interval', async () => {
    const before = await on.mara.get<z.infer<typeof recovery>>('/orders/recovery?days=365')
    const to = await leave('returns@postbox.test')
    await leave('stays-away@postbox.test')
    await pass(1.1)
    const form = await shop.get(to)
    await typeCard(form.card ?? '', 'approved')
    await shop.follow(await shop.leads(form, 'pay'))
    await shop.orderOf('returns@postbox.test')
    const seen = await on.mara.get<z.infer<typeof recovery>>('/orders/recovery?days=365')
    expect([seen.left - before.left, seen.back.of - before.back.of, seen.money - before.money]).toEqual([
      2, 1, 700,
    ])
    expect(seen.back.low).toBeLessThan(seen.back.rate)
    const state = (address: string): [string, number | null] | undefined => {
      const row = seen.rows.find((each) => each.address === address)
      return row && [row.state, row.paid]
    }
    expect([state('returns@postbox.test'), state('stays-away@postbox.test')]).toEqual([
      ['back', 700],
      ['left', null],
    ])
    // Nobody made up is in it.
    expect(state('ada@rehearsal.test')).toBeUndefined()
  })
})
