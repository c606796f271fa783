import sharp from 'sharp'
import { beforeAll, describe, expect, it } from 'vitest'
import type { DeadlineView } from '../../contract/deadlines.ts'
import { composer } from '../../core/blocks/compose.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { useEmails } from '../../testing/emails.ts'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { lookAt, publish } from '../../testing/publishing.ts'
import { once, typeCard, useShop } from '../../testing/shop.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const shop = useShop(on)
const emails = useEmails(on)
const followups = useFollowups(on)
const { block } = composer(numberedIds('deadline'))
const minute = 60_000

const markOf = (contact: number): string => readerMark(on.install.platform, contact)
const endOf = async (contact: number, offer: string): Promise<number | null> =>
  (
    await on.q.row<{ ends: Date }>(
      'select ends_at ends from personal_deadline where contact_id = $1 and offer = $2',
      [contact, offer],
    )
  )?.ends.getTime() ?? null
const contactOf = async (address: string): Promise<number> =>
  (await on.q.row<{ id: number }>('select id from contact where address_key = $1', [address]))?.id ?? 0
const newDeadline = (given: object): Promise<{ id: number }> =>
  made(on.mara.post('/deadlines', { begins: 'visit', ...given }))
const fourteen = { by: 'length', lasts: { amount: 14, unit: 'minutes' } }

const asPerson = (path: string, contact: number): Promise<Response> =>
  lookAt(`${on.install.url}/p/${path}?me=${markOf(contact)}`)

describe('a page with a personal deadline', () => {
  let product = 0
  let ada = 0
  beforeAll(async () => {
    const after = await publish(on, 'usual-offers', [block('heading', { level: 1, words: 'Offers' })])
    await newDeadline({ name: 'Workshop', runs: fourteen, afterwards: { to: 'page', page: after } })
    product = await shop.sell('Workshop')
    ada = await on.add('ada-d@postbox.test')
    const given = { deadline: 'Workshop' }
    await publish(
      on,
      'once-more',
      [
        block('countdown', { deadline: 'Workshop', words: 'Open for you for', after: 'Over.' }),
        block('orderForm', { offers: [{ product, price: null }], label: 'Pay now' }),
      ],
      given,
    )
  })

  it('is closed to whoever is not known: without a link of their own, or by a forged one', async () => {
    for (const query of ['', '?me=', '?me=forged', `?me=${markOf(ada).slice(0, -2)}xx`]) {
      const answer = await lookAt(`${on.install.url}/p/once-more${query}`)
      expect([answer.status, answer.headers.get('location')]).toEqual([302, '/p/usual-offers'])
    }
    expect(await endOf(ada, 'Workshop')).toBeNull()
  })

  it('begins with the first look of a person, counts down, and does not begin by a machine', async () => {
    const robot = await fetch(`${on.install.url}/p/once-more?me=${markOf(ada)}`, {
      headers: { 'user-agent': 'Mailscanner bot/1.0' },
      redirect: 'manual',
    })
    expect([robot.status, await endOf(ada, 'Workshop')]).toEqual([302, null])
    const answer = await asPerson('once-more', ada)
    const text = await answer.text()
    const ends = on.install.clock.now() + 14 * minute
    expect([answer.status, await endOf(ada, 'Workshop')]).toEqual([200, ends])
    expect(text).toContain(`data-until="${new Date(ends).toISOString()}"`)
    expect(answer.headers.get('cache-control')).toContain('no-store')
  })

  it('counts on the clock of somebody made up', async () => {
    const eli = await on.add('eli@rehearsal.test')
    await on.q.rows('update contact set rehearsal = true, clock_ahead = $2 where id = $1', [eli, 60 * minute])
    const text = await (await asPerson('once-more', eli)).text()
    const until = Date.parse(/data-until="([^"]+)"/.exec(text)?.[1] ?? '')
    expect(until - on.install.clock.now()).toBe(14 * minute)
    expect(text).not.toContain('<p class="count">Over.</p>')
  })

  it('keeps the first deadline, closes to the second, and stays closed for good', async () => {
    on.install.clock.move(13 * minute)
    expect((await asPerson('once-more', ada)).status).toBe(200)
    const form = await shop.get(`/p/once-more?me=${markOf(ada)}`)
    on.install.clock.move(minute)
    const late = await asPerson('once-more', ada)
    expect([late.status, late.headers.get('location')?.split('?')[0]]).toEqual([302, '/p/usual-offers'])
    // A form that was open all the while is not taken either.
    const pressed = await shop.press(form, 'on', { firstName: 'Ada', address: 'ada-d@postbox.test' })
    expect('to' in pressed && pressed.to.split('?')[0]).toBe('/p/usual-offers')
    expect(await on.q.rows(`select from cart where address = 'ada-d@postbox.test'`)).toEqual([])
    on.install.clock.move(5 * 24 * 60 * minute)
    expect((await asPerson('once-more', ada)).status).toBe(302)
  })

  it('is counted, and keeps its name', async () => {
    const ben = await on.add('ben-d@postbox.test')
    await asPerson('once-more', ben)
    const list = await on.mara.get<DeadlineView[]>('/deadlines')
    const row = list.find(({ name }) => name === 'Workshop')
    expect(row).toMatchObject({ running: 1, over: 1 })
    const renamed = await on.mara.post(`/deadlines/${row?.id}/save`, {
      name: 'Another',
      begins: 'visit',
      runs: fourteen,
    })
    expect([renamed.status, (await renamed.json()) as object]).toMatchObject([
      409,
      { fields: { name: 'It stays “Workshop”: pages, emails and follow-ups speak of it' } },
    ])
    expect((await on.mara.post('/deadlines', { name: 'Workshop', begins: 'visit' })).status).toBe(409)
  })
})

