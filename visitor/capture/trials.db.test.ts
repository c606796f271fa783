import { describe, expect, it } from 'vitest'
import type { FormNumbers, FormTrial } from '../../contract/forms.ts'
import { computer, publishForm } from '../../testing/publishing.ts'
import { formPage } from '../../testing/formPage.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ env: { NURTEL_LEAST_FORM_TIME: '1500' } })

const asBrowser = { 'user-agent': computer }
const valueIn = (markup: string, name: string): string =>
  new RegExp(`name="${name}"[^>]* value="([^"]*)"`).exec(markup)?.[1] ?? ''

describe('a form tried as somebody in rehearsal', () => {
  it('is filled in with who they are, does all that it does, and is counted nowhere', async () => {
    const form = await publishForm(on, { known: 'ask' })
    const none = await on.mara.get<FormTrial[]>(`/forms/${form}/trials`)
    expect(none).toEqual([])
    const ada = await on.add('ada@rehearsal.example', { firstName: 'Ada', lastName: 'Finch' })
    await on.mara.post(`/people/${ada}/rehearsal`, { on: true })
    await on.add('orla@postbox.test', { firstName: 'Orla' })

    const trials = await on.mara.get<FormTrial[]>(`/forms/${form}/trials`)
    expect(trials.map(({ contact, name }) => [contact, name])).toEqual([[ada, 'Ada Finch']])
    const url = trials[0]!.url
    const markup = await (
      await eventually(async () => {
        const answer = await fetch(url, { headers: asBrowser })
        return answer.ok && answer
      })
    ).text()
    expect(markup).toContain('As Ada, in rehearsal: this is counted nowhere.')
    expect([valueIn(markup, 'firstname'), valueIn(markup, 'address')]).toEqual([
      'Ada',
      'ada@rehearsal.example',
    ])

    on.install.clock.move(2_000)
    const hidden = Object.fromEntries(
      ['form', 'version', 'step', 'token'].map((name) => [name, valueIn(markup, name)]),
    )
    const sent = await fetch(url, {
      method: 'POST',
      headers: asBrowser,
      body: new URLSearchParams({ ...hidden, address: 'ada@rehearsal.example', consent: 'yes' }),
    })
    expect([sent.status, (await sent.text()).includes('Look into your mailbox')]).toEqual([200, true])
    const journal = (await on.view(ada)).journal.map(({ title }) => title)
    expect(journal.some((title) => title.startsWith('submitted the form'))).toBe(true)
    const begun = new URLSearchParams({ form: String(form), event: 'begun', at: url })
    await fetch(`${on.install.url}/forms/count`, { method: 'POST', headers: asBrowser, body: begun })

    // A stranger is counted; by then what came before would be, too.
    await fetch(url.split('?')[0]!, { headers: asBrowser })
    const { places } = await eventually(async () => {
      const numbers = await on.mara.get<FormNumbers>(`/forms/${form}/numbers`)
      return numbers.places.length > 0 && numbers
    })
    expect(places).toEqual([{ place: 'elsewhere', seen: 1, begun: 0, sent: 0 }])
  })
})

describe('a form that is sent quicker than people write', () => {
  it('is shown again with all that was typed, and taken a moment later', async () => {
    const page = await formPage(on)
    await page.open()
    const typed = { address: 'quick@postbox.test', firstname: 'Quick', consent: 'yes' }
    const quick = await page.send(typed)
    expect(quick.status).toBe(409)
    expect(quick.markup).toContain('quicker than people write')
    expect(quick.markup).toContain('value="quick@postbox.test"')
    expect(await on.q.row(`select from contact where address_key = 'quick@postbox.test'`)).toBeUndefined()
    on.install.clock.move(2_000)
    expect((await page.send(typed)).status).toBe(200)
    expect(await on.q.row(`select from contact where address_key = 'quick@postbox.test'`)).toBeDefined()
  })
})
