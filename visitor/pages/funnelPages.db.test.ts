import { beforeAll, describe, expect, it } from 'vitest'
import type { FunnelView } from '../../contract/funnels.ts'
import { composer } from '../../core/blocks/compose.ts'
import type { Station } from '../../core/funnels/funnel.ts'
import { noFunnelSettings, type FunnelSettings } from '../../core/funnels/settings.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { lookAt, publish } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ worker: false })
const { block } = composer(numberedIds('pages'))
const hour = 3_600_000

let [first, second, elsewhere] = [0, 0, 0]
let funnel = 0
const look = (path: string, agent = 'testbot'): Promise<Response> =>
  lookAt(`${on.install.url}/p/${path}`, { 'user-agent': agent })
const at = (page: number): Station => ({ kind: 'page', id: `p${page}`, page })

async function set(settings: Partial<FunnelSettings>): Promise<void> {
  const { name, goal, labels, revision } = await on.mara.get<FunnelView>(`/funnels/${funnel}`)
  const body = { name, goal, labels, revision, settings: { ...noFunnelSettings, ...settings } }
  expect((await on.mara.post(`/funnels/${funnel}/settings`, body)).status).toBe(200)
}
/** Until every process has heard of what was changed. */
const answers = (path: string, status: number): Promise<unknown> =>
  eventually(async () => (await look(path)).status === status)

beforeAll(async () => {
  first = await publish(on, 'first', [block('heading', { words: 'First' })])
  second = await publish(on, 'second', [block('heading', { words: 'Second' })])
  elsewhere = await publish(on, 'elsewhere', [block('heading', { words: 'Elsewhere' })])
  const began = { name: 'Dated', goal: 'list', labels: [], starter: 'nothing', path: 'dated', currency: null }
  funnel = (await made<{ id: number }>(on.mara.post('/funnels', { ...began, line: [at(first)] }))).id
  await on.mara.post(`/funnels/${funnel}/open`, { to: 'everybody' })
})

describe('the pages of a funnel', () => {
  it('lead visitors on before it begins and after it ends, by the clock itself', async () => {
    const now = on.install.clock.now()
    const moment = (from: number): string => new Date(now + from).toISOString()
    await set({
      startsAt: moment(hour),
      endsAt: moment(3 * hour),
      before: { to: 'page', page: elsewhere },
      after: { to: 'web', url: 'https://shop.test/' },
    })
    await answers('first', 302)
    expect((await look('first')).headers.get('location')).toBe('/p/elsewhere')
    on.install.clock.move(hour)
    expect((await look('first')).status).toBe(200)
    // A page that was kept ready knows when it ends.
    on.install.clock.move(2 * hour)
    expect((await look('first')).headers.get('location')).toBe('https://shop.test/')
    expect((await lookAt(`${on.install.url}/p/first`, {})).status).toBe(302)
    await set({})
    await answers('first', 200)
  })

  it('are for some people only, if one wants that', async () => {
    const [tag] = await on.q.rows<{ id: number }>(
      `insert into tag (name, created_at) values ('Circle', now()) returning id`,
    )
    const member = await on.add('member@postbox.test')
    await on.q.rows(
      'insert into contact_tag (contact_id, tag_id, added_at, added_by) values ($1, $2, now(), $3)',
      [member, tag?.id, 'test'],
    )
    await set({
      limitedTo: {
        people: { kind: 'hasTag', tag: tag?.id ?? 0 },
        others: { get: 'text', words: 'For the Circle.' },
      },
    })
    await answers('first', 403)
    expect(await (await look('first')).text()).toContain('For the Circle.')
    const mark = readerMark(on.install.platform, member)
    expect((await look(`first?me=${mark}`)).status).toBe(200)
    await set({})
    await answers('first', 200)
  })

  it('have its own head code and scripts in the place of the site’s', async () => {
    await set({
      headCode: '<meta name="author" content="Mara"><script>alert(1)</script>',
      trackingScripts: ['https://count.test/c.js'],
    })
    const page = await eventually(async () => {
      const text = await (await look('first')).text()
      return text.includes('content="Mara"') && text
    })
    expect(page).toContain('data-scripts="https://count.test/c.js"')
    expect(page).not.toContain('alert(1)')
    expect(await (await look('elsewhere')).text()).not.toContain('content="Mara"')
    await set({})
  })

  it('share the visitors of a step between two: everybody keeps theirs, about as many as was said', async () => {
    const { revision } = await on.mara.get<FunnelView>(`/funnels/${funnel}`)
    const line = [{ ...at(first), other: { page: second, share: 30 } }]
    await made(on.mara.post(`/funnels/${funnel}/line`, { revision, line }))
    const led = async (n: number): Promise<boolean> =>
      (await look('first?from=post', `Browser ${n}`)).headers.get('location') === '/p/second?from=post'
    await eventually(async () => {
      for (let n = 0; n < 20; n += 1) if (await led(n)) return true
      return false
    })
    const gets: boolean[] = []
    for (let n = 0; n < 200; n += 1) gets.push(await led(n))
    // 60 are expected of 200; fewer than 30 or more than 95 come once in a million (binomial distribution).
    const count = gets.filter(Boolean).length
    expect(count).toBeGreaterThan(30)
    expect(count).toBeLessThan(95)
    for (let n = 0; n < 20; n += 1) expect(await led(n)).toBe(gets[n])
    const seen = await on.mara.get<FunnelView>(`/funnels/${funnel}`)
    expect(seen.stations[0]?.other).toMatchObject({ page: second, share: 30 })
  })
})

