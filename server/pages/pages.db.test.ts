import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import type { DraftState } from '../../contract/drafts.ts'
import type { PageRow, PageView, SiteView } from '../../contract/pages.ts'
import type { PageContent } from '../../core/pages/page.ts'
import { composer } from '../../core/blocks/compose.ts'
import { contentOf, numberedIds } from '../../testing/documents.ts'
import { eventually } from '../../testing/waiting.ts'
import { made } from '../../testing/people.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall()
const { block, text, section, document } = composer(numberedIds('server'))

const page = (words: string): PageContent =>
  contentOf(
    document(section([{ blocks: [block('heading', { level: 1, words }), text('Below it.')] }])),
    words,
  )
let count = 0
/** A new page with a heading, not published yet. */
async function create(words = 'Hello', path = `page-${(count += 1)}`): Promise<PageView> {
  const { id } = await made<{ id: number }>(
    on.mara.post('/pages', { name: words, path, purpose: 'landing', content: page(words) }),
  )
  return on.mara.get<PageView>(`/pages/${id}`)
}
const look = (path: string, init: RequestInit = {}): Promise<Response> =>
  fetch(`${on.install.url}/p/${path}`, { redirect: 'manual', ...init })
const save = (view: PageView, content: PageContent, given: object = {}): Promise<Response> =>
  on.mara.post(`/pages/${view.id}/save`, {
    version: view.version,
    revision: view.revision,
    content,
    ...given,
  })
async function publish(view: PageView): Promise<PageView> {
  const { version, revision } = await on.mara.get<PageView>(`/pages/${view.id}`)
  expect((await on.mara.post(`/pages/${view.id}/publish`, { version, revision })).status).toBe(204)
  return on.mara.get<PageView>(`/pages/${view.id}`)
}
/** The page as visitors see it, once it says that. */
const shows = (path: string, words: string): Promise<string> =>
  eventually(async () => {
    const markup = await (await look(path)).text()
    return markup.includes(words) && markup
  })

describe('a page', () => {
  it('is seen by visitors once it is published, and not before', async () => {
    const view = await create('First words')
    expect((await look(view.path)).status).toBe(404)
    expect(view.state).toBe('draft')
    await publish(view)
    expect(await shows(view.path, 'First words')).toContain('<h1>First words</h1>')
  })

  it('shows its published version until the draft is published; then everybody sees that', async () => {
    const view = await publish(await create('Version one'))
    await shows(view.path, 'Version one')
    const saved = (await (await save(view, page('Version two'))).json()) as DraftState
    expect(saved).toMatchObject({ version: 2, revision: 1 })
    expect(saved.changes).toContain('Changed title')
    expect(await (await look(view.path)).text()).toContain('Version one')
    await publish(view)
    await shows(view.path, 'Version two')
  })

  it('goes back to any version, and what was written since stays', async () => {
    const view = await publish(await create('Before'))
    await save(view, page('After'))
    await publish(view)
    expect((await on.mara.post(`/pages/${view.id}/go-back`, { version: 1 })).status).toBe(204)
    const back = await on.mara.get<PageView>(`/pages/${view.id}`)
    expect(back.content.title).toBe('Before')
    expect(back.versions.map(({ number, published }) => [number, published])).toEqual([
      [3, false],
      [2, true],
      [1, false],
    ])
  })

  it('that is published while visitors read is one version or the other, never half of both', async () => {
    const view = await publish(await create('Red'))
    const reader = { stopped: false }
    const seen = new Set<string>()
    const reading = (async () => {
      while (!reader.stopped) {
        const markup = await (await look(view.path)).text()
        seen.add([/<title>(\w+)/.exec(markup)?.[1], /<h1>(\w+)/.exec(markup)?.[1]].join(' '))
      }
    })()
    for (const words of ['Green', 'Blue']) {
      await save(await on.mara.get<PageView>(`/pages/${view.id}`), page(words))
      await publish(view)
      await shows(view.path, words)
    }
    reader.stopped = true
    await reading
    expect([...seen].sort()).toEqual(['Blue Blue', 'Green Green', 'Red Red'])
  })

  it('with an error is not published, and says which', async () => {
    const view = await create()
    const content = contentOf(document(section([{ blocks: [block('button', { label: 'Go' })] }])))
    await save(view, content)
    const { version, revision, findings } = await on.mara.get<PageView>(`/pages/${view.id}`)
    expect(findings[0]).toMatchObject({ level: 'error', words: 'Choose where the button leads' })
    const answer = await on.mara.post(`/pages/${view.id}/publish`, { version, revision })
    expect([answer.status, ((await answer.json()) as { detail: string }).detail]).toEqual([
      422,
      'Choose where the button leads',
    ])
  })
})

