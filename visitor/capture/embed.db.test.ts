import { Script } from 'node:vm'
import { gzipSync } from 'node:zlib'
import { beforeAll, describe, expect, it } from 'vitest'
import type { FormNumbers } from '../../contract/forms.ts'
import type { PopUpView } from '../../contract/popUps.ts'
import { composer } from '../../core/blocks/compose.ts'
import { popUpContent } from '../../core/capture/popUp.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { computer, publishForm } from '../../testing/publishing.ts'
import { mailFor } from '../../testing/visitor.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const { block, section, document } = composer(numberedIds('embedded'))
const elsewhere = 'https://paperloft.example'

let form = { id: 0, key: '' }
let popUp: PopUpView
const createPopUp = async (given: object): Promise<PopUpView> => {
  const content = popUpContent.parse({
    title: 'Wait',
    document: document(section([{ blocks: [block('form', { form: form.id })] }])),
    ...given,
  })
  const { id } = await made<{ id: number }>(on.mara.post('/pop-ups', { name: 'Wait', content }))
  await on.mara.post(`/pop-ups/${id}/publish`, { version: 1, revision: 1 })
  return on.mara.get<PopUpView>(`/pop-ups/${id}`)
}
const show = (key: string, query = '', headers: Record<string, string> = {}): Promise<Response> =>
  fetch(`${on.install.url}/forms/show/${key}${query}`, { headers: { 'user-agent': computer, ...headers } })
const send = async (
  key: string,
  typed: Record<string, string>,
  headers: Record<string, string> = {},
  way = 'send',
) => {
  const { html } = (await (await show(key, '', headers)).json()) as { html: string }
  const hidden = [...html.matchAll(/<input type="hidden" name="([^"]+)" value="([^"]*)"/g)]
  return fetch(`${on.install.url}/forms/${way}/${key}`, {
    method: 'POST',
    headers,
    body: new URLSearchParams({ ...Object.fromEntries(hidden.map(([, a, b]) => [a!, b!])), ...typed }),
  })
}

beforeAll(async () => {
  const id = await publishForm(on)
  form = { id, key: (await on.mara.get<{ key: string }>(`/forms/${id}`)).key }
  popUp = await createPopUp({ notTo: 'subscribed', elsewhere: true, opens: { afterSeconds: 3 } })
  await eventually(async () => (await show(popUp.key)).status === 200)
})