describe('a funnel in rehearsal', () => {
  it('shows its new pages to people in rehearsal only, until it goes live; the check keeps it from both', async () => {
    const began = { goal: 'list', labels: [], starter: 'two-pages', currency: null }
    const { id } = await made<{ id: number }>(
      on.mara.post('/funnels', { ...began, name: 'Tried first', path: 'tried-first' }),
    )
    expect((await on.mara.post(`/funnels/${id}/open`, { to: 'rehearsal' })).status).toBe(204)
    expect(await on.mara.get<FunnelView>(`/funnels/${id}`)).toMatchObject({
      state: 'draft',
      rehearsing: true,
    })
    await answers('tried-first/thanks', 403)
    const ada = await on.add('ada@rehearsal.example', { rehearsal: true })
    const mark = readerMark(on.install.platform, ada)
    expect((await look(`tried-first/thanks?me=${mark}`)).status).toBe(200)
    const known = readerMark(on.install.platform, await on.add('real@postbox.test'))
    expect((await look(`tried-first/thanks?me=${known}`)).status).toBe(403)
    expect(await (await fetch(`${on.install.url}/sitemap.xml`)).text()).not.toContain('tried-first')
    // Going live while somebody rehearses, twice at once: it is live, once.
    const both = await Promise.all([1, 2].map(() => on.mara.post(`/funnels/${id}/open`, { to: 'everybody' })))
    expect(both.map(({ status }) => status)).toEqual([204, 204])
    await answers('tried-first/thanks', 200)
    expect(await on.mara.get<FunnelView>(`/funnels/${id}`)).toMatchObject({
      state: 'live',
      rehearsing: false,
    })
    expect((await look(`tried-first/thanks?me=${mark}`)).status).toBe(200)
  })

  it('that is taken back, put away or deleted leaves nothing to see: its pages are drafts again', async () => {
    const began = { goal: 'list', labels: [], starter: 'two-pages', currency: null }
    for (const [path, end] of [
      ['taken-back', (id: number) => on.mara.post(`/funnels/${id}/open`, { to: 'nobody' })],
      ['put-away', (id: number) => on.mara.post(`/funnels/${id}/archive`, { archived: true })],
      ['deleted', (id: number) => on.mara.post(`/funnels/${id}/delete`)],
    ] as const) {
      const { id } = await made<{ id: number }>(on.mara.post('/funnels', { ...began, name: path, path }))
      await on.mara.post(`/funnels/${id}/open`, { to: 'rehearsal' })
      await answers(`${path}/thanks`, 403)
      expect((await end(id)).status).toBe(204)
      await answers(`${path}/thanks`, 404)
      // Never in between was it there for everybody.
      expect(
        await on.q.rows('select from page where path like $1 and published_version is not null', [
          `${path}%`,
        ]),
      ).toEqual([])
    }
  })

  it('is none any more once it is live', async () => {
    const refused = await on.mara.post(`/funnels/${funnel}/open`, { to: 'rehearsal' })
    expect(refused.status).toBe(409)
    expect((await look('elsewhere')).status).toBe(200)
    expect((await on.mara.get<FunnelView>(`/funnels/${funnel}`)).state).toBe('live')
  })

  it('is not opened while it has faults', async () => {
    const began = { goal: 'list', labels: [], starter: 'free-file', currency: null }
    const { id } = await made<{ id: number }>(
      on.mara.post('/funnels', { ...began, name: 'Faulty', path: 'faulty' }),
    )
    const refused = await on.mara.post(`/funnels/${id}/open`, { to: 'rehearsal' })
    expect(refused.status).toBe(409)
    expect(((await refused.json()) as { detail: string }).detail).toContain(
      'The file that it gives is missing',
    )
    expect((await look('faulty')).status).toBe(404)
  })
})
