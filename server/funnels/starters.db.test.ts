import { describe, expect, it } from 'vitest'
import type { Mended } from '../../contract/funnels.ts'
import { checklist, type ChecklistItem, type FunnelProgress } from '../../core/funnels/checklist.ts'
import { funnelStarters } from '../../core/funnels/starters.ts'
import { useFunnels } from '../../testing/begunFunnels.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ worker: false })
const { begin, view, check, errorsOf, file } = useFunnels(on)
const look = (path: string): Promise<Response> =>
  lookAt(`${on.install.url}/p/${path}`, { 'user-agent': 'testbot' })
const mend = (id: number, wish: object): Promise<Mended> => made(on.mara.post(`/funnels/${id}/mend`, wish))

/** Presses every mend that is offered, until nothing is left that one press puts right. */
async function mendAll(id: number): Promise<void> {
  for (;;) {
    const next = (await check(id)).find((each) => each.level === 'error' && each.mend)
    if (!next?.mend) return
    await mend(id, next.mend)
  }
}

describe.each(funnelStarters.map(({ id }) => id).filter((id) => id !== 'nothing'))(
  'the starter %s',
  (starter) => {
    it('makes a funnel that is live in a few presses, with all that is on it', async () => {
      const { id, path } = await begin(starter)
      const before = await view(id)
      expect(before).toMatchObject({ state: 'draft', labels: ['new'], settings: { path } })
      expect(before.stations.length).toBeGreaterThan(1)
      const { fileChosen } = await on.mara.get<FunnelProgress>(`/funnels/${id}/progress`)
      if (fileChosen === false)
        expect((await on.mara.post(`/funnels/${id}/give-file`, { file: file() })).status).toBe(204)
      await mendAll(id)
      expect(await errorsOf(id)).toEqual([])
      expect((await on.mara.post(`/funnels/${id}/open`, { to: 'everybody' })).status).toBe(204)
      const after = await view(id)
      expect(after.state).toBe('live')
      expect(after.stations.map(({ state }) => state)).toEqual(after.stations.map(() => 'live'))
      for (const each of after.stations.flatMap(({ followups }) => followups)) expect(each.state).toBe('live')
      const drafts = await on.q.rows<{ name: string }>(
        `select name from email where name like $1 and published_version is null
       union all select name from form where name like $1 and published_version is null`,
        [`${after.name}%`],
      )
      expect(drafts).toEqual([])
      // Of two pages somebody may be led to the other one.
      await eventually(async () => (await look(path)).status !== 404)
      expect(await errorsOf(id)).toEqual([])
    })
  },
)

describe('a new funnel', () => {
  it('is refused with words when its path or a page of it is taken, or a date is missing', async () => {
    const { path } = await begin('free-file')
    const body = {
      name: 'Other',
      goal: 'list',
      labels: [],
      starter: 'free-file',
      path,
      currency: null,
      opens: null,
    }
    const again = await on.mara.post('/funnels', body)
    expect(again.status).toBe(409)
    expect(await again.json()).toMatchObject({ title: 'This path is taken' })
    const dateless = await on.mara.post('/funnels', { ...body, path: 'free-one', starter: 'waiting-list' })
    expect(dateless.status).toBe(422)
    expect(await dateless.json()).toMatchObject({ fields: { opens: 'Choose a day' } })
    const unknown = await on.mara.post('/funnels', { ...body, path: 'free-two', starter: 'magic' })
    expect(unknown.status).toBe(422)
    // Nothing was made on the way.
    expect(await on.q.rows(`select from page where path like 'free-%'`)).toEqual([])
  })

  it('has a list of what is left that ticks itself', async () => {
    const { id } = await begin('free-file')
    const list = async (): Promise<Map<string, ChecklistItem>> => {
      const progress = await on.mara.get<FunnelProgress>(`/funnels/${id}/progress`)
      return new Map(checklist(id, progress, (await errorsOf(id)).length).map((each) => [each.key, each]))
    }
    const before = await list()
    expect(before.get('file')).toMatchObject({ done: false })
    expect(before.get('live')).toMatchObject({ done: false })
    const [landing] = (await view(id)).stations
    const key = `page ${landing?.page}`
    expect(before.get(key)).toMatchObject({
      done: false,
      hint: '2 parts are still empty',
      to: `/library/pages/${landing?.page}`,
    })

    await on.mara.post(`/funnels/${id}/give-file`, { file: file() })
    expect((await list()).get('file')).toMatchObject({ done: true })

    // Empty parts written, or taken out.
    const page = await on.mara.get<{
      content: { document: { sections: { columns: { blocks: { kind: string }[] }[] }[] } }
      version: number
      revision: number
    }>(`/pages/${landing?.page}`)
    for (const section of page.content.document.sections)
      for (const column of section.columns)
        column.blocks = column.blocks
          .filter(({ kind }) => kind !== 'text' && kind !== 'list')
          .map((block) => (block.kind === 'heading' ? { ...block, words: 'Fold it tonight' } : block))
    await on.mara.post(`/pages/${landing?.page}/save`, { ...page, over: false })
    expect((await list()).get(key)).toMatchObject({ done: true })

    await on.add('madeup@rehearsal.example', { rehearsal: true })
    await on.q.rows(
      `insert into activity (contact_id, kind, at, details)
       select id, 'pageVisited', $1, jsonb_build_object('page', $2::bigint) from contact where address = 'madeup@rehearsal.example'`,
      [new Date(on.install.clock.now()), landing?.page],
    )
    expect((await list()).get('rehearsed')).toMatchObject({ done: true })
  })

  it('is put right by presses, each of which can be undone', async () => {
    const { id } = await begin('free-file')
    const video = (await check(id)).find(({ words }) => words.includes('Choose a video'))
    expect(video?.mend).toMatchObject({ does: 'removeBlock', in: 'page' })
    const done = await mend(id, video?.mend ?? {})
    expect((await check(id)).some(({ words }) => words.includes('Choose a video'))).toBe(false)
    // A second press finds nothing left to do.
    expect((await on.mara.post(`/funnels/${id}/mend`, video?.mend)).status).toBe(409)
    if (done.thing !== 'page') throw new Error('another thing was mended')
    const { version, revision, before: content } = done
    await on.mara.post(`/pages/${done.id}/save`, { version, revision, over: false, content })
    expect((await check(id)).some(({ words }) => words.includes('Choose a video'))).toBe(true)
  })

  it('remembers what was accepted, by whom and why; errors cannot be', async () => {
    const { id } = await begin('free-file')
    const found = await check(id)
    const advice = found.find(({ level }) => level === 'advice')
    const error = found.find(({ level }) => level === 'error')
    for (const each of [advice, error])
      await on.mara.post(`/funnels/${id}/accept`, { words: each?.words, why: 'We know' })
    const now = await check(id)
    expect(now.find(({ words }) => words === advice?.words)?.accepted).toMatchObject({
      by: 'Mara Ellery',
      why: 'We know',
    })
    expect(now.find(({ words }) => words === error?.words)?.accepted).toBeNull()
    await on.mara.post(`/funnels/${id}/accept`, { words: advice?.words, why: null })
    expect((await check(id)).find(({ words }) => words === advice?.words)?.accepted).toBeNull()
  })
})

