import { beforeAll, describe, expect, it } from 'vitest'
import type { PersonView } from '../../contract/audience/people.ts'
import type { JunctionPasses, JunctionView } from '../../contract/junctions.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { composer } from '../../core/blocks/compose.ts'
import type { JunctionContent } from '../../core/junctions/junction.ts'
import { passToken } from '../../server/junctions/passTokens.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { numberedIds } from '../../testing/documents.ts'
import { useEmails } from '../../testing/emails.ts'
import { formPage, hiddenValues, type FormPage } from '../../testing/formPage.ts'
import { junctionOf, liveJunction } from '../../testing/junctions.ts'
import { lookAt, publish, publishForm } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { buttonOf, mailFor } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const emails = useEmails(on)
const { block, text } = composer(numberedIds('sorted'))

let [buyer, member] = [0, 0]
let pages = { course: 0, circle: 0, thanks: 0, other: 0 }
let content: JunctionContent
let junction = 0

const tagged = (tag: number): Condition => ({ kind: 'hasTag', tag })
const not = (of: Condition): Condition => ({ kind: 'not', of })
const go = (path: string, headers: Record<string, string> = {}): Promise<Response> =>
  lookAt(`${on.install.url}/j/${path}`, headers)
/** Where somebody is led, without what the address carries. */
const whereTo = async (path: string, headers: Record<string, string> = {}): Promise<string> => {
  const answer = await go(path, headers)
  return (answer.headers.get('location') ?? String(answer.status)).replace(/\?.*/, '')
}
async function personWith(address: string, ...tags: number[]): Promise<number> {
  const id = await on.add(address)
  for (const tag of tags)
    await on.q.rows(
      'insert into contact_tag (contact_id, tag_id, added_at, added_by) values ($1, $2, now(), $3)',
      [id, tag, 'test'],
    )
  return id
}
const marked = (contact: number): string => `me=${readerMark(on.install.platform, contact)}`
const passed = async (contact: number): Promise<PersonView['journal']> =>
  (await on.view(contact)).journal.filter(({ title }) => title.includes('junction'))
/** Known people and strangers who passed by a rule. */
async function passes(id: number, rule: string): Promise<[number, number]> {
  const { rules } = await on.mara.get<JunctionPasses>(`/junctions/${id}/passes`)
  const sum = (numbers: number[] = []): number => numbers.reduce((all, each) => all + each, 0)
  const found = rules.find((each) => each.rule === rule)
  return [sum(found?.known), sum(found?.strangers)]
}

beforeAll(async () => {
  const tags = await on.q.rows<{ id: number }>(
    `insert into tag (name, created_at) values ('Journal buyer', now()), ('Circle member', now()) returning id`,
  )
  buyer = tags[0]?.id ?? 0
  member = tags[1]?.id ?? 0
  const page = (path: string): Promise<number> => publish(on, path, [block('heading', { words: path })])
  pages = {
    course: await page('course'),
    circle: await page('circle'),
    thanks: await page('thanks'),
    other: await page('other'),
  }
  content = junctionOf({
    rules: [
      {
        id: 'newcomers',
        when: { kind: 'all', of: [not(tagged(buyer)), not(tagged(member))] },
        target: { to: 'page', page: pages.course },
      },
      {
        id: 'buyersonly',
        when: { kind: 'all', of: [tagged(buyer), not(tagged(member))] },
        target: { to: 'page', page: pages.circle },
      },
      {
        id: 'eitherone',
        when: { kind: 'any', of: [tagged(buyer), tagged(member)] },
        target: { to: 'page', page: pages.thanks },
      },
    ],
    otherwise: { to: 'page', page: pages.other },
  })
  junction = await liveJunction(on, 'what-next', content)
})

