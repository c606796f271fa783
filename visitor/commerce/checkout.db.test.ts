import { beforeAll, describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience/people.ts'
import { composer } from '../../core/blocks/compose.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { lookAt, publish } from '../../testing/publishing.ts'
import { once, typeCard, useShop, type ShownForm } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor } from '../../testing/visitor.ts'

const on = useInstall()
const shop = useShop(on)
const { block } = composer(numberedIds('checkout'))

/** The rest of the order form, after the address. */
const restOf = async (
  path: string,
  address: string,
  typed: Record<string, string> = {},
): Promise<ShownForm> =>
  shop.get(await shop.leads(await shop.get(`/p/${path}`), 'on', { firstName: 'Ada', address, ...typed }))
const again = async (
  form: ShownForm,
  does: 'on' | 'update' | 'pay',
  typed: Record<string, string> = {},
): Promise<ShownForm> => {
  const pressed = await shop.press(form, does, typed)
  if ('to' in pressed) throw new Error(`it leads to ${pressed.to}`)
  return pressed
}
const bought = async (order: { contact: number | null }): Promise<PersonView> => on.view(order.contact ?? 0)

describe('a product', () => {
  it('is bought: the address first, then the card, and all that it brings comes once', async () => {
    const { id: tag } = await made<{ id: number }>(on.mara.post('/tags', { name: 'Buyer' }))
    const guide = await shop.sell('Field Guide', { brings: [{ does: 'addTag', tag }] })
    await shop.orderPage('guide', [guide])
    const first = await shop.get('/p/guide')
    expect([first.card, first.markup.includes('€7')]).toEqual([null, true])
    const rest = await restOf('guide', 'ada@postbox.test')
    expect(rest.card).toMatch(/^http:\/\/127\.0\.0\.1:\d+\/card\//)
    await typeCard(rest.card ?? '', 'approved')
    const paid = await shop.follow(await shop.leads(rest, 'pay'))
    expect(paid.text).toContain('Thank you, Ada')
    const order = await shop.orderOf('ada@postbox.test')
    expect(order).toMatchObject({ total: 700, net: 569, tax: 131, titles: ['Field Guide'], test: false })
    expect(order.invoices).toMatchObject([{ kind: 'invoice', total: 700 }])
    const person = await bought(order)
    expect(person.tags.map(({ name }) => name)).toEqual(['Buyer'])
    const details = { product: guide, price: 'priceone', amount: 700, currency: 'EUR', order: order.id }
    const done = await on.q.rows<{ kind: string; details: object }>(
      `select kind, details from activity where contact_id = $1 and kind in ('contactAdded', 'productBought') order by id`,
      [order.contact],
    )
    expect(done).toEqual([
      { kind: 'contactAdded', details: { by: 'order' } },
      { kind: 'productBought', details },
    ])
    const [receipt] = await mailFor(on.install, 'ada@postbox.test')
    expect([receipt?.subject, receipt?.text.includes('€7')]).toEqual(['Your order: Field Guide', true])
  })

  it('of the same price as another is never confused with it', async () => {
    const brings = async (name: string) => {
      const { id } = await made<{ id: number }>(on.mara.post('/tags', { name }))
      return [{ does: 'addTag' as const, tag: id }]
    }
    const prices = [once('samecost', 2_900)]
    const templates = await shop.sell('Templates', { brings: await brings('Has templates'), prices })
    const course = await shop.sell('Short course', { brings: await brings('Has the course'), prices })
    await shop.orderPage('templates', [templates])
    await shop.orderPage('short-course', [course])
    await shop.buy('templates', 'one@postbox.test')
    await shop.buy('short-course', 'two@postbox.test')
    const [one, two] = [await shop.orderOf('one@postbox.test'), await shop.orderOf('two@postbox.test')]
    expect([one.total, two.total]).toEqual([2_900, 2_900])
    expect((await bought(one)).tags.map(({ name }) => name)).toEqual(['Has templates'])
    expect((await bought(two)).tags.map(({ name }) => name)).toEqual(['Has the course'])
  })

  it('that costs nothing asks for no card, and its buyer gets it at once', async () => {
    const free = await shop.sell('Sample', { prices: [{ id: 'nothing1', pays: { by: 'free' } }] })
    await shop.orderPage('sample', [free])
    const rest = await restOf('sample', 'free@postbox.test')
    expect([rest.card, rest.markup.includes('Get it')]).toEqual([null, true])
    const got = await shop.follow(await shop.leads(rest, 'pay'))
    expect(got.text).toContain('All of it comes by email too')
    const order = await shop.orderOf('free@postbox.test')
    expect([order.total, order.invoices]).toEqual([0, []])
  })

  it('that costs nothing fills nobody’s mailbox, and brings no address back that must not', async () => {
    const free = await shop.sell('Leaflet', { prices: [{ id: 'leaflet1', pays: { by: 'free' } }] })
    await shop.orderPage('leaflet', [free])
    const victim = await on.add('victim@postbox.test')
    for (let n = 0; n < 3; n += 1) {
      const again = await shop.buy('leaflet', 'victim@postbox.test')
      expect(again.text).toContain('Leaflet')
    }
    expect(await mailFor(on.install, 'victim@postbox.test')).toHaveLength(1)
    const got = await on.q.rows(`select from activity where contact_id = $1 and kind = 'productBought'`, [
      victim,
    ])
    expect(got).toHaveLength(1)

    const erased = await on.add('erased@postbox.test')
    await on.mara.post(`/people/${erased}/erase`)
    await shop.buy('leaflet', 'erased@postbox.test')
    await shop.orderOf('erased@postbox.test')
    const known = (): Promise<object[]> =>
      on.q.rows(`select from contact where address_key = 'erased@postbox.test'`)
    expect([await known(), on.install.mail.standins?.mailbox.list({ to: 'erased@postbox.test' })]).toEqual([
      [],
      [],
    ])
    // A card that is declined brings nobody back either; one that pays does.
    await shop.buy('guide', 'erased@postbox.test', { card: 'declined' })
    expect(await known()).toEqual([])
    await shop.buy('guide', 'erased@postbox.test')
    await mailFor(on.install, 'erased@postbox.test')
    expect(await known()).toHaveLength(1)
  })

  it('opens a page for buyers by the link of the receipt, and for nobody else', async () => {
    const product = await shop.sell('Reading room')
    await shop.orderPage('reading-room', [product])
    const people = {
      kind: 'did' as const,
      activity: 'productBought' as const,
      details: { product },
      atLeast: 1,
    }
    const limitedTo = { people, others: { get: 'text' as const, words: 'This is for buyers.' } }
    const page = await publish(on, 'room', [block('heading', { words: 'Come in' })], { limitedTo })
    await on.q.rows(
      `update product_version set content = jsonb_set(content, '{brings}', $2) where product_id = $1`,
      [product, JSON.stringify([{ does: 'openPage', page }])],
    )
    await on.add('reads@postbox.test')
    await shop.buy('reading-room', 'reads@postbox.test')
    const [receipt] = await mailFor(on.install, 'reads@postbox.test')
    const [link = ''] = /http\S+\/order\/\S+/.exec(receipt?.text ?? '') ?? []
    const order = await (await lookAt(link)).text()
    const [, room = ''] = /href="([^"]*\/p\/room[^"]*)"/.exec(order) ?? []
    expect(await (await lookAt(`${on.install.url}${room.replaceAll('&amp;', '&')}`)).text()).toContain(
      'Come in',
    )
    expect(await (await lookAt(`${on.install.url}/p/room`)).text()).toContain('This is for buyers.')
  })

  it('is bought once, however often the button is pressed', async () => {
    const product = await shop.sell('Pressed twice')
    await shop.orderPage('twice', [product])
    const rest = await restOf('twice', 'hasty@postbox.test')
    await typeCard(rest.card ?? '', 'approved')
    const all = await Promise.all(Array.from({ length: 5 }, () => shop.leads(rest, 'pay')))
    expect(new Set(all.map((to) => to.replace(/\?.*/, ''))).size).toBe(1)
    await shop.orderOf('hasty@postbox.test')
    expect(await shop.orders('?search=hasty@postbox.test')).toHaveLength(1)
    // Whoever comes back to the form is led to what they bought.
    expect(await shop.leads(rest, 'pay')).toMatch(/^\/order\//)
  })

  it('leads on to where it says, with what was bought named there', async () => {
    await publish(on, 'inside', [block('heading', { words: 'Inside' })])
    const page = await publish(on, 'thanks', [block('purchase', { greeting: 'Thank you so much' })])
    const inside = (await on.q.row<{ id: number }>(`select id from page where path = 'inside'`))?.id ?? 0
    const product = await shop.sell('Named', {
      after: { to: 'page', page },
      brings: [{ does: 'openPage', page: inside }],
    })
    await shop.orderPage('named', [product])
    const paid = await shop.buy('named', 'named@postbox.test', { firstName: 'Grace' })
    expect(paid.path).toMatch(/^\/p\/thanks\?.*order=/)
    for (const words of ['Thank you so much', ', Grace', 'Named', '€7', 'Open Named', '/p/inside'])
      expect(paid.text).toContain(words)
    // Nobody else's page says so.
    expect(await (await lookAt(`${on.install.url}/p/thanks`)).text()).not.toContain('Named')
    expect(await (await lookAt(`${on.install.url}/p/thanks?order=made.up`)).text()).not.toContain('Named')
  })
})

describe('an order form', () => {
  beforeAll(async () => {
    const prices = [
      once('atonce11', 7_900, { name: 'At once' }),
      {
        id: 'inthree1',
        name: 'In three',
        pays: {
          by: 'payments' as const,
          amount: 8_700,
          payments: 3,
          every: { count: 1, unit: 'month' as const },
        },
      },
      { id: 'yourself', name: 'Yours', pays: { by: 'choice' as const, least: 500, suggested: 1_500 } },
    ]
    const course = await shop.sell('Course', { prices })
    const cards = await shop.sell('Cards', { prices: [once('cardonce', 1_200)] })
    const everything = {
      extra: { product: cards, price: null },
      coupon: true,
      country: true,
      vatNumber: true,
      terms: 'I agree to the terms',
      consent: 'Send me the letter',
      name: 'whole',
    }
    await shop.orderPage('course', [course], everything)
    await made(
      on.mara.post('/coupons', { code: 'TEN-OFF', off: { by: 'amount', amount: 1_000 }, usesEach: 1 }),
    )
  })
  const ada = { firstName: 'Ada', lastName: 'Finch', country: 'IE', terms: 'yes' }

  it('says what is missing, and keeps what was typed', async () => {
    const first = await shop.get('/p/course')
    const missing = await again(first, 'on', { address: 'nonsense', firstName: 'Ada' })
    expect([missing.status, missing.faults]).toEqual([
      422,
      ['Type your email address, such as ada@example.com.', 'Type your last name.'],
    ])
    expect(missing.markup).toContain('value="nonsense"')
    const message = await again(first, 'on', {
      address: 'a@b.test',
      firstName: 'Win at win.example',
      lastName: 'X',
    })
    expect(message.faults).toEqual([expect.stringMatching(/write a name, without an email or web address/)])
    const rest = await restOf('course', 'rest@postbox.test', { lastName: 'Finch' })
    const unfinished = await again(rest, 'pay', { vatNumber: 'IE123' })
    expect(unfinished.faults).toEqual([
      'Choose your country: the tax depends on it.',
      'Check the VAT number: a sign is wrong or missing.',
      'Tick this to go on.',
    ])
  })

  it('works out the sum by itself: extra, coupon, parts, what buyers choose, and the tax of their country', async () => {
    const rest = await restOf('course', 'sums@postbox.test', { lastName: 'Finch' })
    const due = async (typed: Record<string, string>): Promise<string | undefined> =>
      (await again(rest, 'update', { ...ada, ...typed })).fields.seen
    const offer = rest.markup.match(/value="(\d+):atonce11"/)?.[1] ?? ''
    expect(await due({})).toBe('7900')
    expect(await due({ extra: 'yes' })).toBe('9100')
    expect(await due({ coupon: 'ten-off' })).toBe('6900')
    expect(await due({ offer: `${offer}:inthree1` })).toBe('2900')
    expect(await due({ offer: `${offer}:yourself`, amount: '12,50' })).toBe('1250')
    // A business of another country of the union pays the tax at home: 7,900 with 23 % inside are 6,423 without.
    // DE136695976: the example of Germany's own description of the check digit (from memory).
    expect(await due({ country: 'DE', vatNumber: 'DE136695976' })).toBe('6423')
  })

  it('takes nobody’s word for a price: not what it offers, not too little, not another sum', async () => {
    const rest = await restOf('course', 'cheat@postbox.test', { lastName: 'Finch' })
    const offer = rest.markup.match(/value="(\d+):yourself"/)?.[1] ?? ''
    expect((await again(rest, 'pay', { ...ada, offer: '1:guideone' })).faults).toContain(
      'Choose one of these.',
    )
    for (const amount of ['-5', '1', '1e9', '99999999999'])
      expect((await again(rest, 'pay', { ...ada, offer: `${offer}:yourself`, amount })).faults).toHaveLength(
        1,
      )
    const other = await again(rest, 'pay', { ...ada, seen: '1' })
    expect([other.status, other.markup.includes('What it costs has changed meanwhile')]).toEqual([409, true])
    expect(await shop.orders('?search=cheat@postbox.test')).toEqual([])
  })

  it('lets a coupon be used as often as it may, and slows down whoever guesses', async () => {
    const typed = { ...ada, coupon: 'TEN-OFF' }
    const rest = await restOf('course', 'coupon@postbox.test', { lastName: 'Finch' })
    const seen = (await again(rest, 'update', typed)).fields.seen ?? ''
    await typeCard(rest.card ?? '', 'approved')
    await shop.follow(await shop.leads(rest, 'pay', { ...typed, seen }))
    const order = await shop.orderOf('coupon@postbox.test')
    expect([order.total, order.off, order.coupon]).toEqual([6_900, 1_000, 'TEN-OFF'])
    const second = await restOf('course', 'COUPON@postbox.test', { lastName: 'Finch' })
    expect((await again(second, 'update', typed)).faults).toEqual(['This coupon has been used up.'])
    const guesses = await Promise.all(
      Array.from({ length: 12 }, (_, n) =>
        fetch(`${on.install.url}${second.action}`, {
          method: 'POST',
          redirect: 'manual',
          body: new URLSearchParams({ ...second.fields, ...ada, coupon: `GUESS-${n}`, do: 'update' }),
        }),
      ),
    )
    expect(guesses.map(({ status }) => status)).toContain(429)
  })

  it('fills in who is known, and puts a consent that is apart from buying into the ledger', async () => {
    const known = await on.add('known@postbox.test', { firstName: 'Kit', lastName: 'Marsh' })
    const mark = readerMark(on.install.platform, known)
    const first = await shop.get(`/p/course?me=${mark}`)
    for (const value of ['known@postbox.test', 'Kit', 'Marsh'])
      expect(first.markup).toContain(`value="${value}"`)
    const paid = await shop.buy('course', 'agrees@postbox.test', { ...ada, consent: 'yes' })
    expect(paid.text).toContain('Thank you, Ada')
    const order = await shop.orderOf('agrees@postbox.test')
    const ledger = await on.q.rows('select given, wording, source from consent where contact_id = $1', [
      order.contact,
    ])
    expect(ledger).toEqual([{ given: true, wording: 'Send me the letter', source: 'course' }])
    expect(order.payments).toHaveLength(1)
  })

  it('changes nothing of somebody whose address was typed', async () => {
    const other = await on.add('other@postbox.test', { firstName: 'Olive', lastName: '' })
    await restOf('course', 'other@postbox.test', { lastName: 'Finch', consent: 'yes' })
    const person = await on.view(other)
    expect([person.firstName, person.lastName, person.marketingState]).toEqual(['Olive', '', 'neverAsked'])
  })
})