describe('two people in one page', () => {
  it('are told of each other, and the second save is refused with who was first; nothing is lost', async () => {
    const view = await create('Shared')
    await on.q.rows(`insert into page_editor (page_id, name, seen_at) values ($1, 'Tom Ashby', $2)`, [
      view.id,
      new Date(on.install.clock.now()),
    ])
    expect((await on.mara.get<PageView>(`/pages/${view.id}`)).others).toEqual(['Tom Ashby'])
    expect((await save(view, page('Mine first'))).status).toBe(200)
    await on.q.rows(`update page_version set made_by = 'Tom Ashby' where page_id = $1`, [view.id])
    const stale = await save(view, page('Mine second'))
    expect(stale.status).toBe(409)
    expect(((await stale.json()) as { title: string }).title).toBe(
      'Tom Ashby has changed this page meanwhile',
    )
    expect((await on.mara.get<PageView>(`/pages/${view.id}`)).content.title).toBe('Mine first')
    expect((await save(view, page('Mine second'), { over: true })).status).toBe(200)
  })

  it('who save at the very same moment do not both get through', async () => {
    const view = await create('Race')
    const answers = await Promise.all([
      save(view, page('One')),
      save(view, page('Two')),
      save(view, page('Three')),
    ])
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409, 409])
  })
})

describe('an address', () => {
  it('leads on to where the page is now, and a clash is said', async () => {
    const view = await publish(await create('Moves'))
    const settings = { name: 'Moves', path: 'moved-here', purpose: 'landing', course: null }
    expect((await on.mara.post(`/pages/${view.id}/settings`, settings)).status).toBe(204)
    await shows('moved-here', 'Moves')
    const old = await eventually(async () => {
      const answer = await look(view.path)
      return answer.status === 301 && answer
    })
    expect(old.headers.get('location')).toBe('/p/moved-here')

    const other = await create('Other')
    const clash = await on.mara.post(`/pages/${other.id}/settings`, { ...settings, name: 'Other' })
    expect(clash.status).toBe(409)
    expect(((await clash.json()) as { fields: object }).fields).toEqual({ path: '“Moves” has this address' })
    const asked = await on.mara.post('/pages/check-path', { path: 'moved-here', page: other.id })
    expect(await asked.json()).toEqual({ fault: '“Moves” has this address' })
    const reserved = await on.mara.post('/pages/check-path', { path: 'api', page: null })
    expect(await reserved.json()).toEqual({ fault: 'This address is used by Nurtel itself' })
  })
})

describe('a page that others lead to', () => {
  it('says where it is used; once it is deleted, those that led there say so', async () => {
    const goal = await publish(await create('Goal'))
    const from = await create('From')
    const target = { to: 'page', page: goal.id } as const
    const content = contentOf(document(section([{ blocks: [block('button', { label: 'On', target })] }])))
    await save(from, content)
    const row = (await on.mara.get<PageRow[]>('/pages')).find(({ id }) => id === goal.id)
    expect(row?.usedIn).toEqual(['page From'])
    expect((await on.mara.post(`/pages/${goal.id}/delete`)).status).toBe(204)
    const { findings } = await on.mara.get<PageView>(`/pages/${from.id}`)
    expect(findings[0]?.words).toBe('“On” leads to a page that was deleted')
    await eventually(async () => (await look(goal.path)).status === 404)
  })

  it('is away for its visitors when archived, and comes back', async () => {
    const view = await publish(await create('Shelf'))
    await shows(view.path, 'Shelf')
    await on.mara.post(`/pages/${view.id}/archive`, { archived: true })
    await eventually(async () => (await look(view.path)).status === 404)
    await on.mara.post(`/pages/${view.id}/archive`, { archived: false })
    await shows(view.path, 'Shelf')
  })

  it('can be copied: another page with ids of its own, as a draft', async () => {
    const view = await publish(await create('Twice'))
    const { id } = await made<{ id: number }>(on.mara.post(`/pages/${view.id}/copy`))
    const copy = await on.mara.get<PageView>(`/pages/${id}`)
    expect([copy.name, copy.path, copy.state]).toEqual(['Twice (copy)', `${view.path}-2`, 'draft'])
    expect(copy.content.document.sections[0]!.id).not.toBe(view.content.document.sections[0]!.id)
  })
})