describe('a form on another site', () => {
  it('may be read by any site, is kept by nobody, and is sent from there with the site written down', async () => {
    const shown = await show(form.key, '', { origin: elsewhere })
    expect(shown.headers.get('access-control-allow-origin')).toBe('*')
    expect(shown.headers.get('access-control-allow-credentials')).toBeNull()
    expect(shown.headers.get('cache-control')).toBe('no-store')
    const answer = await send(
      form.key,
      { address: 'afar@postbox.test', consent: 'yes' },
      { origin: elsewhere },
    )
    expect(await answer.json()).toMatchObject({
      done: true,
      html: expect.stringContaining('Thank you') as string,
    })
    const [proof] = await on.q.rows(
      `select consent.site, consent.source from consent join contact on contact.id = contact_id where address_key = 'afar@postbox.test'`,
    )
    expect(proof).toEqual({ site: elsewhere, source: elsewhere })
    const numbers = await eventually(async () => {
      const { places } = await on.mara.get<FormNumbers>(`/forms/${form.id}/numbers`)
      const here = places.find(({ place }) => place === elsewhere)
      return here && here.seen > 0 && here
    })
    expect(numbers).toMatchObject({ sent: 1 })
  })

  it('knows nobody there: what that site can read holds nothing of anybody', async () => {
    const mark = readerMark(on.install.platform, await on.add('secret@postbox.test', { firstName: 'Sibyl' }))
    expect(await (await show(form.key, `?me=${mark}`)).text()).toContain('Sibyl')
    expect(await (await show(form.key, `?me=${mark}`, { origin: elsewhere })).text()).not.toContain('Sibyl')
  })

  it.each([
    ['nothing at all', {}],
    [
      'nonsense',
      { address: '<script>', consent: 'maybe', step: '99', version: '-1', token: 'x', form: '../..' },
    ],
    ['far too much', { address: 'x'.repeat(15_000) }],
  ])('that posts %s is told what is wrong, as data', async (_what, typed) => {
    const answer = await fetch(`${on.install.url}/forms/send/${form.key}`, {
      method: 'POST',
      headers: { origin: elsewhere },
      body: new URLSearchParams(typed),
    })
    const told = (await answer.json()) as { html: string; done: boolean }
    expect(told.done).toBe(false)
    expect(told.html).toContain('role="alert"')
    expect(told.html).not.toContain('<script>')
  })

  it.each(['send', 'frame'])(
    'only asks who has left the list, sent by %s: one email, the answer of anybody, and nothing else until they click',
    async (way) => {
      const address = `left-${way}@postbox.test`
      const id = await on.add(address, { firstName: 'Lena' })
      await on.q.rows(`update contact set marketing_state = 'unsubscribed' where id = $1`, [id])
      const typed = { firstname: 'Mallory', consent: 'yes' }
      const answers = [
        await send(form.key, { ...typed, address }, { origin: elsewhere }, way),
        await send(form.key, { ...typed, address: `new-${way}@postbox.test` }, { origin: elsewhere }, way),
      ]
      const [known, fresh] = await Promise.all(
        answers.map(async (answer) => [
          answer.status,
          (await answer.text()).replaceAll(/value="[^"]*"/g, ''),
        ]),
      )
      expect(known).toEqual(fresh)
      const [mail] = await mailFor(on.install, address, 1)
      expect(mail?.text).toMatch(/\/confirm\//)
      expect(await on.view(id)).toMatchObject({
        firstName: 'Lena',
        marketingState: 'waiting',
        tags: [],
      })
    },
  )

  it('whose key is none answers that there is no such form', async () => {
    for (const path of ['show', 'frame']) {
      const answer = await fetch(`${on.install.url}/forms/${path}/nothing`)
      expect(answer.status).toBe(404)
    }
    expect((await fetch(`${on.install.url}/forms/send/nothing`, { method: 'POST' })).status).toBe(404)
  })

  it('takes a token of no other form', async () => {
    const other = await publishForm(on)
    const { key } = await on.mara.get<{ key: string }>(`/forms/${other}`)
    await eventually(async () => (await show(key)).status === 200)
    const { html } = (await (await show(key)).json()) as { html: string }
    const token = /name="token" value="([^"]+)"/.exec(html)![1]!
    const answer = await send(form.key, { address: 'mixed@postbox.test', consent: 'yes', token })
    expect(await answer.json()).toMatchObject({
      done: false,
      html: expect.stringContaining('press the button again') as string,
    })
  })

  it('stands in a frame of any site; our own pages in none', async () => {
    const frame = await fetch(`${on.install.url}/forms/frame/${form.key}`)
    expect(frame.headers.get('content-security-policy')).toContain('frame-ancestors *')
    expect(frame.headers.get('x-frame-options')).toBeNull()
    const page = await fetch(`${on.install.url}/p/template-pack`)
    expect(page.headers.get('content-security-policy')).toContain("frame-ancestors 'none'")
    const sent = await fetch(`${on.install.url}/forms/frame/${form.key}`, {
      method: 'POST',
      body: new URLSearchParams({ address: '' }),
    })
    expect([sent.status, (await sent.text()).includes('Please write your email address')]).toEqual([
      422,
      true,
    ])
  })
})

