import { describe, expect, it } from 'vitest'
import sharp from 'sharp'
import type { CourseView } from '../../contract/courses.ts'
import type { DomainCheck, SiteView } from '../../contract/pages.ts'
import { composer } from '../../core/blocks/compose.ts'
import { contentOf, numberedIds } from '../../testing/documents.ts'
import { made } from '../../testing/people.ts'
import { lookAt, publish } from '../../testing/publishing.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'
import { checkDomain } from './domainCheck.ts'
import { forgetOldVisits } from './visits.ts'

const on = useInstall({ worker: false })
const { text, section, document } = composer(numberedIds('site'))

describe('a domain of the business', () => {
  it.each([
    ['pages.quillfeather.example', 'right', /leads here/],
    ['nowhere.quillfeather.example', 'missing', /has no record yet. Set A to 127\.0\.0\.1/],
    ['old.quillfeather.example', 'wrong', /leads elsewhere \(CNAME to shop\.elsewhere\.example\)/],
  ])('%s is %s', async (domain, state, words) => {
    const found = await made<DomainCheck>(on.mara.post('/site/check-domain', { domain }))
    expect(found.state).toBe(state)
    expect(found.words).toMatch(words)
  })

  it('is told what to set by name where the install has one', async () => {
    const settings = { ...on.install.platform.settings, publicUrl: 'https://shop.elsewhere.example' }
    expect(await checkDomain(settings, 'old.quillfeather.example')).toEqual({
      state: 'right',
      words: 'old.quillfeather.example leads here: CNAME to shop.elsewhere.example is set.',
    })
  })

  it('is no host name: refused with what to use', async () => {
    const answer = await on.mara.post('/site/check-domain', { domain: 'https://pages' })
    expect([answer.status, await answer.text()]).toEqual([422, expect.stringContaining('pages.example.com')])
  })

  it('is unknown while no name server answers', async () => {
    const settings = { publicUrl: 'http://127.0.0.1:1', nameServer: '127.0.0.1:9' }
    expect(await checkDomain(settings, 'pages.quillfeather.example')).toMatchObject({ state: 'unknown' })
  })
})

describe('the name of the business', () => {
  it('stands below every page at once, and may not be empty', async () => {
    await publish(on, 'named', [text('Words')])
    const postalAddress = '9 Deckle Row, Galway'
    const { business } = await on.mara.get<SiteView>('/site')
    expect((await on.mara.post('/site/sender', { name: 'Deckle & Daughters', postalAddress })).status).toBe(
      204,
    )
    const markup = await eventually(async () => {
      const found = await (await lookAt(`${on.install.url}/p/named`)).text()
      return found.includes('Deckle &amp; Daughters') && found
    })
    expect(markup).toContain(postalAddress)
    expect((await on.mara.post('/site/sender', { name: ' ', postalAddress })).status).toBe(422)
    await on.mara.post('/site/sender', business)
  })
})

describe('the lessons of a course', () => {
  it('are put in an order, all of them or none', async () => {
    const { id: course } = await made<{ id: number }>(on.mara.post('/courses', { name: 'Cutting' }))
    const pages = []
    for (const path of ['cut-1', 'cut-2', 'cut-3'])
      pages.push(await publish(on, path, [text(path)], {}, course))
    const [one = 0, two = 0, three = 0] = pages
    const order = (given: number[]): Promise<Response> =>
      on.mara.post(`/site/courses/${course}/order`, { pages: given })
    const lessons = async (): Promise<number[]> =>
      (await on.mara.get<CourseView[]>('/courses'))
        .find(({ id }) => id === course)!
        .lessons.map(({ page }) => page)
    expect(await lessons()).toEqual(pages)
    expect((await order([three, one, two])).status).toBe(204)
    expect(await lessons()).toEqual([three, one, two])
    for (const wrong of [
      [one, two],
      [one, two, two],
      [one, two, three, 99_999],
    ])
      expect((await order(wrong)).status).toBe(409)
    expect(await lessons()).toEqual([three, one, two])
  })
})

describe('a new lesson', () => {
  it('is a draft like any page, that nobody sees, and stands last in its course', async () => {
    const { id: course } = await made<{ id: number }>(on.mara.post('/courses', { name: 'Pressing' }))
    for (const path of ['press-1', 'press-2'])
      await made(
        on.mara.post('/pages', {
          name: path,
          path,
          purpose: 'lesson',
          course,
          content: contentOf(document(section([{ blocks: [text(path)] }])), path),
        }),
      )
    const found = (await on.mara.get<CourseView[]>('/courses')).find(({ id }) => id === course)
    expect(found?.lessons.map(({ name, live }) => [name, live])).toEqual([
      ['press-1', false],
      ['press-2', false],
    ])
    for (const path of ['press-1', 'press-2'])
      expect((await lookAt(`${on.install.url}/p/${path}`)).status).toBe(404)
    expect(
      await on.q.rows('select lesson_number n from page where course_id = $1 order by id', [course]),
    ).toEqual([{ n: 1 }, { n: 2 }])
  })
})

describe('a page with an icon of its own', () => {
  it('shows that, and others that of the site', async () => {
    const drawn = await sharp({ create: { width: 64, height: 64, channels: 3, background: '#345' } })
      .png()
      .toBuffer()
    const { id: icon } = await made<{ id: number }>(on.mara.send('/pictures/upload?name=i.png', drawn))
    await publish(on, 'own-icon', [text('Mine')], { icon })
    await publish(on, 'plain-icon', [text('Plain')])
    const iconOf = async (path: string): Promise<string> =>
      /<link rel="icon" href="([^"]+)"/.exec(await (await lookAt(`${on.install.url}/p/${path}`)).text())![1]!
    expect(await iconOf('own-icon')).toMatch(new RegExp(`^/pictures/${icon}-`))
    expect(await iconOf('plain-icon')).toBe('/assets/icon.svg')
    const pictures = await on.mara.get<{ id: number; usedIn: string[] }[]>('/pictures')
    expect(pictures.find(({ id }) => id === icon)?.usedIn).toEqual(['page own-icon'])
  })
})

describe('visits', () => {
  it('are forgotten after some 400 days', async () => {
    const page = await publish(on, 'visited', [text('Visit')])
    const now = on.install.clock.now()
    for (const days of [1, 399, 401])
      await on.q.rows(
        `insert into visit (page_id, at, visitor, device) values ($1, $2, '\\x00', 'computer')`,
        [page, new Date(now - days * 86_400_000)],
      )
    await forgetOldVisits(on.install.platform)
    const left = await on.q.row<{ count: number }>('select count(*) count from visit where page_id = $1', [
      page,
    ])
    expect(left?.count).toBe(2)
  })
})