describe('a price with a personal deadline', () => {
  it('can be had by whom it runs for, and is closed on the server when it is over', async () => {
    await newDeadline({ name: 'Early', begins: 'followup' })
    const product = await shop.sell('Early course', {
      prices: [
        once('early001', 4_900, { name: 'Early', deadline: 'Early' }),
        once('usual001', 7_900, { name: 'Usual' }),
      ],
    })
    await shop.orderPage('early', [product])
    const cleo = await on.add('cleo@postbox.test')
    await on.q.rows('insert into personal_deadline values ($1, $2, $3)', [
      cleo,
      'Early',
      new Date(on.install.clock.now() + 5 * minute),
    ])
    const typed = { firstName: 'Cleo', address: 'cleo@postbox.test', offer: `${product}:early001` }
    // Somebody else does not get it by choosing it.
    const stranger = await shop.get('/p/early')
    expect(stranger.markup).toContain('no longer on sale')
    const rest = await shop.get(await shop.leads(await shop.get(`/p/early?me=${markOf(cleo)}`), 'on', typed))
    expect(rest.markup).toContain('€49')
    await typeCard(rest.card ?? '', 'approved')
    on.install.clock.move(5 * minute)
    const late = await shop.press(rest, 'pay', { offer: `${product}:early001` })
    expect('faults' in late && [late.status, late.faults]).toEqual([409, ['Its sale is over.']])
    const other = await shop.get(
      await shop.leads(stranger, 'on', {
        firstName: 'Dan',
        address: 'dan@postbox.test',
        offer: `${product}:early001`,
      }),
    )
    await typeCard(other.card ?? '', 'approved')
    const refused = await shop.press(other, 'pay', { offer: `${product}:early001` })
    expect('faults' in refused && [refused.status, refused.faults]).toEqual([409, ['Its sale is over.']])
  })
})

