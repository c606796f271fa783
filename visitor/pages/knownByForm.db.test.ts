import { beforeAll, describe, expect, it } from 'vitest'
import { composer } from '../../core/blocks/compose.ts'
import { recordActivities } from '../../server/audience/people/activities.ts'
import { numberedIds } from '../../testing/documents.ts'
import { lookAt, publish, publishForm } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { mailFor, tokenOf } from '../../testing/visitor.ts'

const on = useInstall()
const { block } = composer(numberedIds('known'))

beforeAll(async () => {
  await publish(on, 'greet', [block('heading', { words: "Hello, {first name or 'friend'}" })])
  await publish(on, 'ask', [block('form', { form: await publishForm(on) })])
})

/** Sends the form from a browser with these cookies. @returns the mark that it is given */
async function send(address: string, cookie = 'consent=yes'): Promise<string | undefined> {
  const form = /name="form" value="([^"]+)"/.exec(await (await lookAt(`${on.install.url}/p/ask`)).text())![1]!
  const token = await tokenOf(on.install.url, 'ask')
  const body = new URLSearchParams({ address, firstname: 'Orla', consent: 'yes', website: '', form, token })
  const headers = { cookie, 'user-agent': 'Mozilla/5.0 Chrome/140' }
  const answer = await fetch(`${on.install.url}/p/ask`, { method: 'POST', body, headers, redirect: 'manual' })
  expect(answer.status).toBeLessThan(400)
  return /reader=([^;]+)/.exec(answer.headers.get('set-cookie') ?? '')?.[1]
}

const greeting = async (mark: string | undefined): Promise<string> =>
  /Hello, \w+/.exec(
    await (await lookAt(`${on.install.url}/p/greet`, { cookie: `consent=yes; reader=${mark}` })).text(),
  )![0]

describe('a browser whose form put somebody on the list', () => {
  it('is theirs for an hour, after consent only', async () => {
    expect(await send('no-consent@postbox.test', '')).toBeUndefined()
    const mark = await send('new@postbox.test')
    expect(await greeting(mark)).toBe('Hello, Orla')
    on.install.clock.move(3_600_000)
    expect(await greeting(mark)).toBe('Hello, friend')
  })

  it('is not theirs when they were on the list before: anybody may type an address', async () => {
    await on.add('known@postbox.test', { firstName: 'Nadia' })
    expect(await send('known@postbox.test')).toBeUndefined()
  })

  it('is theirs no more once the person has followed a link of their mail', async () => {
    const mark = await send('owner@postbox.test')
    expect(await greeting(mark)).toBe('Hello, Orla')
    const contact = await on.q.row<{ id: number }>(
      `select id from contact where address = 'owner@postbox.test'`,
    )
    await recordActivities(on.q, [
      { contact: contact!.id, kind: 'addressConfirmed', at: on.install.clock.now(), details: { by: 'test' } },
    ])
    expect(await greeting(mark)).toBe('Hello, friend')
  })

  it('stays that of who is known already, whoever they add', async () => {
    const mark = await send('first@postbox.test')
    expect(await send('second@postbox.test', `consent=yes; reader=${mark}`)).toBeUndefined()
  })
})

describe('a browser in which somebody confirms their address', () => {
  it('is theirs, after consent', async () => {
    await on.add('asked@postbox.test', { firstName: 'Asta' })
    await on.q.rows(
      `update contact set marketing_state = 'unsubscribed' where address = 'asked@postbox.test'`,
    )
    await send('asked@postbox.test')
    const [mail] = await mailFor(on.install, 'asked@postbox.test')
    const link = /https?:\S+\/confirm\/\S+/.exec(mail!.text)![0]
    const confirm = (cookie: string): Promise<Response> =>
      fetch(link, { method: 'POST', headers: { cookie }, redirect: 'manual' })
    expect((await confirm('')).headers.get('set-cookie')).toBeNull()
    const mark = /reader=([^;]+)/.exec((await confirm('consent=yes')).headers.get('set-cookie')!)![1]
    expect(await greeting(mark)).toBe('Hello, Asta')
    on.install.clock.move(86_400_000)
    expect(await greeting(mark)).toBe('Hello, Asta')
  })
})
