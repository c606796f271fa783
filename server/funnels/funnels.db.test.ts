import { beforeAll, describe, expect, it } from 'vitest'
import type { FunnelRow, FunnelView } from '../../contract/funnels.ts'
import type { JunctionView } from '../../contract/junctions.ts'
import { composer } from '../../core/blocks/compose.ts'
import type { Station } from '../../core/funnels/funnel.ts'
import { numberedIds } from '../../testing/documents.ts'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { junctionOf, makeJunction } from '../../testing/junctions.ts'
import { made } from '../../testing/people.ts'
import { lookAt, publish, publishForm } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'
import { checkLiveFunnels } from './checking.ts'

const on = useInstall({ worker: false })
const followups = useFollowups(on)
const { block } = composer(numberedIds('line'))
const day = 86_400_000

const at = (page: number): Station => ({ kind: 'page', id: `p${page}`, page })
const outside: Station = { kind: 'outside', id: 'shop', name: 'The shop', url: 'https://shop.test/' }
const view = (id: number, days = 30): Promise<FunnelView> => on.mara.get(`/funnels/${id}?days=${days}`)
let count = 0
async function funnel(line: Station[], rest: object = {}): Promise<number> {
  count += 1
  const began = { starter: 'nothing', path: `funnel-${count}`, currency: null }
  const body = { ...began, name: `Funnel ${count}`, goal: 'list', labels: [], line, ...rest }
  return (await made<{ id: number }>(on.mara.post('/funnels', body))).id
}

let form: number
let first: number
let second: number
let third: number
beforeAll(async () => {
  form = await publishForm(on)
  const next = block('button', { label: 'On', target: { to: 'nextStep' } })
  first = await publish(on, 'one', [block('form', { form }), next])
  second = await publish(on, 'two', [next])
  third = await publish(on, 'three', [block('heading', { words: 'The end' })])
})

/** As a robot, which is not counted. */
const look = (path: string): Promise<Response> =>
  lookAt(`${on.install.url}/p/${path}`, { 'user-agent': 'testbot' })

/** Visits by so many browsers of today, or by known people; `from` tells them apart. */
async function visit(page: number, browsers: number, { from = 0, ago = 3_600_000 } = {}): Promise<void> {
  await on.q.rows(
    `insert into visit (page_id, at, visitor, device)
     select $1, $2, decode(lpad(to_hex(n), 8, '0'), 'hex'), 'phone' from generate_series($3::int, $4::int) n`,
    [page, new Date(on.install.clock.now() - ago), from + 1, from + browsers],
  )
}