describe('a junction', () => {
  it('sends each person on by the first rule that fits, and the journal says where and why', async () => {
    const people = {
      course: await personWith('new@postbox.test'),
      circle: await personWith('buyer@postbox.test', buyer),
      thanks: await personWith('member@postbox.test', buyer, member),
    }
    for (const [page, contact] of Object.entries(people))
      expect(await whereTo(`what-next?${marked(contact)}`)).toBe(`/p/${page}`)
    // Who comes by a link of their mail stays known on the page behind it.
    const { headers } = await go(`what-next?${marked(people.circle)}`)
    expect(headers.get('location')).toContain('/p/circle?me=')
    expect([headers.get('cache-control'), headers.get('x-robots-tag')]).toEqual(['no-store', 'noindex'])
    const [entry] = await eventually(async () => {
      const found = await passed(people.circle)
      return found.length > 0 && found
    })
    expect(entry?.title).toBe(
      'was sent on by the junction “what-next” to the page “circle” (has the tag “Journal buyer”: yes and not (has the tag “Circle member”: no))',
    )
    expect(await passes(junction, 'buyersonly')).toEqual([2, 0])
  })

  it('sends visitors whom nobody knows where otherwise leads, with where they came from', async () => {
    const answer = await go('what-next?utm_source=fair&x=1')
    expect(answer.headers.get('location')).toBe('/p/other?utm_source=fair')
    expect(await whereTo('what-next?me=forged')).toBe('/p/other')
    await eventually(async () => (await passes(junction, '-'))[1] === 2)
    // Robots and looks at the head are led on, and count nowhere.
    await go('what-next', { 'user-agent': 'testbot' })
    await fetch(`${on.install.url}/j/what-next`, { method: 'HEAD', redirect: 'manual' })
    await go('what-next')
    await eventually(async () => (await passes(junction, '-'))[1] === 3)
  })

  it('counts nobody made up, and writes it into their journal all the same', async () => {
    const contact = await personWith('ada@rehearsal.test')
    await on.q.rows('update contact set rehearsal = true where id = $1', [contact])
    const before = await passes(junction, 'newcomers')
    expect(await whereTo(`what-next?${marked(contact)}`)).toBe('/p/course')
    await eventually(async () => (await passed(contact)).length === 1)
    expect(await passes(junction, 'newcomers')).toEqual(before)
  })

  it('leads where otherwise leads when what a rule led to is gone', async () => {
    const contact = await personWith('late@postbox.test', member)
    await on.mara.post(`/pages/${pages.thanks}/archive`, { archived: true })
    await eventually(async () => (await whereTo(`what-next?${marked(contact)}`)) === '/p/other')
    await on.mara.post(`/pages/${pages.thanks}/archive`, { archived: false })
    await eventually(async () => (await whereTo(`what-next?${marked(contact)}`)) === '/p/thanks')
  })

  it('is found by the path that it had before, and not when there is none', async () => {
    const id = await liveJunction(on, 'old-name', content)
    const settings = { name: 'old-name', path: 'new-name', labels: ['spring'] }
    expect((await on.mara.post(`/junctions/${id}/settings`, settings)).status).toBe(204)
    await eventually(async () => (await go('old-name?utm_source=a')).status === 301)
    expect((await go('old-name?utm_source=a')).headers.get('location')).toBe('/j/new-name?utm_source=a')
    // Nobody else may have it: links to it are in the world.
    const taken = await on.mara.post(`/junctions/${junction}/settings`, { ...settings, path: 'old-name' })
    expect([taken.status, ((await taken.json()) as { title: string }).title]).toEqual([
      409,
      'This path is taken',
    ])
    expect((await go('nothing-here')).status).toBe(404)
  })

  it('starts follow-ups and is asked about by conditions, by the rule too', async () => {
    const tree: Condition = {
      kind: 'did',
      activity: 'junctionPassed',
      details: { junction, rule: 'buyersonly' },
      atLeast: 1,
    }
    const found = await on.find({ search: '', tree, rehearsal: 'no' })
    expect(found.rows.map(({ address }) => address)).toEqual(['buyer@postbox.test'])
  })
})

