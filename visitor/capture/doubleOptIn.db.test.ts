import { beforeEach, describe, expect, it } from 'vitest'
import type { FormNumbers } from '../../contract/forms.ts'
import { formNumbers } from '../../server/capture/formNumbers.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { endConfirmations, remindWaiting } from '../../server/capture/waiting.ts'
import { formPage } from '../../testing/formPage.ts'
import { made } from '../../testing/people.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor } from '../../testing/visitor.ts'

const on = useInstall()
const day = 86_400_000
let number = 0
let address = ''
beforeEach(() => {
  address = `optin${(number += 1)}@postbox.test`
})
const typed = (more: Record<string, string> = {}) => ({ address, firstname: 'Orla', consent: 'yes', ...more })

async function person() {
  const found = await on.q.row<{ id: number }>('select id from contact where address_key = $1', [address])
  return found ? on.view(found.id) : null
}
const tagsNow = async (): Promise<string[]> => ((await person())?.tags ?? []).map(({ name }) => name).sort()
const mails = () => on.install.mail.standins!.mailbox.list({ to: address })
const linkOf = async (count = 1): Promise<string> =>
  /https?:\S+\/confirm\/\S+/.exec((await mailFor(on.install, address, count)).at(-1)!.text)![0]
const press = (link: string, body = '') =>
  fetch(link, {
    method: 'POST',
    redirect: 'manual',
    headers: { 'content-type': 'application/x-www-form-urlencoded' },
    body,
  })

let tags: { waiting: number; confirmed: number } | undefined
async function newsletter(confirm: object = {}) {
  const tag = async (name: string): Promise<number> =>
    (await made<{ id: number }>(on.mara.post('/tags', { name, description: '' }))).id
  tags ??= { waiting: await tag('Waiting'), confirmed: await tag('Confirmed') }
  return formPage(on, {
    confirm: { when: 'always', waitingTag: tags.waiting, confirmedTag: tags.confirmed, ...confirm },
    actions: [{ does: 'addTag', tag: on.install.ids.tag }],
  })
}

describe('somebody new who has to confirm', () => {
  it('waits with a tag and gets nothing else; the click makes it true, with proof', async () => {
    const page = await newsletter()
    const answer = await page.send(typed())
    expect(answer.markup).toContain('One more step: look in your mailbox')
    const link = await linkOf()
    expect(await person()).toMatchObject({ marketingState: 'waiting', firstName: '', consents: [] })
    expect(await tagsNow()).toEqual(['Waiting'])
    // Scanners of mail open links: that changes nothing.
    expect(await (await fetch(link)).text()).toContain('Yes, that was me')
    expect((await person())!.marketingState).toBe('waiting')

    on.install.clock.move(20 * 60_000)
    expect(await (await press(link)).text()).toContain('Thank you')
    expect(await tagsNow()).toEqual(['Confirmed', 'Template pack'])
    const after = (await person())!
    expect(after).toMatchObject({ marketingState: 'subscribed', firstName: 'Orla' })
    expect(after.journal.map(({ title }) => title)).toContain('confirmed the address')
    const [proof] = await on.q.rows<Record<string, unknown>>(
      `select wording, form_version, page_version, confirmed_at, wording_id is not null worded, host(sender_ip) ip
       from consent where contact_id = $1`,
      [after.id],
    )
    expect(proof).toEqual({
      wording: 'Yes, you may write to me. I can stop it at any time.',
      form_version: 1,
      page_version: 1,
      confirmed_at: new Date(on.install.clock.now()),
      worded: true,
      ip: '127.0.0.1',
    })
    // A second press counts as a click, and as nothing else.
    await press(link)
    const numbers = await on.mara.get<FormNumbers>(`/forms/${page.form}/numbers`)
    expect(numbers.confirmations).toEqual([
      { source: '', asked: 1, confirmed: 1, clicks: 2, forgotten: 0, median: 20 * 60_000 },
    ])
    expect((await person())!.consents).toHaveLength(1)
  })

  it('confirms by the click itself where the form says so, but not by a scanner', async () => {
    const page = await newsletter({ click: 'atOnce' })
    await page.send(typed())
    const link = await linkOf()
    await fetch(link, { headers: { 'user-agent': 'mail-scanner-bot/1.0' } })
    expect((await person())!.marketingState).toBe('waiting')
    await fetch(link, { headers: { 'user-agent': 'Mozilla/5.0 Chrome/140' } })
    expect((await person())!.marketingState).toBe('subscribed')
  })

  it('can ask for the email three times more, and is told the same as who is known already', async () => {
    const page = await newsletter()
    const ask = async (path: string): Promise<string> =>
      (await (await fetch(`${on.install.url}${path}`, { method: 'POST' })).text()).replace(
        /nonce="[^"]+"/,
        '',
      )
    const againIn = (markup: string): string => /action="(\/confirm-again\/[^"]+)"/.exec(markup)![1]!
    const again = againIn((await page.send(typed())).markup)
    await mailFor(on.install, address)
    const answers = []
    for (let i = 0; i < 5; i += 1) answers.push(await ask(again))
    expect(new Set(answers).size).toBe(1)
    await mailFor(on.install, address, 4)
    await new Promise((done) => setTimeout(done, 300))
    expect(mails()).toHaveLength(4)

    address = `subscribed-${address}`
    await on.add(address, { consent: 'at the fair' })
    const known = await page.send(typed())
    expect(known.markup).toContain('One more step: look in your mailbox')
    expect(await ask(againIn(known.markup))).toBe(answers[0])
    expect(mails()).toEqual([])
    expect((await fetch(`${on.install.url}/confirm-again/made.up`, { method: 'POST' })).status).toBe(404)
  })

  it('is reminded once after a day, where the form says so', async () => {
    const page = await newsletter({ remind: true })
    await page.send(typed())
    await mailFor(on.install, address)
    await remindWaiting(on.install.platform)
    on.install.clock.move(day + 1)
    await remindWaiting(on.install.platform)
    await mailFor(on.install, address, 2)
    on.install.clock.move(day)
    await remindWaiting(on.install.platform)
    await new Promise((done) => setTimeout(done, 300))
    expect(mails()).toHaveLength(2)
  })

  it('gets a new link for one that has expired', async () => {
    const page = await newsletter()
    await page.send(typed())
    const link = await linkOf()
    on.install.clock.move(8 * day)
    const old = await fetch(link)
    expect([old.status, (await old.text()).includes('Send me a new link')]).toEqual([410, true])
    expect((await press(link)).status).toBe(410)
    expect((await press(link, 'again=yes')).status).toBe(200)
    expect((await press(await linkOf(2))).status).toBe(200)
    expect((await person())!.marketingState).toBe('subscribed')
  })

  it('leads to a page of thanks when the form does; the link of who was erased leads nowhere', async () => {
    const thanks = { to: 'path', path: '/p/template-pack/thanks' } as const
    const page = await newsletter({ next: thanks })
    await page.send(typed())
    const link = await linkOf()
    expect((await press(link)).headers.get('location')).toBe('/p/template-pack/thanks')
    await on.mara.post(`/people/${(await person())!.id}/erase`)
    expect((await press(link)).status).toBe(404)
  })
})