describe('a funnel', () => {
  it('is a draft of a name, a goal and a line; its name is taken once', async () => {
    const id = await funnel([at(first), outside], { name: 'Spring', labels: ['active'] })
    expect(await view(id)).toMatchObject({
      name: 'Spring',
      goal: 'list',
      labels: ['active'],
      state: 'draft',
      changedBy: 'Mara Ellery',
      stations: [
        { title: 'one', purpose: 'any', state: 'live', page: first, contacts: 0 },
        { title: 'The shop', purpose: null, state: 'outside', page: null, url: 'https://shop.test/' },
      ],
    })
    const again = await on.mara.post('/funnels', {
      name: 'SPRING',
      goal: 'list',
      labels: [],
      starter: 'nothing',
      path: 'spring-again',
      currency: null,
    })
    expect(again.status).toBe(409)
    expect(await again.json()).toMatchObject({ fields: { name: 'Another funnel has this name' } })
  })

  it('is saved by one at a time: who comes second is told, and nothing of the first is lost', async () => {
    const id = await funnel([at(first)])
    const { revision } = await view(id)
    const line = [at(first), at(second)]
    expect((await on.mara.post(`/funnels/${id}/line`, { revision, line })).status).toBe(200)
    const late = await on.mara.post(`/funnels/${id}/line`, { revision, line: [] })
    expect(late.status).toBe(409)
    expect(((await late.json()) as { title: string }).title).toMatch(/Mara Ellery has changed this funnel/)
    expect((await view(id)).line).toEqual(line)
  })

  it.each<[string, unknown]>([
    ['a page twice', () => [at(first), { ...at(first), id: 'again' }]],
    ['an address that runs something', () => [{ ...outside, url: 'javascript:alert(1)' }]],
    ['a station of another kind', () => [{ kind: 'tunnel', id: 'x' }]],
    ['fifty stations', () => Array.from({ length: 50 }, (_, i) => at(1_000 + i))],
  ])('is not saved with %s', async (_what, make) => {
    const id = await funnel([at(first)])
    const { revision } = await view(id)
    const line = (make as () => unknown)()
    expect((await on.mara.post(`/funnels/${id}/line`, { revision, line })).status).toBe(422)
    expect((await view(id)).line).toEqual([at(first)])
  })

  it('goes live when all of it can be seen, and says what keeps it', async () => {
    const draft = await made<{ id: number }>(
      on.mara.post('/pages', { ...(await pageAsWritten(third)), name: 'Hidden', path: 'hidden' }),
    )
    const id = await funnel([at(first), at(draft.id)])
    await on.mara.post(`/pages/${draft.id}/archive`, { archived: true })
    const refused = await on.mara.post(`/funnels/${id}/open`, { to: 'everybody' })
    expect(refused.status).toBe(409)
    expect(await refused.json()).toMatchObject({
      detail: '“Hidden” is archived: bring it back, or take it out.',
    })
    const empty = await funnel([])
    expect((await on.mara.post(`/funnels/${empty}/open`, { to: 'everybody' })).status).toBe(409)
    const whole = await funnel([at(first), outside])
    // Twice at the same moment is once.
    const both = await Promise.all(
      [1, 2].map(() => on.mara.post(`/funnels/${whole}/open`, { to: 'everybody' })),
    )
    expect(both.map(({ status }) => status)).toEqual([204, 204])
    expect((await view(whole)).state).toBe('live')
  })

  it('keeps its place for a page that was deleted, and says so', async () => {
    const page = await publish(on, 'leaving', [block('heading', { words: 'Soon gone' })])
    const id = await funnel([at(first), at(page), at(second)])
    await on.q.rows('delete from page where id = $1', [page])
    const { stations, stretches } = await view(id)
    expect(stations[1]).toMatchObject({ title: 'a page that was deleted', state: 'gone', visitors: 0 })
    expect(stretches).toHaveLength(2)
  })

  it('is copied as a draft of another name, put away, and deleted without its pages', async () => {
    const id = await funnel([at(first), at(second)], { name: 'Launch' })
    for (const name of ['Launch once more', 'Launch for spring']) {
      const copy = await made<{ id: number }>(
        on.mara.post(`/funnels/${id}/copy`, { name, path: null, whole: false, tags: 'shared' }),
      )
      expect(await view(copy.id)).toMatchObject({
        name,
        state: 'draft',
        stations: [{ page: first }, { page: second }],
      })
    }
    const hits = await on.mara.get<{ kind: string; title: string; to: string }[]>('/search?q=launch')
    expect(hits).toContainEqual(
      expect.objectContaining({ kind: 'funnel', title: 'Launch', to: `/funnels/${id}` }),
    )
    const pages = await on.mara.get<{ id: number; usedIn: string[] }[]>('/pages')
    expect(pages.find((each) => each.id === first)?.usedIn).toContain('funnel Launch')
    await on.mara.post(`/funnels/${id}/archive`, { archived: true })
    expect((await view(id)).state).toBe('archived')
    expect((await on.mara.post(`/funnels/${id}/delete`)).status).toBe(204)
    expect((await on.mara.download(`/funnels/${id}`)).status).toBe(404)
    expect((await look('one')).status).toBe(200)
  })
})

const pageAsWritten = async (id: number): Promise<object> => {
  const { content, purpose } = await on.mara.get<{ content: object; purpose: string }>(`/pages/${id}`)
  return { content, purpose, course: null }
}

describe('the next step of a page', () => {
  it('follows the order of the line by itself, also to an address elsewhere', async () => {
    const hrefOf = async (path: string): Promise<string | undefined> =>
      /<a[^>]*href="([^"]+)"[^>]*>\s*On/.exec(await (await look(path)).text())?.[1]
    await on.q.rows('delete from funnel')
    const id = await funnel([at(first), at(second), outside])
    // A draft changes nothing for visitors; every process hears of a change a moment later, also of the deletion above.
    await expect.poll(() => hrefOf('one')).toBeUndefined()
    await on.mara.post(`/funnels/${id}/open`, { to: 'everybody' })
    await expect.poll(() => hrefOf('one')).toBe('/p/two')
    await expect.poll(() => hrefOf('two')).toBe('https://shop.test/')
    const { revision } = await view(id)
    await on.mara.post(`/funnels/${id}/line`, { revision, line: [at(second), at(first), outside] })
    await expect.poll(() => hrefOf('two')).toBe('/p/one')
    await expect.poll(() => hrefOf('one')).toBe('https://shop.test/')
    await on.mara.post(`/funnels/${id}/delete`)
    await expect.poll(() => hrefOf('one')).toBeUndefined()
  })
})

