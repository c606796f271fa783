import { beforeAll, describe, expect, it } from 'vitest'
import type { FunnelCheck, FunnelView, Mended } from '../../contract/funnels.ts'
import { checklist, type ChecklistItem, type FunnelProgress } from '../../core/funnels/checklist.ts'
import { funnelStarters } from '../../core/funnels/starters.ts'
import { made } from '../../testing/people.ts'
import { lookAt } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ worker: false })
let count = 0

interface Begun {
  id: number
  path: string
}
async function begin(starter: string, rest: object = {}): Promise<Begun> {
  count += 1
  const path = `start-${count}`
  const goal = funnelStarters.find((each) => each.id === starter)?.goal ?? 'nothing'
  const body = {
    name: `Started ${count}`,
    goal,
    labels: ['new'],
    starter,
    path,
    currency: null,
    opens: starter === 'waiting-list' ? '2030-03-01' : null,
    ...rest,
  }
  return { ...(await made<{ id: number }>(on.mara.post('/funnels', body))), path }
}
const view = (id: number): Promise<FunnelView> => on.mara.get(`/funnels/${id}`)
const check = (id: number): Promise<FunnelCheck> => on.mara.get(`/funnels/${id}/check`)
const errorsOf = async (id: number): Promise<string[]> =>
  (await check(id)).filter(({ level }) => level === 'error').map(({ words }) => words)
const look = (path: string): Promise<Response> =>
  lookAt(`${on.install.url}/p/${path}`, { 'user-agent': 'testbot' })
const mend = (id: number, wish: object): Promise<Mended> => made(on.mara.post(`/funnels/${id}/mend`, wish))

let file = 0
beforeAll(async () => {
  file = (
    (await (await on.mara.send('/files/upload?name=guide.txt', 'Fold along the grain.')).json()) as {
      id: number
    }
  ).id
  await on.mara.post('/tax', { tax: 'inside', home: 'NL', rates: [{ country: 'NL', rate: 2_100 }] })
  await on.q.rows(`update business set postal_address = '3 Mill Lane, 1011 AB Amsterdam'`)
})

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
        expect((await on.mara.post(`/funnels/${id}/give-file`, { file })).status).toBe(204)
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
        [`Started ${count}%`],
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

    await on.mara.post(`/funnels/${id}/give-file`, { file })
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
    await on.mara.post(`/funnels/${id}/give-file`, { file })
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
    expect(text).toContain(`"file":${file}`)
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
    const [, thanks] = (await view(id)).stations
    await on.q.rows('delete from page where id = $1', [thanks?.page])
    await on.q.rows(`delete from tag where name = $1`, [`Started ${count}`])
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