describe('the picture of a personal deadline', () => {
  it('runs by seconds for whoever’s email it stands in, says that it is over, and is nobody else’s', async () => {
    const { id } = await newDeadline({ name: 'Picture', begins: 'followup' })
    const eve = await on.add('eve@postbox.test')
    await on.q.rows('insert into personal_deadline values ($1, $2, $3)', [
      eve,
      'Picture',
      new Date(on.install.clock.now() + 90_000),
    ])
    const ask = (mark: string): Promise<Response> =>
      fetch(`${on.install.url}/countdown/own/${id}.gif?me=${mark}`)
    const running = await ask(markOf(eve))
    const bytes = Buffer.from(await running.arrayBuffer())
    // Read by another program than the one that wrote it: a frame a second, played once.
    const read = await sharp(bytes, { animated: true }).metadata()
    expect([
      running.headers.get('content-type'),
      read.format,
      read.pages,
      read.width,
      read.pageHeight,
    ]).toEqual(['image/gif', 'gif', 60, 640, 168])
    expect(new Set(read.delay)).toEqual(new Set([1_000]))
    expect(bytes.length).toBeLessThan(300_000)
    on.install.clock.move(90_000)
    const over = Buffer.from(await (await ask(markOf(eve))).arrayBuffer())
    expect((await sharp(over, { animated: true }).metadata()).pages ?? 1).toBe(1)
    const never = await on.add('never@postbox.test')
    expect(Buffer.from(await (await ask(markOf(never))).arrayBuffer()).equals(over)).toBe(true)
    for (const mark of ['', 'forged']) expect((await ask(mark)).status).toBe(404)
    // One that begins with a look stands still before: all of its time is left.
    const { id: later } = await newDeadline({ name: 'Not begun', runs: fourteen })
    const still = await fetch(`${on.install.url}/countdown/own/${later}.gif?me=${markOf(never)}`)
    const picture = Buffer.from(await still.arrayBuffer())
    expect((await sharp(picture, { animated: true }).metadata()).pages ?? 1).toBe(1)
    expect(picture.equals(over)).toBe(false)
  })
})

describe('a deadline that begins with an email', () => {
  it('begins when the email goes out, which says when it ends and shows what is left', async () => {
    const lasts = { amount: 3, unit: 'days' }
    const { id } = await newDeadline({ name: 'Three days', begins: 'sending', runs: { by: 'length', lasts } })
    const email = await emails.live(
      emails.write(
        {},
        emails.text('Yours until {end of Three days}.'),
        emails.block('countdown', { deadline: 'Three days', words: 'Open for you for', after: '' }),
      ),
    )
    await emails.send(email)
    const [mail] = await mailFor(on.install, emails.who.address)
    const contact = await contactOf(emails.who.address)
    const ends = await eventually(() => endOf(contact, 'Three days'))
    const sent = on.install.clock.now()
    expect(Math.abs(ends - (sent + 3 * 24 * 60 * minute))).toBeLessThan(61 * minute)
    const told = new Intl.DateTimeFormat('en-GB', {
      day: 'numeric',
      month: 'long',
      timeZone: 'Europe/Dublin',
    })
    expect(mail?.text).toContain(told.format(ends))
    const picture = new RegExp(`/countdown/own/${id}\\.gif\\?me=[^"]+`).exec(mail?.html ?? '')?.[0]
    const answer = await fetch(`${on.install.url}${picture?.replaceAll('&amp;', '&') ?? ''}`)
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'image/gif'])
    // A second email begins nothing anew.
    on.install.clock.move(minute)
    await emails.send(
      await emails.live(
        emails.write({}, emails.block('countdown', { deadline: 'Three days', words: 'Still', after: '' })),
      ),
    )
    await mailFor(on.install, emails.who.address, 2)
    expect(await endOf(contact, 'Three days')).toBe(ends)
  })
})

