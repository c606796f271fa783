import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn, type Marketer } from '../../testing/marketer.ts'
import { made } from '../../testing/people.ts'
import { mailFor, postForm } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

let install: TestInstall
let mara: Marketer
let newsletter: number
beforeAll(async () => {
  install = await openInstall()
  await install.startWorker()
  mara = await signedIn(install.url)
  newsletter = (
    await made<{ id: number }>(mara.post('/topics', { name: 'Newsletter', description: 'Once a month' }))
  ).id
  await made(mara.post('/topics', { name: 'Session news' }))
})
afterAll(() => install.close())

/** A new person with the address of their preferences page, as their email has it. */
async function signUp(address: string): Promise<{ url: string; view: () => Promise<PersonView> }> {
  await postForm(install.url, { address })
  const [mail] = await mailFor(install, address)
  const url = /https?:\S+\/preferences\/\S+/.exec(mail!.text)![0]
  const { id } = (await install.platform.database.row<{ id: number }>(
    'select id from contact where address_key = $1',
    [address],
  ))!
  return { url, view: () => mara.get<PersonView>(`/people/${id}`) }
}

const press = (url: string, fields: [string, string][]) =>
  fetch(url, { method: 'POST', body: new URLSearchParams(fields), redirect: 'manual' })

describe('the preferences page', () => {
  it('is reached from every email, shows what is chosen, and stays out of search engines', async () => {
    const { url } = await signUp('reader@postbox.test')
    const answer = await fetch(url)
    const page = await answer.text()
    expect(answer.headers.get('x-robots-tag')).toBe('noindex')
    expect(page).toContain('belongs to reader@postbox.test')
    expect(page).toContain('Once a month')
  })

  it('writes down topics that are chosen and left, with their words', async () => {
    const { url, view } = await signUp('topics@postbox.test')
    expect(
      await (
        await press(url, [
          ['do', 'topics'],
          ['topic', String(newsletter)],
        ])
      ).text(),
    ).toContain('Saved')
    expect((await view()).topics.map(({ name }) => name)).toEqual(['Newsletter'])
    await press(url, [['do', 'topics']])
    const after = await view()
    expect(after.topics).toEqual([])
    expect(after.consents.slice(0, 2).map(({ given, wording }) => [given, wording])).toEqual([
      [false, 'Newsletter: Once a month'],
      [true, 'Newsletter: Once a month'],
    ])
  })

  it('pauses marketing for 30 days, and what they asked for still comes', async () => {
    const { url, view } = await signUp('pause@postbox.test')
    await press(url, [['do', 'pause']])
    expect(Date.parse((await view()).pausedUntil ?? '') - install.clock.now()).toBe(30 * 86_400_000)
    install.clock.move(2 * 86_400_000)
    await eventually(async () =>
      (await view()).journal.some(({ reason }) => reason.includes('the person has paused all email')),
    )
    expect(await mailFor(install, 'pause@postbox.test')).toHaveLength(1)
    await press(url, [['do', 'resume']])
    expect((await view()).pausedUntil).toBeNull()
  })

  it('changes the address only once the new one has said yes', async () => {
    const { url, view } = await signUp('before@postbox.test')
    expect(
      (
        await press(url, [
          ['do', 'address'],
          ['address', 'no address'],
        ])
      ).status,
    ).toBe(422)
    await press(url, [
      ['do', 'address'],
      ['address', 'after@postbox.test'],
    ])
    const [mail] = await mailFor(install, 'after@postbox.test')
    const link = /https?:\S+\/new-address\/\S+/.exec(mail!.text)![0]
    expect(await (await fetch(link)).text()).toContain('Write to after@postbox.test from now on?')
    expect((await view()).address).toBe('before@postbox.test')
    await press(link, [])
    expect(await view()).toMatchObject({
      address: 'after@postbox.test',
      otherAddresses: ['before@postbox.test'],
    })
  })

  it('merges with whoever is on the list under the new address', async () => {
    const first = await signUp('two@postbox.test')
    await signUp('one@postbox.test')
    await press(first.url, [
      ['do', 'address'],
      ['address', 'one@postbox.test'],
    ])
    const mails = await mailFor(install, 'one@postbox.test', 2)
    await press(/https?:\S+\/new-address\/\S+/.exec(mails[1]!.text)![0], [])
    expect(await first.view()).toMatchObject({
      address: 'one@postbox.test',
      otherAddresses: ['two@postbox.test'],
    })
  })

  it('unsubscribes from all, hands out the data, and erases only who is sure', async () => {
    const { url, view } = await signUp('leaves@postbox.test')
    await press(url, [['do', 'unsubscribe']])
    expect((await view()).marketingState).toBe('unsubscribed')
    const data = (await (await press(url, [['do', 'data']])).json()) as { address: string }
    expect(data.address).toBe('leaves@postbox.test')
    expect((await press(url, [['do', 'erase']])).status).toBe(422)
    expect(
      await (
        await press(url, [
          ['do', 'erase'],
          ['sure', 'yes'],
        ])
      ).text(),
    ).toContain('You are forgotten')
    expect((await fetch(url)).status).toBe(404)
  })

  it('opens for nobody with a made-up or foreign link, and takes no made-up button', async () => {
    const { url } = await signUp('guarded@postbox.test')
    expect((await fetch(url.replace('/preferences/', '/new-address/'))).status).toBe(404)
    expect((await fetch(`${url}x`)).status).toBe(404)
    expect((await press(url, [['do', 'something']])).status).toBe(422)
  })
})
