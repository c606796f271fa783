import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience/people.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn, type Marketer } from '../../testing/marketer.ts'
import { lookAt } from '../../testing/publishing.ts'
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

const jobsLeft = async (): Promise<number> =>
  (await install.platform.database.row<{ count: number }>(
    'select count(*) count from graphile_worker.jobs where run_at <= now()',
  ))!.count

const press = (url: string, fields: [string, string][]) =>
  fetch(url, { method: 'POST', body: new URLSearchParams(fields), redirect: 'manual' })

describe('the preferences page', () => {
  it('keeps opens and clicks from being counted, by the wish of the person', async () => {
    const { url, view } = await signUp('private@postbox.test')
    expect(await (await press(url, [['do', 'untrack']])).text()).toContain('not counted from now on')
    const [mail] = await mailFor(install, 'private@postbox.test')
    const link = /http\S+\/go\/\S+/.exec(mail!.text)![0]
    const seen = /http[^"]+\/seen\/[^"]+/.exec(mail!.html)![0]
    for (const each of [seen, link]) expect((await lookAt(each)).status).toBeLessThan(400)
    const journal = JSON.stringify((await view()).journal)
    expect(journal).toContain('counting of opens and clicks')
    expect(journal).not.toMatch(/opened|clicked/)
    await press(url, [['do', 'track']])
    await lookAt(link)
    expect(JSON.stringify((await view()).journal)).toContain('clicked')
  })

  it('is reached from every email, shows what is chosen, and stays out of search engines', async () => {
    const { url } = await signUp('reader@postbox.test')
    const answer = await fetch(url)
    const page = await answer.text()
    expect(answer.headers.get('x-robots-tag')).toBe('noindex')
    expect(page).toContain('preferences of reader@postbox.test')
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
    expect(await (await fetch(link)).text()).toContain('Use after@postbox.test from now on?')
    expect((await view()).address).toBe('before@postbox.test')
    await press(link, [])
    expect(await view()).toMatchObject({
      address: 'after@postbox.test',
      otherAddresses: ['before@postbox.test'],
    })
  })

  it('leaves an address with whoever has it: the click is written down, and the marketer can merge', async () => {
    const first = await signUp('two@postbox.test')
    const other = await signUp('one@postbox.test')
    await press(first.url, [
      ['do', 'address'],
      ['address', 'one@postbox.test'],
    ])
    const mails = await mailFor(install, 'one@postbox.test', 2)
    const answer = await press(/https?:\S+\/new-address\/\S+/.exec(mails[1]!.text)![0], [])
    expect(answer.status).toBe(409)
    expect(await answer.text()).toContain('This address is already on our list')
    const [mine, theirs] = [await first.view(), await other.view()]
    expect(mine).toMatchObject({ address: 'two@postbox.test', otherAddresses: [] })
    expect(mine.journal.map(({ title }) => title)).toContain(
      'asked to use another person’s address, “one@postbox.test”',
    )
    expect((await mara.post(`/people/${theirs.id}/merge`, { other: mine.id })).status).toBe(204)
    // Links in mail that was sent before lead to who is left.
    expect(await (await fetch(first.url)).text()).toContain('preferences of one@postbox.test')
  })

  it('asks about a new address three times a day at most, for one person and for one address', async () => {
    const { url } = await signUp('often@postbox.test')
    const ask = (where: string, address: string) =>
      press(where, [
        ['do', 'address'],
        ['address', address],
      ])
    const statuses = []
    for (let i = 0; i < 4; i += 1) statuses.push((await ask(url, 'victim@postbox.test')).status)
    expect(statuses).toEqual([200, 200, 200, 429])
    const second = await signUp('also@postbox.test')
    // The answer is that of any other address: nobody learns what others have asked for.
    expect((await ask(second.url, 'victim@postbox.test')).status).toBe(200)
    expect(await mailFor(install, 'victim@postbox.test', 3)).toHaveLength(3)
    await eventually(async () => (await jobsLeft()) === 0)
    expect(await mailFor(install, 'victim@postbox.test', 3)).toHaveLength(3)
    install.clock.move(86_400_001)
    expect((await ask(url, 'victim@postbox.test')).status).toBe(200)
  })

  it('changes the address by one click of a link, and by no second one', async () => {
    const { url, view } = await signUp('once@postbox.test')
    await press(url, [
      ['do', 'address'],
      ['address', 'twice@postbox.test'],
    ])
    const [mail] = await mailFor(install, 'twice@postbox.test')
    const link = /https?:\S+\/new-address\/\S+/.exec(mail!.text)![0]
    const answers = await Promise.all([press(link, []), press(link, []), press(link, [])])
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 404, 404])
    expect((await view()).address).toBe('twice@postbox.test')
    expect((await fetch(link)).status).toBe(404)
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
    ).toContain('Your data is deleted')
    expect((await fetch(url)).status).toBe(404)
  })

  it('tells days on the business’s calendar, not on the server’s', async () => {
    const { url, view } = await signUp('calendar@postbox.test')
    // 23:30 UTC on 3 March 2027 is 4 March in Dublin only in summer time, and 4 March in Kathmandu (IANA database).
    await install.platform.database.rows(`update business set zone = 'Asia/Kathmandu'`)
    await install.platform.database.rows('update contact set paused_until = $2 where id = $1', [
      (await view()).id,
      new Date('2027-03-03T23:30:00Z'),
    ])
    expect(await (await fetch(url)).text()).toContain('No news or offers until 4 March 2027')
    await install.platform.database.rows(`update business set zone = 'Europe/Dublin'`)
  })

  it('opens for nobody with a made-up or foreign link, and takes no made-up button', async () => {
    const { url } = await signUp('guarded@postbox.test')
    expect((await fetch(url.replace('/preferences/', '/new-address/'))).status).toBe(404)
    expect((await fetch(`${url}x`)).status).toBe(404)
    expect((await press(url, [['do', 'something']])).status).toBe(422)
  })
})