describe('a coupon of which each person gets a code', () => {
  it('is made by a follow-up, said in the email, brought along to the cart, and good once for that person', async () => {
    const product = await shop.sell('Half price thing')
    await shop.orderPage('half', [product], { coupon: true })
    const made = await on.mara.post('/coupons', {
      code: 'COME-BACK',
      off: { by: 'percent', percent: 50 },
      each: { lasts: { amount: 2, unit: 'days' } },
    })
    expect(made.status).toBe(201)
    const gus = await on.add('gus@postbox.test', { firstName: 'Gus' })
    const hal = await on.add('hal@postbox.test', { firstName: 'Hal' })
    await on.q.rows(`update contact set marketing_state = 'subscribed' where id = any($1)`, [[gus, hal]])
    const email = await emails.live(
      emails.write({}, emails.text('Your code is {coupon code}.'), emails.button({ to: 'cart' })),
    )
    const steps = (coupon: string) =>
      programOf([
        { kind: 'makeCoupon', id: 'code', coupon },
        { kind: 'send', id: 'mail', email },
      ])
    await expect(followups.live(steps('NO-SUCH'))).rejects.toThrow(/No coupon “NO-SUCH” makes a code/)
    const followup = await followups.live(steps('COME-BACK'))
    await followups.letIn(followup, [gus, hal])
    const [mail] = await mailFor(on.install, 'gus@postbox.test')
    const code = /Your code is (COME-BACK-[A-Z2-9]{8})\./.exec(mail?.text ?? '')?.[1] ?? ''
    expect(code).not.toBe('')
    // The pattern itself is no code.
    const buy = { firstName: 'Gus', address: 'gus@postbox.test' }
    const rest = await shop.get(await shop.leads(await shop.get('/p/half'), 'on', buy))
    const wrong = await shop.press(rest, 'update', { coupon: 'COME-BACK' })
    expect('faults' in wrong && wrong.faults).toEqual(['This coupon cannot be used here.'])
    // The link of his own mail brings cart and code to any device.
    const back = await lookAt(`${on.install.url}/cart?me=${markOf(gus)}`)
    const form = await shop.get(back.headers.get('location') ?? '')
    expect([form.markup.includes(code), form.markup.includes('€3.50')]).toEqual([true, true])
    // Somebody else may not use it, by hand or by the link.
    const other = await shop.get(
      await shop.leads(await shop.get(`/p/half?coupon=${code}`), 'on', {
        firstName: 'Ivy',
        address: 'ivy@postbox.test',
      }),
    )
    expect(other.faults).toEqual(['This coupon cannot be used here.'])
    await typeCard(form.card ?? '', 'approved')
    await shop.follow(await shop.leads(form, 'pay', { coupon: code }))
    expect((await shop.orderOf('gus@postbox.test')).total).toBe(350)
    const again = await shop.get(await shop.leads(await shop.get('/p/half'), 'on', buy))
    const used = await shop.press(again, 'update', { coupon: code })
    expect('faults' in used && used.faults).toEqual(['This coupon has been used up.'])
    // Two days on, that of the other is over.
    const late = await shop.get(
      await shop.leads(await shop.get(`/p/half?me=${markOf(hal)}`), 'on', {
        firstName: 'Hal',
        address: 'hal@postbox.test',
      }),
    )
    const hals = await on.q.row<{ code: string }>('select code from coupon_code where contact_id = $1', [hal])
    on.install.clock.move(2 * 24 * 60 * minute)
    const over = await shop.press(late, 'update', { coupon: hals?.code ?? '' })
    expect('faults' in over && over.faults).toEqual(['This coupon cannot be used here.'])
  })

  it('comes by a link to whoever has none: one that all may type', async () => {
    await on.mara.post('/coupons', { code: 'SPRING', off: { by: 'amount', amount: 200 } })
    const first = await shop.get('/p/half?coupon=spring')
    const rest = await shop.get(
      await shop.leads(first, 'on', { firstName: 'Jo', address: 'jo@postbox.test' }),
    )
    expect(rest.markup).toContain('you save €2')
  })

  it('is not found by trying addresses, with a cart or without one', async () => {
    const tried = await Promise.all(
      Array.from({ length: 12 }, (_, n) => lookAt(`${on.install.url}/p/half?coupon=guess-${n}`)),
    )
    expect(tried.map(({ status }) => status)).toContain(429)
    // One that is good is not looked at meanwhile, by an address or by paying; who tries none is held up by nothing.
    const rest = await shop.get(
      await shop.leads(await shop.get('/p/half'), 'on', { firstName: 'Jo', address: 'guesses@postbox.test' }),
    )
    expect(rest.markup).not.toContain('you save')
    for (const does of ['update', 'pay'] as const) {
      const pressed = await shop.press(rest, does, { coupon: 'SPRING' })
      expect('faults' in pressed && pressed.faults).toContain(
        'Too many coupons were tried. Wait a minute, then try again.',
      )
    }
    expect((await lookAt(`${on.install.url}/p/half`)).status).toBe(200)
  })
})