describe('a funnel file', () => {
  const exported = async (id: number): Promise<string> =>
    (await on.mara.download(`/funnels/${id}/funnel.json`)).text()
  const bring = (text: string, query = ''): Promise<Response> => on.mara.send(`/funnels/import${query}`, text)

  it('of something that is sold brings its products; deadlines and coupons of the same name stand for its own', async () => {
    const { id } = await begin('one-more-look')
    await on.mara.post('/coupons', {
      code: 'LOOK-AGAIN',
      off: { by: 'percent', percent: 10 },
      each: { lasts: null },
    })
    await on.q.rows(
      `update followup_version set content = jsonb_set(content, '{steps,0}',
         '{"kind":"makeCoupon","id":"code","coupon":"LOOK-AGAIN"}')
       where followup_id = any(select unnest(followups) from funnel where id = $1)`,
      [id],
    )
    const text = await exported(id)
    const file = JSON.parse(text) as Record<'products' | 'deadlines' | 'coupons', { name?: string }[]>
    expect([file.products.length, file.deadlines.length, file.coupons]).toMatchObject([
      1,
      1,
      [{ code: 'LOOK-AGAIN' }],
    ])
    const counts = async (): Promise<number[]> => {
      const row = await on.q.row<{ counts: number[] }>(
        `select json_build_array((select count(*) from product), (select count(*) from deadline),
           (select count(*) from coupon)) counts`,
      )
      return row?.counts ?? []
    }
    const [products = 0, deadlines = 0, coupons = 0] = await counts()
    const came = await made<{ id: number }>(bring(text))
    expect(await counts()).toEqual([products + 1, deadlines, coupons])
    const [page] = (await view(came.id)).stations
    const sold = await on.q.row<{ name: string }>(
      `select product.name from page_version
       join product on to_jsonb(product.id) = jsonb_path_query_first(content, '$.**.offers[*].product')
       where page_id = $1`,
      [page?.page],
    )
    expect(sold?.name).toBe(`${(await view(id)).name} (2)`)
    // Elsewhere nothing of that name is there, and all of it comes.
    const [deadline] = file.deadlines
    await made(bring(text.replaceAll(deadline?.name ?? '', 'Elsewhere').replaceAll('LOOK-AGAIN', 'ELSE-10')))
    expect(await counts()).toEqual([products + 2, deadlines + 1, coupons + 1])
  })

  it('holds all of it, and comes in beside what is there: nothing is overwritten', async () => {
    const { id } = await begin('confirmed-file')
    await on.mara.post(`/funnels/${id}/give-file`, { file })
    const text = await exported(id)
    expect(
      Buffer.from(
        (JSON.parse(text) as { files: { bytes: string }[] }).files[0]?.bytes ?? '',
        'base64',
      ).toString(),
    ).toBe('Fold along the grain.')
    const came = await made<{ id: number }>(bring(text))
    const [before, after] = [await view(id), await view(came.id)]
    expect(after.name).toBe(`${before.name} (2)`)
    expect(after.stations.map(({ purpose }) => purpose)).toEqual(
      before.stations.map(({ purpose }) => purpose),
    )
    // Addresses that are taken get a number.
    expect(after.stations.map(({ url }) => url)).toEqual(
      before.stations.map(({ url }) => url?.replace(/(start-\d+)/, '$1-2')),
    )
    expect((await errorsOf(came.id)).filter((words) => words.includes('same path'))).toEqual([])
    // The file came with it as another one.
    const third = JSON.stringify(await on.mara.get(`/pages/${after.stations[2]?.page}`))
    expect(third).not.toContain(`"file":${file},`)
    // What it says is the same, but for numbers.
    const again = JSON.parse(await exported(came.id)) as Record<string, unknown[]>
    const first = JSON.parse(text) as Record<string, unknown[]>
    for (const list of ['pages', 'forms', 'emails', 'followups', 'files', 'tags'])
      expect(again[list]).toHaveLength(first[list]?.length ?? -1)
  })

  it('without its media takes files of the same name, and says what it did not find', async () => {
    const { id } = await begin('free-file')
    await on.mara.post(`/funnels/${id}/give-file`, { file })
    const text = await (await on.mara.download(`/funnels/${id}/funnel.json?media=no`)).text()
    expect(text).not.toContain(Buffer.from('Fold along the grain.').toString('base64'))
    const came = await made<{ id: number }>(bring(text))
    expect((await errorsOf(came.id)).some((words) => words.includes('file'))).toBe(false)
    const lost = await made<{ id: number }>(bring(text.replaceAll('guide.txt', 'no-such.txt')))
    expect((await view(lost.id)).stations).toHaveLength(3)
  })

  it.each([
    ['a broken one', '{"format":"nurtel-funnel",', /This is no JSON/],
    ['another JSON', '{"a":1}', /no funnel/],
    ['one of a newer version', '{"format":"nurtel-funnel","version":9}', /newer Nurtel/],
    ['nothing', '', /This is no JSON/],
  ])('refuses %s with words, and changes nothing', async (_, text, words) => {
    const before = await on.q.rows('select from page')
    const answer = await bring(text)
    expect(answer.status).toBe(422)
    expect(((await answer.json()) as { detail: string }).detail).toMatch(words)
    expect(await on.q.rows('select from page')).toHaveLength(before.length)
  })

  it('of somebody hostile brings nothing that runs', async () => {
    const { id } = await begin('two-pages')
    const parsed = JSON.parse(await exported(id)) as {
      pages: { content: { document: { sections: { columns: { blocks: unknown[] }[] }[] } } }[]
    }
    parsed.pages[0]?.content.document.sections[0]?.columns[0]?.blocks.push({
      kind: 'ownHtml',
      id: 'hostile01',
      shownTo: null,
      markup: '<img src=x onerror=alert(1)><script>alert(2)</script><p>Fine</p>',
    })
    const came = await made<{ id: number }>(bring(JSON.stringify(parsed)))
    const page = JSON.stringify(await on.mara.get(`/pages/${(await view(came.id)).stations[0]?.page}`))
    expect(page).toContain('Fine')
    expect(page).not.toMatch(/onerror|<script/)
  })
})
