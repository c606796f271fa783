import { request } from 'node:http'
import { beforeAll, describe, expect, it } from 'vitest'
import type { PageContent } from '../../core/pages/page.ts'
import { composer } from '../../core/blocks/compose.ts'
import type { Block } from '../../core/blocks/block.ts'
import { mergePeople } from '../../server/audience/people/merging.ts'
import { readerMark } from '../../server/pages/readers.ts'
import { deviceOf } from '../../server/pages/visits.ts'
import { contentOf, numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { computer, lookAt, publish as publishOn, publishForm } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall()
const { block, text, section, document } = composer(numberedIds('visitor'))
const phone = 'Mozilla/5.0 (Linux; Android 15; Pixel) AppleWebKit/537.36 Chrome/140 Mobile Safari/537.36'

const look = (path: string, headers: Record<string, string> = {}): Promise<Response> =>
  lookAt(`${on.install.url}${path}`, headers)

/** Asks under another name, which fetch does not let one do. */
const askAs = (
  host: string,
  path: string,
  headers: Record<string, string> = {},
): Promise<{ status: number; body: string }> =>
  new Promise((resolve, reject) => {
    const { hostname, port } = new URL(on.install.url)
    request({ hostname, port, path, headers: { host, 'user-agent': computer, ...headers } }, (answer) => {
      let body = ''
      answer.setEncoding('utf8')
      answer.on('data', (chunk: string) => (body += chunk))
      answer.on('end', () => resolve({ status: answer.statusCode ?? 0, body }))
    })
      .on('error', reject)
      .end()
  })

const publish = (
  path: string,
  blocks: Block[],
  given: Partial<PageContent> = {},
  course: number | null = null,
): Promise<number> => publishOn(on, path, blocks, given, course)

describe('a page that is the same for all', () => {
  beforeAll(() =>
    publish('plain', [block('heading', { level: 1, words: 'Plain words' }), text('Text.')]).then(
      () => undefined,
    ),
  )

  it('is complete, lets nothing in but its own style, and sets no cookie', async () => {
    const answer = await look('/p/plain')
    const markup = await answer.text()
    expect(markup).toContain('<h1>Plain words</h1>')
    expect(markup).not.toMatch(/<script|http-equiv/)
    expect(Buffer.byteLength(markup)).toBeLessThan(30_000)
    expect(answer.headers.get('set-cookie')).toBeNull()
    const policy = answer.headers.get('content-security-policy')
    expect(policy).toMatch(
      /^default-src 'none'; style-src 'sha256-[^']+'; font-src 'self'; img-src 'self'; form-action/,
    )
    expect(policy).not.toContain('script-src')
  })

  it('is not sent again while it is the same (RFC 9110 §13.1.2), and anew when it is another', async () => {
    const etag = (await look('/p/plain')).headers.get('etag')!
    // One name for the plain bytes and the compressed ones: a weak one (RFC 9110 §8.8.1).
    expect(etag).toMatch(/^W\//)
    expect((await look('/p/plain', { 'accept-encoding': 'identity' })).headers.get('etag')).toBe(etag)
    const { host } = new URL(on.install.url)
    const ask = (known: string) => askAs(host, '/p/plain', { 'if-none-match': known })
    expect(await ask(etag)).toEqual({ status: 304, body: '' })
    expect(await ask(`"other", ${etag}`)).toEqual({ status: 304, body: '' })
    expect((await ask('"another"')).status).toBe(200)
  })

  it('is sent compressed to who can read that', async () => {
    const answer = await look('/p/plain', { 'accept-encoding': 'gzip' })
    expect(answer.headers.get('content-encoding')).toBe('gzip')
  })

  it('tells search engines and who shares it what it is', async () => {
    const markup = await (await look('/p/plain')).text()
    expect(markup).toContain(`<link rel="canonical" href="${on.install.url}/p/plain">`.replace('>', ''))
    expect(markup).toContain('property="og:title" content="plain"')
    expect(await (await look('/robots.txt')).text()).toContain(`Sitemap: ${on.install.url}/sitemap.xml`)
    const sitemap = await (await look('/sitemap.xml')).text()
    expect(sitemap).toContain(`<loc>${on.install.url}/p/plain</loc>`)
    // A thank-you page is found by the form alone.
    expect(sitemap).not.toContain('template-pack/thanks')
  })
})

const visitsOf = (page: number) =>
  on.q.rows<{ visitor: string; device: string; contact_id: number | null; source: object }>(
    `select encode(visitor, 'hex') visitor, device, contact_id, source from visit where page_id = $1 order by id`,
    [page],
  )

describe('a visit', () => {
  it('is counted, a visitor of a day once, without robots and without who asks not to be', async () => {
    const page = await publish('counted', [text('Count me')])
    await look('/p/counted?utm_source=makers-letter')
    await look('/p/counted', { 'user-agent': phone })
    await look('/p/counted')
    await look('/p/counted', { 'user-agent': 'Googlebot/2.1 (+http://www.google.com/bot.html)' })
    await look('/p/counted', { dnt: '1' })
    await look('/p/counted', { 'sec-gpc': '1' })
    const visits = await eventually(async () => {
      const found = await visitsOf(page)
      return found.length >= 3 && found
    })
    // They were written in one statement, in whatever order.
    expect(visits.map(({ device }) => device).sort()).toEqual(['computer', 'computer', 'phone'])
    expect(visits.map(({ source }) => source)).toContainEqual({ utm_source: 'makers-letter' })
    expect(visits.every((visit) => visit.contact_id === null)).toBe(true)
    expect(new Set(visits.map(({ visitor }) => visitor)).size).toBe(2)
  })

  it('cannot be told from one of another day', async () => {
    const page = await publish('salted', [text('Salt')])
    await look('/p/salted')
    await eventually(async () => (await visitsOf(page)).length === 1)
    on.install.clock.move(86_400_000)
    await look('/p/salted')
    const [first, second] = await eventually(async () => {
      const found = await visitsOf(page)
      return found.length === 2 && found
    })
    expect(first!.visitor).not.toBe(second!.visitor)
  })

  it('is not counted where the marketer does not want that', async () => {
    const page = await publish('uncounted', [text('No')])
    const { settings } = await on.mara.get<{ settings: object }>('/site')
    await on.mara.post('/site/settings', { ...settings, countVisits: false })
    await new Promise((done) => setTimeout(done, 200))
    await look('/p/uncounted')
    await on.mara.post('/site/settings', settings)
    await new Promise((done) => setTimeout(done, 700))
    expect(await visitsOf(page)).toEqual([])
  })

  it.each([
    [phone, 'phone'],
    [computer, 'computer'],
    ['Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) AppleWebKit/605', 'tablet'],
    ['Mozilla/5.0 (Linux; Android 14; Tab) AppleWebKit/537.36 Chrome/140 Safari/537.36', 'tablet'],
    ['', 'computer'],
  ])('of %s is of a %s', (userAgent, device) => {
    expect(deviceOf(userAgent)).toBe(device)
  })
})

describe('somebody who is known by their signed mark', () => {
  const markOf = async (address: string, given: object = {}): Promise<string> =>
    readerMark(on.install.platform, await on.add(address, given))

  it('is named, and seen by nobody else; a made-up or old mark is a stranger’s', async () => {
    await publish('greeting', [block('heading', { words: "Hello, {first name or 'friend'}" })])
    const mark = await markOf('greeted@postbox.test', { firstName: 'Greta' })
    expect(await (await look(`/p/greeting?me=${mark}`)).text()).toContain('Hello, Greta')
    expect(await (await look('/p/greeting')).text()).toContain('Hello, friend')
    expect(await (await look(`/p/greeting?me=${mark}x`)).text()).toContain('Hello, friend')
    const { platform } = on.install
    const longAgo = { now: () => platform.clock.now() - 181 * 86_400_000 }
    const old = readerMark(
      { ...platform, clock: longAgo },
      await on.add('old@postbox.test', { firstName: 'Otto' }),
    )
    expect(await (await look(`/p/greeting?me=${old}`)).text()).toContain('Hello, friend')
  })

  it('is kept in a cookie only after consent', async () => {
    const mark = await markOf('kept@postbox.test', { firstName: 'Kay' })
    expect((await look(`/p/greeting?me=${mark}`)).headers.get('set-cookie')).toBeNull()
    const allowed = await look(`/p/greeting?me=${mark}`, { cookie: 'consent=yes' })
    expect(allowed.headers.get('set-cookie')).toMatch(/^reader=.*HttpOnly; SameSite=Lax/)
    expect(await (await look('/p/greeting', { cookie: `consent=yes; reader=${mark}` })).text()).toContain(
      'Hello, Kay',
    )
  })

  it('sees what is shown to them, and gets a page that is limited to some; others get what was written', async () => {
    const buyer = await markOf('buyer@postbox.test', { tags: ['Bought'] })
    const tags = await on.mara.get<{ id: number; name: string }[]>('/tags')
    const people = { kind: 'hasTag', tag: tags.find(({ name }) => name === 'Bought')!.id } as const
    await publish('partly', [{ ...text('Only for buyers'), shownTo: { people, instead: 'For the others' } }])
    expect(await (await look(`/p/partly?me=${buyer}`)).text()).toContain('Only for buyers')
    const stranger = await (await look('/p/partly')).text()
    expect(stranger).toContain('For the others')
    expect(stranger).not.toContain('Only for buyers')

    await publish('members', [text('Secret room')], {
      limitedTo: { people, others: { get: 'text', words: 'Ask us' } },
    })
    const refused = await look('/p/members')
    expect([refused.status, (await refused.text()).includes('Secret room')]).toEqual([403, false])
    expect(await (await look(`/p/members?me=${buyer}`)).text()).toContain('Secret room')
    const page = await publish('elsewhere', [text('Elsewhere')])
    await publish('sent-on', [text('Secret')], { limitedTo: { people, others: { get: 'page', page } } })
    expect((await look('/p/sent-on')).headers.get('location')).toBe('/p/elsewhere')
  })

  it('gets the file of a button; a stranger gets none', async () => {
    const target = { to: 'file', file: on.install.ids.file } as const
    await publish('handout', [block('button', { label: 'Take it', target })])
    const mark = await markOf('taker@postbox.test')
    const href = /href="([^"]*\/files\/[^"]+)"/.exec(await (await look(`/p/handout?me=${mark}`)).text())?.[1]
    expect((await fetch(href!)).headers.get('content-type')).toBe('application/pdf')
    expect(await (await look('/p/handout')).text()).not.toContain('/files/')
  })
})

describe('what is not for everybody', () => {
  it('is kept by no proxy, and not shown to who sends something wrong to its form', async () => {
    const people = { kind: 'hasTag', tag: on.install.ids.tag } as const
    await publish('closed-form', [text('Closed words'), block('form', { form: await publishForm(on) })], {
      limitedTo: { people, others: { get: 'text', words: 'Not for you' } },
    })
    const answer = await fetch(`${on.install.url}/p/closed-form`, {
      method: 'POST',
      body: new URLSearchParams({ address: 'nonsense' }),
      redirect: 'manual',
    })
    const told = await answer.text()
    expect([answer.status, told.includes('Closed words'), told.includes('Not for you')]).toEqual([
      403,
      false,
      true,
    ])
    const mark = readerMark(on.install.platform, await on.add('private@postbox.test', { firstName: 'Prue' }))
    const personal = await look(`/p/greeting?me=${mark}`)
    expect(personal.headers.get('cache-control')).toBe('private, no-store')
    expect(personal.headers.get('etag')).toBeNull()
  })

  it('is not counted of people in rehearsal, nor of a look at the head alone', async () => {
    const page = await publish('uncounted-too', [block('heading', { words: '{first name}' })])
    const id = await on.add('made-up@postbox.test')
    await on.q.rows('update contact set rehearsal = true where id = $1', [id])
    await look(`/p/uncounted-too?me=${readerMark(on.install.platform, id)}`)
    await fetch(`${on.install.url}/p/uncounted-too`, { method: 'HEAD', headers: { 'user-agent': computer } })
    await look('/p/uncounted-too')
    const visits = await eventually(async () => {
      const found = await visitsOf(page)
      return found.length > 0 && found
    })
    await new Promise((done) => setTimeout(done, 700))
    expect([visits.length, (await visitsOf(page)).length]).toEqual([1, 1])
  })

  it('cannot be made by typing what a form’s token stands for', async () => {
    await publish('token-words', [text('value="§token§"')])
    const markup = await (await look('/p/token-words')).text()
    expect(markup).toContain('value=&quot;§token§&quot;')
  })
})

describe('a countdown that ends while nobody publishes', () => {
  it('is over on the server’s clock, also for who runs no script', async () => {
    const until = new Date(on.install.clock.now() + 3_600_000).toISOString()
    await publish('closing', [block('countdown', { until, words: 'Closes', after: 'Closed now' })])
    expect(await (await look('/p/closing')).text()).toContain('Closes')
    on.install.clock.move(3_600_000)
    const markup = await (await look('/p/closing')).text()
    expect([markup.includes('<p class="count">Closed now'), markup.includes('Closes')]).toEqual([true, false])
  })
})

describe('the lessons of a course', () => {
  it('open one after the other for each person, and say when', async () => {
    const { id: course } = await made<{ id: number }>(on.mara.post('/courses', { name: 'Folding' }))
    const lessons = [block('lessonList', { course })]
    await publish('fold-1', [text('First fold'), ...lessons], {}, course)
    await publish(
      'fold-2',
      [text('Second fold'), ...lessons],
      { opens: { when: 'daysAfterStart', days: 1 } },
      course,
    )
    await publish('fold-3', [text('Third fold'), ...lessons], { opens: { when: 'previousSeen' } }, course)
    const mark = readerMark(on.install.platform, await on.add('learner@postbox.test'))
    const first = await (await look(`/p/fold-1?me=${mark}`)).text()
    expect(first).toContain('opens')
    // The mark goes along to the next lesson, since there is no cookie.
    expect(first).toContain(`href="/p/fold-1?me=${mark}"`)
    const locked = await look(`/p/fold-2?me=${mark}`)
    expect(locked.status).toBe(403)
    expect(await locked.text()).toMatch(/This lesson opens \w+day \d+ \w+\./)
    expect((await look(`/p/fold-3?me=${mark}`)).status).toBe(403)
    on.install.clock.move(86_400_000)
    expect(await (await look(`/p/fold-2?me=${mark}`)).text()).toContain('Second fold')
    expect(await (await look(`/p/fold-3?me=${mark}`)).text()).toContain('Third fold')
    // A stranger sees what is open to all, may not go on, and is led to where one begins.
    const early = await look('/p/fold-2')
    expect(early.status).toBe(403)
    expect(await early.text()).toContain('<a href="/p/fold-1">Go on with “fold-1”</a>')
  })
})

describe('who was two people', () => {
  it('goes on in the course where either of them was', async () => {
    const [kept, gone] = [await on.add('kept-one@postbox.test'), await on.add('gone-one@postbox.test')]
    await look(`/p/fold-1?me=${readerMark(on.install.platform, gone)}`)
    await mergePeople(on.install.platform, kept, gone, 'Mara Ellery')
    const seen = await on.q.rows('select page_id from lesson_seen where contact_id = $1', [kept])
    expect(seen).toHaveLength(1)
  })
})

describe('a domain of the business', () => {
  it('has pages whose address only begins like one of ours', async () => {
    await publish('go-on', [text('Go on')])
    const { settings } = await on.mara.get<{ settings: object }>('/site')
    await on.mara.post('/site/settings', { ...settings, domains: ['begins.quillfeather.example'] })
    await eventually(async () => (await askAs('begins.quillfeather.example', '/go-on')).status === 200)
    await on.mara.post('/site/settings', settings)
  })

  it('has the pages without a prefix, and neither application nor API', async () => {
    await publish('at-home', [
      block('button', { label: 'On', target: { to: 'path', path: '/contact-card.vcf' } }),
    ])
    expect((await askAs('pages.quillfeather.example', '/at-home')).status).toBe(421)
    const { settings } = await on.mara.get<{ settings: object }>('/site')
    await on.mara.post('/site/settings', { ...settings, domains: ['pages.quillfeather.example'] })
    const found = await eventually(async () => {
      const answer = await askAs('pages.quillfeather.example', '/at-home')
      return answer.status === 200 && answer
    })
    expect(found.body).toContain('https://pages.quillfeather.example/at-home')
    for (const path of ['/app/today', '/api/auth/me', '/p/at-home', '/healthz'])
      expect([path, (await askAs('pages.quillfeather.example', path)).status]).toEqual([path, 404])
    expect((await askAs('pages.quillfeather.example', '/robots.txt')).body).toContain(
      'https://pages.quillfeather.example/sitemap.xml',
    )
    await on.mara.post('/site/settings', settings)
  })
})

describe('a video of the Library', () => {
  it('is sent in the stretches that a player asks for (RFC 9110 §14)', async () => {
    // The first bytes of an MP4 file: a box of the type ftyp (ISO/IEC 14496-12).
    const bytes = Buffer.concat([
      Buffer.from('\0\0\0\x18ftypmp42\0\0\0\0mp42isom', 'latin1'),
      Buffer.alloc(5_000, 7),
    ])
    const { id } = await made<{ id: number }>(on.mara.send('/files/upload?name=a.mp4', bytes))
    await publish('film', [
      block('video', { title: 'Film', source: { from: 'file', file: id, captions: null } }),
    ])
    const answer = await look('/p/film')
    expect(answer.headers.get('content-security-policy')).toContain("media-src 'self'")
    const path = /src="(\/media\/[^"]+)"/.exec(await answer.text())![1]!
    const part = await look(path, { range: 'bytes=10-19' })
    expect([part.status, part.headers.get('content-range')]).toEqual([206, `bytes 10-19/${bytes.length}`])
    expect(Buffer.from(await part.arrayBuffer())).toEqual(bytes.subarray(10, 20))
    expect((await look(path, { range: `bytes=${bytes.length}-` })).status).toBe(416)
    expect((await look(path.replace(/-.*/, '-guessed'))).status).toBe(404)
  })
})