describe('what comes from outside', () => {
  it.each([
    ['no document', { title: 'x', listed: true }],
    ['a foreign shape', { title: 'x', listed: true, document: { ops: [] } }],
    [
      'a block of no kind',
      {
        ...page('x'),
        document: {
          sections: [
            {
              id: 'abcdef',
              look: {},
              columns: [{ id: 'bcdefg', blocks: [{ id: 'cdefgh', kind: 'magic' }] }],
            },
          ],
        },
      },
    ],
  ])('as %s is refused with what is wrong', async (_, content) => {
    const view = await create()
    const answer = await save(view, content as PageContent)
    expect(answer.status).toBe(422)
    expect((await on.mara.get<PageView>(`/pages/${view.id}`)).revision).toBe(view.revision)
  })

  it('as own HTML is made safe when it is saved', async () => {
    const view = await create()
    const own = block('ownHtml', { markup: '<p onclick="x()">a</p><script>x()</script>' })
    await save(view, contentOf(document(section([{ blocks: [own] }]))))
    const { content } = await on.mara.get<PageView>(`/pages/${view.id}`)
    expect(JSON.stringify(content)).toContain('<p>a</p>')
    expect(JSON.stringify(content)).not.toContain('<script')
  })
})

const upload = (path: string, name: string, bytes: Buffer): Promise<Response> =>
  on.mara.send(`/${path}/upload?name=${encodeURIComponent(name)}`, bytes)
const drawn = (width: number, height: number): Promise<Buffer> =>
  sharp({ create: { width, height, channels: 3, background: '#7A2048' } })
    .png()
    .toBuffer()

describe('a picture', () => {
  it('is made in several widths as WebP and JPEG, which browsers may keep for ever', async () => {
    const { id } = await made<{ id: number }>(upload('pictures', 'wide.png', await drawn(1_200, 600)))
    const { pictures } = await on.mara.get<SiteView>('/site')
    const stored = pictures.find((picture) => picture.id === id)!
    expect(stored).toMatchObject({ width: 1200, height: 600, widths: [320, 640, 1000, 1200] })
    for (const format of ['webp', 'jpg']) {
      const answer = await fetch(`${on.install.url}${stored.base}-640.${format}`)
      expect(answer.headers.get('cache-control')).toContain('immutable')
      const { width, height, format: found } = await sharp(Buffer.from(await answer.arrayBuffer())).metadata()
      expect([width, height, found]).toEqual([640, 320, format === 'jpg' ? 'jpeg' : 'webp'])
    }
    expect((await fetch(`${on.install.url}${stored.base}-641.webp`)).status).toBe(404)
  })

  it('is known by its bytes: what lies about its type is refused', async () => {
    const svg = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>')
    for (const [name, bytes] of [
      ['a.png', Buffer.from('<html><script>alert(1)</script>')],
      ['b.jpg', svg],
      ['c.svg', svg],
      ['d.png', Buffer.concat([(await drawn(400, 400)).subarray(0, 200), Buffer.alloc(50)])],
    ] as const) {
      const answer = await upload('pictures', name, bytes)
      expect([name, answer.status]).toEqual([name, 422])
      expect(((await answer.json()) as { detail: string }).detail).toMatch(/Use a JPEG|Save it again/)
    }
  })

  it('of a hundred megapixels is refused before it is unpacked', async () => {
    // A PNG of one colour is small, however large it is drawn.
    const answer = await upload('pictures', 'huge.png', await drawn(10_000, 10_000))
    expect(answer.status).toBe(422)
    expect(((await answer.json()) as { title: string }).title).toBe('This picture is too large')
  })

  it('that is replaced keeps its links; one in use is not deleted', async () => {
    const { id } = await made<{ id: number }>(upload('pictures', 'old.png', await drawn(400, 400)))
    const view = await create()
    await save(
      view,
      contentOf(document(section([{ blocks: [block('picture', { picture: id, alt: 'x' })] }]))),
    )
    const before = (await on.mara.get<SiteView>('/site')).pictures.find((each) => each.id === id)!
    await on.mara.send(`/pictures/upload?name=new.png&replaces=${id}`, await drawn(800, 400))
    const after = (await on.mara.get<SiteView>('/site')).pictures.find((each) => each.id === id)!
    expect([after.width, after.base === before.base]).toEqual([800, false])
    const refused = await on.mara.post(`/pictures/${id}/delete`)
    expect(refused.status).toBe(409)
    expect(((await refused.json()) as { detail: string }).detail).toContain('page Hello')
  })
})

describe('a file', () => {
  it('that says it is captions and is none is refused', async () => {
    expect((await upload('files', 'a.vtt', Buffer.from('hello'))).status).toBe(422)
    expect((await upload('files', 'a.vtt', Buffer.from('WEBVTT\n\n'))).status).toBe(201)
  })
})