describe('the line for other sites', () => {
  it('is small, the same for all, and knows the pop-ups that are meant for them', async () => {
    const own = await createPopUp({ opens: { afterSeconds: 3 } })
    const code = await eventually(async () => {
      const text = await (await fetch(`${on.install.url}/embed.js`)).text()
      return text.includes(popUp.key) && text
    })
    expect(code).not.toContain(own.key)
    expect(gzipSync(code).length).toBeLessThan(12 * 1024)
    const answer = await fetch(`${on.install.url}/embed.js`)
    expect(answer.headers.get('cross-origin-resource-policy')).toBe('cross-origin')
    expect(answer.headers.get('cache-control')).toBe('public, max-age=300')
  })

  it('cannot be broken out of by what somebody writes into a rule', async () => {
    await createPopUp({
      elsewhere: true,
      opens: { afterSeconds: 3 },
      sources: ['</script><script>alert(1)</script>'],
    })
    const code = await eventually(async () => {
      const text = await (await fetch(`${on.install.url}/embed.js`)).text()
      return text.includes('alert(1)') && text
    })
    expect(code).not.toContain('</script>')
    expect(() => new Script(code)).not.toThrow()
  })
})

describe('a pop-up', () => {
  const status = async (key: string, query = ''): Promise<number> => (await show(key, query)).status
  const person = async (given: object): Promise<string> =>
    `?me=${readerMark(on.install.platform, await on.add(`p${Math.random()}@postbox.test`.replace('0.', ''), given))}`

  it('is not shown to who is subscribed, or to who is known, as it says', async () => {
    const [subscribed, known] = [await person({ consent: 'at the fair' }), await person({})]
    expect([await status(popUp.key, subscribed), await status(popUp.key, known)]).toEqual([204, 200])
    const toStrangers = await createPopUp({ notTo: 'known' })
    const toAll = await createPopUp({ notTo: 'nobody' })
    await eventually(async () => (await status(toAll.key)) === 200)
    expect([await status(toStrangers.key, known), await status(toAll.key, subscribed)]).toEqual([204, 200])
  })

  it('is shown on its pages alone', async () => {
    const here = await createPopUp({
      pages: ['/p/offers/*', 'https://paperloft.example/*'],
      notPages: ['*/secret'],
    })
    await eventually(async () => (await status(here.key)) === 200)
    const at = (url: string): Promise<number> => status(here.key, `?at=${encodeURIComponent(url)}`)
    expect([
      await at('https://x.example/p/offers/one'),
      await at('https://x.example/p/offers/secret'),
      await at('https://x.example/p/other'),
      await at('https://paperloft.example/a'),
    ]).toEqual([200, 204, 204, 200])
  })

  it('goes with the pages on which it may open, by its rules alone', async () => {
    const page = await (await fetch(`${on.install.url}/p/template-pack`)).text()
    const rules = /data-rules="([^"]+)"/.exec(page)?.[1]?.replaceAll('&quot;', '"')
    const keys = (JSON.parse(rules ?? '[]') as { key: string }[]).map(({ key }) => key)
    expect(keys).toContain(popUp.key)
    expect(page).not.toContain('<dialog')
  })

  it('is ordered, and not deleted while a button opens it', async () => {
    const rows = await on.mara.get<{ id: number }[]>('/pop-ups')
    const ids = rows.map(({ id }) => id)
    await on.mara.post('/pop-ups/order', { popUps: ids.toReversed() })
    const after = await on.mara.get<{ id: number }[]>('/pop-ups')
    expect(after.map(({ id }) => id)).toEqual(ids.toReversed())
    expect((await on.mara.post('/pop-ups/order', { popUps: ids.slice(1) })).status).toBe(409)
    const content = {
      title: 'Opens it',
      listed: false,
      document: document(
        section([{ blocks: [block('button', { label: 'Open', target: { to: 'popUp', popUp: popUp.id } })] }]),
      ),
    }
    await made(on.mara.post('/pages', { name: 'Opens it', path: 'opens-it', purpose: 'any', content }))
    const refused = await on.mara.post(`/pop-ups/${popUp.id}/delete`)
    expect([refused.status, await refused.text()]).toEqual([409, expect.stringContaining('page Opens it')])
  })
})