describe('the numbers of a line', () => {
  it('are who came and who went on afterwards, with the weakest stretch; tests can be left out', async () => {
    await on.q.rows('delete from visit')
    const id = await funnel([at(first), at(second), at(third)])
    await visit(first, 200)
    await visit(second, 60, { ago: 1_800_000 })
    await visit(third, 55, { ago: 600_000 })
    // Who was there before has not gone on, and who came long ago counts in a longer span.
    await visit(second, 20, { from: 100, ago: 2 * 3_600_000 })
    await visit(first, 40, { from: 500, ago: 50 * day })
    const { stations, stretches } = await view(id)
    expect(stations.map(({ visitors }) => visitors)).toEqual([200, 80, 55])
    expect(stretches.map(({ here, there }) => [here, there])).toEqual([
      [200, 60],
      [80, 55],
    ])
    expect(stretches.map(({ weakest }) => weakest !== null)).toEqual([true, false])
    expect((await view(id, 90)).stations[0]?.visitors).toBe(240)

    await on.mara.post(`/funnels/${id}/count-anew`, { anew: true })
    expect((await view(id)).stations.map(({ visitors }) => visitors)).toEqual([0, 0, 0])
    expect((await view(id)).countedSince).not.toBeNull()
    await on.mara.post(`/funnels/${id}/count-anew`, { anew: false })
    expect((await view(id)).stations[0]?.visitors).toBe(200)
    const rows = await on.mara.get<FunnelRow[]>('/funnels')
    expect(rows.find((row) => row.id === id)).toMatchObject({ visitors: 200, contacts: 0, stations: 3 })
  })

  it('know a person on another day, whose browser cannot be told', async () => {
    await on.q.rows('delete from visit')
    const id = await funnel([at(second), at(third)])
    const person = await on.add('returns@postbox.test')
    await visit(second, 1, { ago: 5 * day })
    await visit(third, 1, { from: 9, ago: day })
    expect((await view(id)).stretches[0]).toMatchObject({ here: 1, there: 0 })
    await on.q.rows('update visit set contact_id = $1', [person])
    expect((await view(id)).stretches[0]).toMatchObject({ here: 1, there: 1, readable: false })
  })
})

describe('below a station hang', () => {
  it('the follow-ups that a form on it starts, with who is inside and their emails; rehearsal is nobody', async () => {
    const email = on.install.emails.invitation
    const steps = [
      { kind: 'waitFor' as const, id: 'wait', amount: 1, unit: 'days' as const },
      { kind: 'send' as const, id: 'mail', email },
    ]
    const byForm = await followups.live(programOf(steps, { startsWhen: [{ kind: 'formSent', form }] }))
    const byPage = await followups.live(
      programOf(steps, { startsWhen: [{ kind: 'pageVisited', page: second }] }),
    )
    const other = await followups.live(
      programOf(steps, { startsWhen: [{ kind: 'formSent', form: await publishForm(on, {}, 'Another') }] }),
    )
    const person = await on.add('inside@postbox.test')
    const madeUp = await on.add('made.up@rehearsal.example', { rehearsal: true })
    await followups.letIn(byForm, [person, madeUp])
    const id = await funnel([at(first), at(second), at(third)])
    const hanging = (await view(id)).stations.map((station) => station.followups.map((each) => each.id))
    expect(hanging[0]).toContain(byForm)
    expect(hanging[1]).toContain(byPage)
    expect(hanging.flat()).not.toContain(other)
    expect(hanging[2]).toEqual([])
    const found = (await view(id)).stations[0]?.followups.find((each) => each.id === byForm)
    expect(found).toMatchObject({ state: 'live', inside: 1, emails: [{ id: email }] })
    expect(found?.nextDueAt).toBe(new Date(on.install.clock.now() + day).toISOString())
  })
})