describe('whether somebody has to confirm', () => {
  it('is decided by country, as typed or by the browser', async () => {
    const page = await formPage(on, { confirm: { when: 'byCountry', countries: ['DE'] } })
    const asked = async (language: string): Promise<boolean> => {
      address = `country${(number += 1)}@postbox.test`
      return (await page.send(typed(), { 'accept-language': language })).markup.includes('One more step')
    }
    expect([await asked('de-DE,de;q=0.9'), await asked('en-IE'), await asked('en')]).toEqual([
      true,
      false,
      true,
    ])
  })

  it('is not asked of who comes by a link of their own mail', async () => {
    const page = await newsletter()
    const id = await on.add(address, { firstName: 'Ada' })
    const mark = readerMark(on.install.platform, id)
    const markup = await page.open(`?me=${mark}`)
    const hidden = [...markup.matchAll(/name="(token|form|version)" value="([^"]+)"/g)]
    const answer = await fetch(`${page.url}?me=${mark}`, {
      method: 'POST',
      body: new URLSearchParams({ ...Object.fromEntries(hidden.map(([, a, b]) => [a!, b!])), ...typed() }),
    })
    expect(await answer.text()).toContain('Look into your mailbox')
    expect((await on.view(id)).marketingState).toBe('subscribed')
  })
})

// Last: nobody is signed in any more by then.
describe('somebody new who never confirms', () => {
  it('is erased after 30 days, counted and not named', async () => {
    const page = await newsletter()
    const state = async () =>
      (
        await on.q.row<{ state: string }>(
          'select marketing_state state from contact where address_key = $1',
          [address],
        )
      )?.state
    await page.open('?utm_source=fair')
    await page.send(typed())
    await linkOf()
    on.install.clock.move(29 * day)
    await endConfirmations(on.install.platform)
    expect(await state()).toBe('waiting')
    on.install.clock.move(2 * day)
    await endConfirmations(on.install.platform)
    expect(await state()).toBeUndefined()
    const { confirmations } = await formNumbers(on.q, page.form, on.install.clock.now())
    expect(confirmations).toEqual([
      { source: 'fair', asked: 1, confirmed: 0, clicks: 0, forgotten: 1, median: null },
    ])
    expect(JSON.stringify(await on.q.rows('select * from confirmation_forgotten'))).not.toContain('optin')
  })
})