describe('a preview', () => {
  it('shows the draft to who has the link, for a week, and to no search engine', async () => {
    const content = contentOf(document(section([{ blocks: [text('Not yet public')] }])))
    const { id } = await made<{ id: number }>(
      on.mara.post('/pages', { name: 'Draft', path: 'draft', purpose: 'any', content }),
    )
    const { url } = (await (await on.mara.post(`/pages/${id}/preview-link`)).json()) as { url: string }
    const answer = await fetch(url)
    expect(await answer.text()).toContain('Not yet public')
    expect(answer.headers.get('x-robots-tag')).toBe('noindex')
    on.install.clock.move(8 * 86_400_000)
    expect((await fetch(url)).status).toBe(404)
  })
})

describe('scripts that count visitors', () => {
  it('are allowed by name only where they are set, behind a question that can be answered either way', async () => {
    const { settings } = await on.mara.get<{ settings: object }>('/site')
    await on.mara.post('/site/settings', { ...settings, trackingScripts: ['https://count.example/a.js'] })
    const answer = await eventually(async () => {
      const found = await look('/p/plain')
      return found.headers.get('content-security-policy')?.includes('script-src') && found
    })
    expect(answer.headers.get('content-security-policy')).toContain("script-src 'self' https://count.example")
    const markup = await answer.text()
    expect(markup).toContain('data-consent="yes"')
    expect(markup).toContain('data-consent="no"')
    // Nothing of the other host is loaded by the markup itself.
    expect(markup).not.toMatch(/<(?:script|img|link)[^>]*count\.example/)
    await on.mara.post('/site/settings', settings)
  })
})
