import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { buttonOf, mailFor, postForm } from '../../testing/visitor.ts'

const on = useInstall()

async function signUp(address: string) {
  await postForm(on.install.url, { address })
  const [mail] = await mailFor(on.install, address)
  const { rows } = await on.find({ search: address })
  const did = async (what: string): Promise<PersonView['journal']> =>
    (await on.view(rows[0]!.id)).journal.filter(({ title }) => title.startsWith(what))
  return { mail: mail!, did }
}

const follow = lookAt

describe('a countdown in an email', () => {
  it('is drawn for the minute in which it is asked for', async () => {
    const until = on.install.clock.now() + 3_600_000
    const ask = (of: string | number) => fetch(`${on.install.url}/countdown/${of}.png`)
    const answer = await ask(until)
    expect([answer.status, answer.headers.get('cache-control')]).toEqual([200, 'no-store'])
    const picture = Buffer.from(await answer.arrayBuffer())
    expect(await sharp(picture).metadata()).toMatchObject({ format: 'png', width: 640, height: 168 })
    on.install.clock.move(60_000)
    const later = Buffer.from(await (await ask(until)).arrayBuffer())
    expect(later.equals(picture)).toBe(false)
    expect((await ask('soon')).status).toBe(404)
    expect((await ask(-5)).status).toBe(404)
  })
})

describe('a link that is followed again and again', () => {
  it('is one click within a minute, also at the very same moment, and leads on every time', async () => {
    const { mail, did } = await signUp('clicks@postbox.test')
    const answers = await Promise.all(Array.from({ length: 6 }, () => follow(buttonOf(mail))))
    expect(answers.map(({ status }) => status)).toEqual(Array(6).fill(302))
    expect(await did('clicked')).toHaveLength(1)
    on.install.clock.move(59_000)
    await follow(buttonOf(mail))
    expect(await did('clicked')).toHaveLength(1)
    on.install.clock.move(2_000)
    await follow(buttonOf(mail))
    expect(await did('clicked')).toHaveLength(2)
  })

  it('and the file behind it are each one download within a minute', async () => {
    const { mail, did } = await signUp('file@postbox.test')
    const file = (await follow(buttonOf(mail))).headers.get('location')!
    await Promise.all([follow(file), follow(file), follow(file)])
    expect(await did('downloaded')).toHaveLength(1)
  })

  it('is refused when no reader would be so quick, for that message and from that source alone', async () => {
    const [one, other] = [await signUp('quick@postbox.test'), await signUp('slow@postbox.test')]
    const statuses = []
    for (let i = 0; i < 21; i += 1) statuses.push((await follow(buttonOf(one.mail))).status)
    expect(statuses.slice(0, 20)).not.toContain(429)
    expect(statuses[20]).toBe(429)
    expect((await follow(buttonOf(other.mail))).status).toBe(302)
  })
})

describe('the unsubscribe address of a message', () => {
  it('is limited as well', async () => {
    const { mail } = await signUp('leave@postbox.test')
    const address = /<(.+)>/.exec(mail.headers['list-unsubscribe'] ?? '')![1]!
    const statuses = []
    for (let i = 0; i < 21; i += 1)
      statuses.push(
        (await fetch(address, { method: 'POST', body: new URLSearchParams('List-Unsubscribe=One-Click') }))
          .status,
      )
    expect(statuses.slice(0, 20)).toEqual(Array(20).fill(200))
    expect(statuses[20]).toBe(429)
  })

  it('of somebody who was merged stops the mail of who they live on in', async () => {
    const { mail } = await signUp('gone@postbox.test')
    const gone = (await on.find({ search: 'gone@postbox.test' })).rows[0]!.id
    const kept = await on.add('stays@postbox.test', { consent: 'at the fair' })
    await on.mara.post(`/people/${kept}/merge`, { other: gone })
    const address = /<(.+)>/.exec(mail.headers['list-unsubscribe'] ?? '')![1]!
    expect(await (await fetch(address)).text()).toContain('Stop all email to stays@postbox.test?')
    await fetch(address, { method: 'POST', body: new URLSearchParams('List-Unsubscribe=One-Click') })
    expect((await on.view(kept)).marketingState).toBe('unsubscribed')
  })
})