describe('the way from a form to a junction', () => {
  let page: FormPage
  beforeAll(async () => {
    page = await formPage(on, { after: { then: 'go', target: { to: 'junction', junction } } })
  })
  const sent = async (address: string): Promise<string> => {
    await page.open('?utm_source=fair')
    const answer = await page.send({ address, consent: 'yes' })
    return answer.headers.get('location') ?? ''
  }
  const follow = async (href: string): Promise<string> =>
    ((await lookAt(`${on.install.url}${href}`)).headers.get('location') ?? '').replace(/\?.*/, '')

  it('says who it was by a token that is good once, not by their address', async () => {
    const href = await sent('signed.up@postbox.test')
    expect(href).toMatch(/^\/j\/what-next\?utm_source=fair&pass=[\w.%-]+$/)
    expect(href).not.toContain('signed')
    expect(await follow(href)).toBe('/p/course')
    const [row] = (await on.find({ search: 'signed.up', rehearsal: 'no' })).rows
    await eventually(async () => (await passed(row?.id ?? 0)).length === 1)
    // Used again it leads where it led first, and counts no more.
    await on.q.rows(
      `insert into contact_tag (contact_id, tag_id, added_at, added_by) values ($1, $2, now(), 'test')`,
      [row?.id, buyer],
    )
    expect(await follow(href)).toBe('/p/course')
    expect(await passed(row?.id ?? 0)).toHaveLength(1)
    expect(await follow(await sent('other@postbox.test'))).toBe('/p/course')
  })

  it('tells nobody what is known of somebody whose address they typed, unless the marketer wants that', async () => {
    await personWith('owner@postbox.test', buyer)
    expect(await follow(await sent('owner@postbox.test'))).toBe('/p/other')
    const trusting = await liveJunction(on, 'trusting', { ...content, trustsForms: true })
    const open = await formPage(on, { after: { then: 'go', target: { to: 'junction', junction: trusting } } })
    await personWith('second.owner@postbox.test', buyer)
    await open.open()
    const answer = await open.send({ address: 'second.owner@postbox.test', consent: 'yes' })
    expect(await follow(answer.headers.get('location') ?? '')).toBe('/p/circle')
  })

  it('is refused when the token is forged, expired, or of another junction', async () => {
    const contact = await personWith('pass@postbox.test', buyer)
    const { platform, clock } = on.install
    let made = 0
    const token = (of: number): string =>
      passToken(platform, of, { contact, proven: true, once: `once ${(made += 1)}` })
    expect(await whereTo(`what-next?pass=${token(junction)}`)).toBe('/p/circle')
    expect(await whereTo(`what-next?pass=${token(junction + 1)}`)).toBe('/p/other')
    expect(await whereTo(`what-next?pass=${token(junction).slice(0, -2)}aa`)).toBe('/p/other')
    const late = token(junction)
    clock.move(10 * 60_000)
    expect(await whereTo(`what-next?pass=${late}`)).toBe('/p/other')
  })

  it('is the same for whoever presses the button twice, and counts once', async () => {
    await page.open()
    const typed = { address: 'twice@postbox.test', consent: 'yes' }
    const shown = await page.open()
    const [first, second] = [await page.send(typed), await page.send({ ...typed, ...hiddenValues(shown) })]
    const [one, two] = [first, second].map((answer) => answer.headers.get('location') ?? '')
    expect([await follow(one ?? ''), await follow(two ?? '')]).toEqual(['/p/course', '/p/course'])
    const [row] = (await on.find({ search: 'twice@', rehearsal: 'no' })).rows
    await eventually(async () => (await passed(row?.id ?? 0)).length === 1)
    await on.install.platform.database.rows('select 1')
    expect(await passed(row?.id ?? 0)).toHaveLength(1)
  })

  it('shows nothing of somebody whose address was typed by another who is known', async () => {
    const reader = await personWith('reader@postbox.test')
    await personWith('typed@postbox.test', buyer)
    const cookie = `consent=yes; reader=${readerMark(on.install.platform, reader)}`
    const sentAs = async (address: string): Promise<string> => {
      await page.open()
      const answer = await page.send({ address, consent: 'yes' }, { cookie })
      return follow(answer.headers.get('location') ?? '')
    }
    expect(await sentAs('typed@postbox.test')).toBe('/p/other')
    expect(await sentAs('reader@postbox.test')).toBe('/p/course')
  })

  it('may lead out of the house: the page that sends the form allows it', async () => {
    const out = await liveJunction(
      on,
      'out-of-the-house',
      junctionOf({ otherwise: { to: 'web', url: 'https://stall.test/fair' } }),
    )
    const leads = await formPage(on, { after: { then: 'go', target: { to: 'junction', junction: out } } })
    const policy = (await lookAt(leads.url)).headers.get('content-security-policy') ?? ''
    expect(/form-action ([^;]+)/.exec(policy)?.[1]).toContain('https://stall.test')
  })

  it('leads by the next junction as the same person', async () => {
    const first = await liveJunction(
      on,
      'first-of-two',
      junctionOf({ rules: [], otherwise: { to: 'junction', junction } }),
    )
    const contact = await personWith('chain@postbox.test', buyer)
    const token = passToken(on.install.platform, first, { contact, proven: true, once: 'chain' })
    const next = (await go(`first-of-two?pass=${token}`)).headers.get('location') ?? ''
    expect(next).toMatch(/^\/j\/what-next\?pass=/)
    expect(await follow(next)).toBe('/p/circle')
  })
})