describe('the path of a funnel', () => {
  it('moves its pages, and their old addresses lead on for ever (301)', async () => {
    const { id, path } = await begin('two-pages')
    await mendAll(id)
    await on.mara.post(`/funnels/${id}/open`, { to: 'everybody' })
    const change = async (to: string): Promise<Response> => {
      const { name, goal, labels, revision, settings } = await view(id)
      return on.mara.post(`/funnels/${id}/settings`, {
        name,
        goal,
        labels,
        revision,
        settings: { ...settings, path: to },
      })
    }
    const { name, goal, labels, revision, settings } = await view(id)
    expect((await change('moved-away')).status).toBe(200)
    // Who began from what it was before is told, and changes nothing.
    const late = await on.mara.post(`/funnels/${id}/settings`, { name, goal, labels, revision, settings })
    expect(late.status).toBe(409)
    await eventually(async () => (await look('moved-away/thanks')).status === 200)
    const old = await look(`${path}/thanks`)
    expect([old.status, old.headers.get('location')]).toEqual([301, '/p/moved-away/thanks'])
    // A path that another funnel has is refused, and nothing has moved.
    const other = await begin('two-pages')
    expect((await change(other.path)).status).toBe(409)
    expect((await look('moved-away/thanks')).status).toBe(200)
  })
})

describe('a copy', () => {
  it('has pages, forms, emails and follow-ups of its own, wired to each other, and shares the rest', async () => {
    const { id } = await begin('free-file')
    await on.mara.post(`/funnels/${id}/give-file`, { file: file() })
    const copy = await made<{ id: number }>(
      on.mara.post(`/funnels/${id}/copy`, {
        name: 'Next spring',
        path: 'next-spring',
        whole: true,
        tags: 'shared',
      }),
    )
    const [before, after] = [await view(id), await view(copy.id)]
    expect(after.stations.map(({ title }) => title)).toEqual([
      'Next spring: landing page',
      'Next spring: thank-you page',
      'Next spring: file page',
    ])
    expect(after.stations.map(({ url }) => url?.split('/p/')[1])).toEqual([
      'next-spring',
      'next-spring/thanks',
      'next-spring/file',
    ])
    const pagesBefore = before.stations.map(({ page }) => page)
    expect(after.stations.map(({ page }) => page).some((page) => pagesBefore.includes(page))).toBe(false)
    expect(after.stations[0]?.followups.map(({ name }) => name)).toEqual(['Next spring: follow-up'])
    // The same file, and the same tag.
    const text = JSON.stringify(await on.mara.get(`/pages/${after.stations[2]?.page}`))
    expect(text).toContain(`"file":${file()}`)
    const tags = await on.q.rows(`select from tag where name like 'Next spring%'`)
    expect(tags).toEqual([])
    await mendAll(copy.id)
    expect((await on.mara.post(`/funnels/${copy.id}/open`, { to: 'everybody' })).status).toBe(204)
    expect((await view(id)).state).toBe('draft')
  })

  it('has tags of its own where one wants that', async () => {
    const { id } = await begin('confirmed-file')
    await made(
      on.mara.post(`/funnels/${id}/copy`, { name: 'Autumn', path: 'autumn', whole: true, tags: 'new' }),
    )
    const names = await on.q.rows<{ name: string }>(
      `select name from tag where name like 'Autumn%' order by name`,
    )
    expect(names.map(({ name }) => name)).toEqual(
      expect.arrayContaining(['Autumn: confirmed', 'Autumn: waiting']),
    )
  })

  it('of a funnel with deleted things says in its check what is missing', async () => {
    const { id } = await begin('two-pages')
    const { name, stations } = await view(id)
    const [, thanks] = stations
    await on.q.rows('delete from page where id = $1', [thanks?.page])
    await on.q.rows(`delete from tag where name = $1`, [name])
    const copy = await made<{ id: number }>(
      on.mara.post(`/funnels/${id}/copy`, {
        name: 'With gaps',
        path: 'with-gaps',
        whole: true,
        tags: 'shared',
      }),
    )
    expect((await view(copy.id)).stations).toHaveLength(1)
    expect(await errorsOf(copy.id)).toEqual(
      expect.arrayContaining([expect.stringContaining('Choose what is still open under “What it does”')]),
    )
  })
})
