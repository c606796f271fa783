import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import ICAL from 'ical.js'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { postForm, tokenOf } from '../../testing/visitor.ts'

let install: TestInstall
beforeAll(async () => {
  install = await openInstall()
})
afterAll(() => install.close())

const contacts = () =>
  install.platform.database.rows<{
    id: number
    address: string
    first_name: string
    marketing_state: string
  }>('select id, address, first_name, marketing_state from contact order by id')
const activities = (contact: number) =>
  install.platform.database.rows<{ kind: string; details: Record<string, unknown> }>(
    'select kind, details from activity where contact_id = $1 order by id',
    [contact],
  )

describe('the capture page', () => {
  it('is complete without a script, under 30 kB, and listed by search engines', async () => {
    const answer = await fetch(`${install.url}/p/template-pack`)
    const page = await answer.text()
    expect(answer.status).toBe(200)
    expect(Buffer.byteLength(page)).toBeLessThan(30_000)
    // Nothing but our own script, which it does without.
    expect(page.match(/<script[^>]*>/gi)).toEqual([
      expect.stringMatching(/^<script src="\/assets\/page-\w+\.js" defer>$/),
    ])
    expect(page).toContain('Sew your first pamphlet tonight')
    expect(page).toContain('now and then, news about bookbinding')
    expect(answer.headers.get('x-robots-tag')).toBeNull()
    expect(answer.headers.get('content-security-policy')).toContain("default-src 'none'")
  })

  it('leads to a thank-you page that search engines leave out', async () => {
    const answer = await fetch(`${install.url}/p/template-pack/thanks`)
    const page = await answer.text()
    expect(answer.headers.get('x-robots-tag')).toBe('noindex')
    expect(page).toContain('spam and promotions folders')
    expect(page).toContain('/contact-card.vcf')
    expect(page).toContain('href="/p/paper-grain"')
  })

  it('hands out the sender as a vCard that an independent reader understands', async () => {
    const answer = await fetch(`${install.url}/contact-card.vcf`)
    expect(answer.headers.get('content-type')).toContain('text/vcard')
    const card = new ICAL.Component(ICAL.parse(await answer.text()) as unknown[])
    expect(card.getFirstPropertyValue('version')).toBe('4.0')
    expect(card.getFirstPropertyValue('email')).toBe('mara@quillfeather.example')
    expect(card.getFirstPropertyValue('fn')).toBe('Mara Ellery')
  })
})

describe('a form that was sent', () => {
  it('makes contact, consent, tag and activity together, with where the visit came from', async () => {
    const answer = await postForm(install.url, {
      address: 'Niamh@Postbox.test',
      utm_source: 'makers-letter',
      utm_medium: 'email',
    })
    expect(answer.status).toBe(303)
    expect(answer.headers.get('location')).toBe('/p/template-pack/thanks')

    const niamh = (await contacts()).find(({ address }) => address === 'Niamh@Postbox.test')!
    expect(niamh.marketing_state).toBe('subscribed')
    const done = await activities(niamh.id)
    expect(done.map(({ kind }) => kind)).toEqual(['contactAdded', 'consentGiven', 'tagAdded', 'formSent'])
    expect(done.at(-1)?.details).toEqual({
      form: install.ids.form,
      page: install.ids.page,
      source: { utm_source: 'makers-letter', utm_medium: 'email' },
    })
    const [consent] = await install.platform.database.rows<Record<string, unknown>>(
      'select wording, source, host(sender_ip) ip, at from consent where contact_id = $1',
      [niamh.id],
    )
    expect(consent).toMatchObject({
      source: 'Template pack',
      ip: '127.0.0.1',
      at: new Date(install.clock.now()),
    })
    expect(consent?.wording).toMatch(/^Yes, send me the templates/)
  })

  it('knows the same address in other letters as the same person, whose name nobody else changes', async () => {
    await postForm(install.url, { address: 'fara@postbox.test', firstName: 'Fara' })
    await postForm(install.url, { address: 'FARA@Postbox.TEST', firstName: 'Farah' })
    await postForm(install.url, { address: 'fara@postbox.test', firstName: '' })
    const same = (await contacts()).filter(({ address }) => address.toLowerCase() === 'fara@postbox.test')
    expect(same).toMatchObject([{ address: 'fara@postbox.test', first_name: 'Fara' }])
  })

  it('counts once when it is sent twice, even at the same moment', async () => {
    const token = await tokenOf(install.url)
    const fields = { address: 'twice@postbox.test', token }
    const answers = await Promise.all([1, 2, 3].map(() => postForm(install.url, fields)))
    expect(answers.map(({ status }) => status)).toEqual([303, 303, 303])
    const twice = (await contacts()).find(({ address }) => address === 'twice@postbox.test')!
    const sent = (await activities(twice.id)).filter(({ kind }) => kind === 'formSent')
    expect(sent).toHaveLength(1)
  })
})

describe('a form that cannot be taken', () => {
  it.each([
    ['an address that is none', { address: 'orla at postbox' }, 422, 'should look like name@example.com'],
    ['no address', { address: '' }, 422, 'Please write your email address'],
    ['no consent', { consent: undefined }, 422, 'Please tick the box'],
    ['a robot in the hidden field', { website: 'http://spam.test' }, 422, 'press the button again'],
    [
      'a token from elsewhere',
      { token: 'bm90LW1pbmU.AAAAAAAAAAAAAAAAAAAAAA' },
      409,
      'press the button again',
    ],
    ['no token', { token: undefined }, 409, 'press the button again'],
  ])('says what to do about %s and keeps what was typed', async (_what, fields, status, words) => {
    const before = (await contacts()).length
    const answer = await postForm(install.url, { firstName: 'Wilhelmina', utm_source: 'shelf', ...fields })
    const page = await answer.text()
    expect(answer.status).toBe(status)
    expect(page).toContain(words)
    expect(page).toContain('value="Wilhelmina"')
    expect(page).toContain('name="utm_source" value="shelf"')
    expect((await contacts()).length).toBe(before)
  })

  it('can be sent again with the token that it came back with', async () => {
    const page = await (await postForm(install.url, { address: 'late@postbox.test', token: 'x.y' })).text()
    const token = /name="token" value="([^"]+)"/.exec(page)?.[1]
    expect((await postForm(install.url, { address: 'late@postbox.test', token })).status).toBe(303)
  })

  it('is asked for once more when the page was open for more than a day', async () => {
    const token = await tokenOf(install.url)
    install.clock.move(25 * 3_600_000)
    expect((await postForm(install.url, { token })).status).toBe(409)
  })

  it('shows what was typed as text, never as markup', async () => {
    const page = await (await postForm(install.url, { firstName: '"><script>alert(1)</script>' })).text()
    expect(page).not.toContain('<script>alert')
    expect(page).toContain('&quot;&gt;&lt;script&gt;')
  })

  it('is refused when it is too large, and nothing is stored', async () => {
    const answer = await postForm(install.url, { firstName: 'x'.repeat(50_000) })
    expect(answer.status).toBe(413)
    expect(await answer.text()).toContain('shorten your text')
  })
})

describe('addresses with nothing behind them', () => {
  it.each([
    '/p/no-such-page',
    '/p/template-pack/nowhere',
    '/files/abc.def',
    '/go/abc.def',
    '/unsubscribe/abc.def',
    '/wp',
  ])('answers 404 with a page for %s', async (path) => {
    const answer = await fetch(`${install.url}${path}`)
    expect(answer.status).toBe(404)
    expect(await answer.text()).toContain('Page not found')
  })
})