describe('visitors whom nobody knows', () => {
  it('send a form first, where that is wanted, and are sent on by it', async () => {
    const form = await publishForm(on, {}, 'Who are you?')
    await liveJunction(on, 'ask-first', { ...content, strangers: { go: 'form', form } })
    const shown = await go('ask-first?utm_source=card')
    const markup = await shown.text()
    expect([shown.status, markup.includes('name="address"')]).toEqual([200, true])
    const hidden = hiddenValues(markup)
    const send = (typed: Record<string, string>): Promise<Response> =>
      fetch(`${on.install.url}/j/ask-first`, {
        method: 'POST',
        redirect: 'manual',
        body: new URLSearchParams({ ...hidden, ...typed }),
      })
    const wrong = await send({ address: 'nowhere' })
    expect([wrong.status, (await wrong.text()).includes('Please check the address')]).toEqual([422, true])
    const right = await send({ address: 'asked@postbox.test', consent: 'yes' })
    expect(right.status).toBe(303)
    const href = right.headers.get('location') ?? ''
    expect(href).toMatch(/^\/j\/ask-first\?utm_source=card&pass=/)
    expect((await lookAt(`${on.install.url}${href}`)).headers.get('location')).toBe(
      '/p/course?utm_source=card',
    )
    // Who is known is not asked.
    const contact = await personWith('known@postbox.test', buyer)
    expect(await whereTo(`ask-first?${marked(contact)}`)).toBe('/p/circle')
  })
})

describe('a junction in an email', () => {
  it('is a link of each reader’s own: behind a button, and as a merge field', async () => {
    const { who, button, write, live, send } = emails
    await personWith(who.address, buyer)
    const id = await live(
      write({}, button({ to: 'junction', junction }), text('Or here: {link to what-next}')),
    )
    await send(id)
    const [mail] = await mailFor(on.install, who.address)
    const behind = (await lookAt(buttonOf(mail!))).headers.get('location') ?? ''
    expect(behind).toMatch(/\/j\/what-next\?me=/)
    expect(((await lookAt(behind)).headers.get('location') ?? '').replace(/\?.*/, '')).toBe('/p/circle')
    const written = /\S+\/j\/what-next\?me=\S+/.exec(mail!.text)?.[0] ?? ''
    expect(((await lookAt(written)).headers.get('location') ?? '').replace(/\?.*/, '')).toBe('/p/circle')
  })
})

describe('a cookie that another site brings along', () => {
  it('sorts as one is known, and does nothing more', async () => {
    const contact = await personWith('cookie@postbox.test', buyer)
    const cookie = `consent=yes; reader=${readerMark(on.install.platform, contact)}`
    const from = (headers: Record<string, string>) => whereTo('what-next', { cookie, ...headers })
    expect(await from({ 'sec-fetch-site': 'cross-site' })).toBe('/p/circle')
    expect(await passed(contact)).toEqual([])
    expect(await from({ 'sec-fetch-site': 'same-origin' })).toBe('/p/circle')
    await eventually(async () => (await passed(contact)).length === 1)
  })
})

describe('the editor’s view of it', () => {
  it('has its ways in, its places and what is proved', async () => {
    const view = await on.mara.get<JunctionView>(`/junctions/${junction}`)
    expect([view.path, view.state, view.findings]).toEqual(['what-next', 'live', []])
    expect(view.usedIn).toContain('junction first-of-two')
    expect(view.proof.rules.map(({ is }) => is)).toEqual(['reached', 'reached', 'reached'])
    expect(view.proof.untaken).toEqual([])
  })
})