describe('the check of a funnel', () => {
  it('says what is wrong with the line, and what its pages, forms, follow-ups and emails say of themselves', async () => {
    const faulty = await publish(on, 'faulty', [block('form', { form })])
    await followups.live(
      programOf([{ kind: 'send', id: 'mail', email: on.install.emails.invitation }], {
        startsWhen: [{ kind: 'pageVisited', page: faulty }],
      }),
    )
    const draft = await made<{ id: number }>(
      on.mara.post('/followups', {
        name: 'Never live',
        content: programOf([{ kind: 'send', id: 'mail', email: 99_999 }], {
          startsWhen: [{ kind: 'pageVisited', page: faulty }],
        }),
      }),
    )
    const id = await funnel([at(faulty), at(second), at(third)])
    const found = await on.mara.get<{ level: string; words: string; part: string | null }[]>(
      `/funnels/${id}/check`,
    )
    const saying = (words: RegExp) => found.find((each) => words.test(each.words))
    // A draft goes live with the funnel: only what is wrong with it is a fault.
    expect(saying(/^“Never live” begins here and is not live/)).toBeUndefined()
    expect(saying(/^“Never live”: .*something deleted/)).toMatchObject({
      level: 'error',
      part: `/follow-ups/${draft.id}?step=mail`,
    })
    expect(saying(/^Nobody gets to “two”/)).toMatchObject({ level: 'error' })
    // Errors come first.
    expect(found.map(({ level }) => level)).toEqual(
      found
        .map(({ level }) => level)
        .sort()
        .reverse(),
    )
    expect((await on.mara.post(`/funnels/${id}/open`, { to: 'everybody' })).status).toBe(409)
  })
})

describe('a junction on the line', () => {
  it('goes live with the funnel, is the next step of the page before it, and is copied with its rules', async () => {
    const after = await publish(on, 'after-junction', [block('heading', { words: 'After' })])
    const junction = await makeJunction(
      on,
      'On the line',
      junctionOf({ otherwise: { to: 'page', page: after } }),
    )
    const before = await publish(on, 'before-junction', [
      block('button', { label: 'On', target: { to: 'nextStep' } }),
    ])
    const stations = [at(before), { kind: 'junction', id: 'j', junction } as const, at(after)]
    const id = await funnel(stations, { name: 'With a junction' })
    const state = async (of: number): Promise<FunnelView['stations'][number] | undefined> =>
      (await on.mara.get<FunnelView>(`/funnels/${of}`)).stations[1]
    expect(await state(id)).toMatchObject({ title: 'On the line', state: 'draft', junction, page: null })
    expect((await on.mara.post(`/funnels/${id}/open`, { to: 'everybody' })).status).toBe(204)
    expect((await state(id))?.state).toBe('live')
    await eventually(async () =>
      (await (await lookAt(`${on.install.url}/p/before-junction`)).text()).includes('href="/j/on-the-line"'),
    )
    const answer = await lookAt(`${on.install.url}/j/on-the-line`)
    expect(answer.headers.get('location')).toBe('/p/after-junction')
    await eventually(async () => (await state(id))?.visitors === 1)

    const copy = await made<{ id: number }>(
      on.mara.post(`/funnels/${id}/copy`, { name: 'Copied', path: 'copied', whole: true, tags: 'shared' }),
    )
    const copied = await state(copy.id)
    expect(copied?.junction).not.toBe(junction)
    const { content } = await on.mara.get<JunctionView>(`/junctions/${copied?.junction}`)
    const { stations: line } = await on.mara.get<FunnelView>(`/funnels/${copy.id}`)
    expect(content.otherwise).toEqual({ to: 'page', page: line[2]?.page })
  })
})

describe('a live funnel', () => {
  it('that is faulty is told by Today, until it is mended', async () => {
    const page = await publish(on, 'breaks', [block('heading', { words: 'Breaks soon' })])
    const id = await funnel([at(page)], { name: 'Breaks' })
    await on.mara.post(`/funnels/${id}/open`, { to: 'everybody' })
    const told = async (): Promise<string[]> => {
      await on.q.rows('update funnel set checked_at = null')
      await checkLiveFunnels(on.q, new Date(on.install.clock.now()))
      const { needsAHand } = await on.mara.get<{ needsAHand: { what: string; to: string }[] }>('/today')
      return needsAHand.filter(({ to }) => to === `/funnels/${id}?check`).map(({ what }) => what)
    }
    expect(await told()).toEqual([])
    await on.mara.post(`/pages/${page}/archive`, { archived: true })
    expect(await told()).toEqual(['The funnel “Breaks” has 1 fault while it is live'])
    await on.mara.post(`/pages/${page}/archive`, { archived: false })
    expect(await told()).toEqual([])
  })
})
