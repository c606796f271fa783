import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { FunnelRow, FunnelView, StationView } from '../../contract/funnels.ts'
import type { Station } from '../../core/funnels/funnel.ts'
import { noFunnelSettings } from '../../core/funnels/settings.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import FunnelDesk from './FunnelDesk.vue'
import FunnelList from './FunnelList.vue'

const at = (page: number): Station => ({ kind: 'page', id: `p${page}`, page })
const station = (page: number, title: string, rest: Partial<StationView> = {}): StationView => ({
  id: `p${page}`,
  title,
  purpose: 'landing',
  state: 'live',
  page,
  junction: null,
  quiz: null,
  url: `http://pages.test/p/${page}`,
  preview: null,
  visitors: 1_200,
  contacts: null,
  other: null,
  followups: [],
  ...rest,
})
const stretch = { here: 1_200, there: 360, rate: 0.3, low: 0.275, high: 0.326, readable: true, weakest: null }
const funnel = (rest: Partial<FunnelView> = {}): FunnelView => ({
  id: 5,
  name: 'Spring',
  goal: 'list',
  labels: ['active'],
  settings: noFunnelSettings,
  state: 'draft',
  rehearsing: false,
  revision: 3,
  changedAt: '2026-11-24T09:00:00.000Z',
  changedBy: 'Mara Ellery',
  countedSince: null,
  line: [at(1), at(2), at(3)],
  stations: [
    station(1, 'Start', {
      contacts: 360,
      followups: [
        {
          id: 6,
          name: 'Welcome',
          state: 'live',
          inside: 12,
          nextDueAt: '2026-11-24T11:00:00.000Z',
          emails: [{ id: 4, name: 'First letter' }],
        },
      ],
    }),
    station(2, 'Thanks'),
    station(3, 'Offer'),
  ],
  stretches: [
    { ...stretch, weakest: '30.0 % go on here' },
    { ...stretch, here: 12, there: 2, rate: 0.17, readable: false },
  ],
  ...rest,
})

const noProgress = {
  things: [],
  fileChosen: null,
  senderConfirmed: true,
  postalAddress: true,
  domain: true,
  icon: true,
  countedByOthers: true,
  rehearsed: true,
  live: true,
}

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /funnels/5/check', [])
  server.answers('GET /funnels/5/progress', noProgress)
  server.answers('GET /files', [])
  server.answers('GET /pages', [])
})
afterEach(() => vi.useRealTimers())
async function open(rest: Partial<FunnelView> = {}): Promise<void> {
  server.answers('GET /funnels/5?days=30', funnel(rest))
  shown = await show(FunnelDesk, { id: 5 })
  await settle()
}
/** As the server does: what is saved is what it says from then on. */
function accepting(): void {
  let revision = 3
  server.answers('POST /funnels/5/line', ({ body }: { body: unknown }) => {
    const { line } = body as { line: Station[] }
    revision += 1
    server.answers('GET /funnels/5?days=30', funnel({ line, revision }))
    return { revision }
  })
}
const saves = (): { revision: number; line: Station[] }[] =>
  server.sent('POST /funnels/5/line') as { revision: number; line: Station[] }[]
const stop = (title: string): HTMLElement =>
  [...shown.page.querySelectorAll<HTMLElement>('.stop')].find((each) => each.textContent.includes(title))!
async function key(title: string, init: KeyboardEventInit): Promise<void> {
  stop(title).dispatchEvent(new KeyboardEvent('keydown', { ...init, bubbles: true, cancelable: true }))
  await settle()
}

describe('the line of a funnel', () => {
  it('shows who goes on and who leaves, the weakest stretch, what hangs below, and where few came', async () => {
    await open()
    expect(shown.text()).toContain('30.0 %')
    expect(shown.text()).toContain('360 of 1,200')
    expect(shown.text()).toContain('840 leave')
    expect(shown.text()).toContain('weakest stretch')
    expect(shown.text()).toContain('too few to read')
    expect(shown.text()).not.toContain('16.7 %')
    expect(shown.text()).toMatch(/Welcome ?live ?12 people inside, next .*11:00 ?First letter/)
  })

  it('is walked with the arrow keys, and changed with Alt and an arrow; each change can be undone', async () => {
    await open()
    accepting()
    stop('Start').focus()
    await key('Start', { key: 'ArrowRight' })
    expect(document.activeElement?.textContent).toContain('Thanks')
    await key('Thanks', { key: 'ArrowRight', altKey: true })
    expect(saves()).toEqual([{ revision: 3, line: [at(1), at(3), at(2)] }])
    await shown.press('Undo')
    await settle()
    expect(saves()[1]?.line).toEqual([at(1), at(2), at(3)])
    await shown.press('Redo')
    await settle()
    expect(saves()[2]?.line).toEqual([at(1), at(3), at(2)])
  })

  it('loses a step by Delete and keeps its page; gets one by Insert, a page that is not on it yet', async () => {
    await open()
    accepting()
    const page = (id: number, name: string) => ({ ...row, id, name })
    server.answers('GET /pages', [page(1, 'Start'), page(9, 'Another')])
    await key('Offer', { key: 'Delete' })
    expect(saves()[0]?.line).toEqual([at(1), at(2)])
    await key('Start', { key: 'Insert' })
    expect(await shown.offered('Page')).toEqual(['Another'])
    await shown.choose('Page', 'Another')
    await shown.press('Add')
    await settle()
    expect(saves()[1]?.line.map((each) => each.kind === 'page' && each.page)).toEqual([1, 9, 2])
  })

  it('takes an address elsewhere, and says what is wrong with one that is none', async () => {
    await open()
    accepting()
    server.answers('GET /pages', [])
    await shown.press('Add a step at the beginning')
    await shown.press('An address elsewhere')
    await shown.fill('Name', 'The shop')
    await shown.fill('Address', 'javascript:alert(1)')
    await shown.press('Add')
    await settle()
    expect(shown.text()).toContain('Use a web address such as https://example.com')
    expect(saves()).toEqual([])
    await shown.fill('Address', 'https://shop.test/')
    await shown.press('Add')
    await settle()
    expect(saves()[0]?.line[0]).toMatchObject({
      kind: 'outside',
      name: 'The shop',
      url: 'https://shop.test/',
    })
  })

  it('goes back to what it was when somebody else has changed it, and says who', async () => {
    await open()
    server.refuses('POST /funnels/5/line', { status: 409, title: 'Tom has changed this funnel meanwhile' })
    await key('Start', { key: 'Delete' })
    expect(shown.text()).toContain('Tom has changed this funnel meanwhile')
    expect(shown.page.querySelectorAll('.stop')).toHaveLength(3)
  })

  it('goes live, or says which pages keep it from that', async () => {
    await open()
    server.refuses('POST /funnels/5/open', {
      status: 409,
      title: 'Not all of its pages are live',
      detail: 'Publish them first: Offer.',
    })
    await shown.press('Go live')
    await settle()
    expect(server.sent('POST /funnels/5/open')).toEqual([{ to: 'everybody' }])
    expect(shown.text()).toContain('Publish them first: Offer.')
  })

  it('says what its check found, leads to where it is mended, and mends it with one press', async () => {
    server.answers('GET /funnels/5/check', [
      {
        level: 'error',
        words: '“Offer”: Choose where the button leads',
        part: '/library/pages/3',
        mend: { does: 'removeBlock', in: 'page', id: 3, block: 'abcdef' },
        accepted: null,
      },
      { level: 'advice', words: '“Thanks” leads nowhere', part: null, accepted: null },
    ])
    server.answers('POST /funnels/5/mend', { thing: 'line', id: 5, revision: 4, before: [at(1)] })
    accepting()
    await open()
    await shown.press('1 to fix')
    await settle()
    expect(shown.text()).toContain('“Thanks” leads nowhere')
    await shown.press('Take it out')
    await settle()
    expect(server.sent('POST /funnels/5/mend')).toEqual([
      { does: 'removeBlock', in: 'page', id: 3, block: 'abcdef' },
    ])
    await shown.press('Undo mend')
    await settle()
    expect(saves()).toEqual([{ revision: 4, line: [at(1)] }])
    shown.page.querySelector<HTMLElement>('a[href="/library/pages/3"]')?.click()
    await settle()
    expect(shown.router.currentRoute.value.path).toBe('/library/pages/3')
  })

  it('remembers what is accepted as it is, with a reason', async () => {
    const advice = { level: 'advice', words: '“Thanks” leads nowhere', part: null }
    server.answers('GET /funnels/5/check', [{ ...advice, accepted: null }])
    server.answers('POST /funnels/5/accept', undefined)
    await open()
    await shown.press('1 to consider')
    await settle()
    await shown.press('Accept')
    await shown.type('Why it stays as it is', 'It is the end')
    server.answers('GET /funnels/5/check', [
      { ...advice, accepted: { by: 'Mara Ellery', why: 'It is the end', at: '2026-11-24T09:00:00.000Z' } },
    ])
    await shown.press('Accept it')
    await settle()
    expect(server.sent('POST /funnels/5/accept')).toEqual([{ words: advice.words, why: 'It is the end' }])
    expect(shown.text()).toMatch(/Accepted by Mara Ellery on .*: It is the end/)
    await shown.press('Find it again')
    await settle()
    expect(server.sent('POST /funnels/5/accept')[1]).toEqual({ words: advice.words, why: null })
  })

  it('lists what is left to do, ticked or not, and takes the file', async () => {
    const page = { kind: 'page', id: 1, name: 'Spring: start', empty: 2, touched: true }
    server.answers('GET /funnels/5/progress', {
      ...noProgress,
      things: [page],
      fileChosen: false,
      live: false,
    })
    server.answers('GET /files', [
      {
        id: 8,
        name: 'guide.pdf',
        mediaType: 'application/pdf',
        size: 1,
        createdAt: '2026-11-24T09:00:00.000Z',
        linkDays: 30,
        mostDownloads: null,
        hasPreview: false,
        downloads: 0,
        people: 0,
        versions: [],
        usedIn: [],
      },
    ])
    server.answers('POST /funnels/5/give-file', undefined)
    await open()
    expect(shown.text()).toMatch(/7 of 10 done/)
    expect(shown.text()).toMatch(/Write “start” ?2 parts are still empty/)
    ;[...shown.page.querySelectorAll<HTMLElement>('a')]
      .find((each) => each.textContent === 'Choose the file')
      ?.click()
    await settle()
    await shown.choose('Or one of the Library', 'guide.pdf')
    await settle()
    expect(server.sent('POST /funnels/5/give-file')).toEqual([{ file: 8 }])
  })

  it('shows two pages of one step on two tracks, whose share is changed beside it', async () => {
    const second = { ...station(4, 'Other start'), share: 50 }
    await open({
      line: [{ kind: 'page', id: 'p1', page: 1, other: { page: 4, share: 50 } }, at(2)],
      stations: [station(1, 'Start', { other: second }), station(2, 'Thanks')],
    })
    accepting()
    expect(shown.text()).toContain('50 % of the visitors get it')
    stop('Start').click()
    await settle()
    await shown.fill('Its share of the visitors (%)', '30')
    await settle()
    expect(saves()[0]?.line[0]).toMatchObject({ other: { page: 4, share: 30 } })
  })

  it('says of a step what can be done with it, and of a deleted page that it is gone', async () => {
    await open({
      stations: [station(1, 'Start'), station(2, 'Gone', { state: 'gone', page: null, url: null })],
    })
    stop('Start').click()
    await settle()
    expect(shown.text()).toContain('Step 1 of 2: landing page.')
    stop('Gone').click()
    await settle()
    expect(shown.text()).toContain('It was deleted.')
  })
})

const row = {
  path: 'a',
  purpose: 'landing',
  state: 'live',
  hasDraft: false,
  changedAt: '2026-11-24T09:00:00.000Z',
  visitors: 0,
  sent: null,
  usedIn: [],
  course: null,
  preview: '/preview/x',
}

describe('the list of funnels', () => {
  const listed = (id: number, name: string, rest: Partial<FunnelRow> = {}): FunnelRow => ({
    id,
    name,
    goal: 'list',
    labels: [],
    state: 'live',
    stations: 3,
    visitors: 400,
    money: null,
    contacts: 100,
    trend: [1, 4, 2],
    changedAt: '2026-11-24T09:00:00.000Z',
    ...rest,
  })

  it('is searched by name and narrowed by label; what is put away is shown when asked for', async () => {
    server.answers('GET /funnels', [
      listed(1, 'Spring', { labels: ['active'] }),
      listed(2, 'Autumn', { visitors: 8, contacts: 1, trend: [0, 0] }),
      listed(3, 'Old fair', { state: 'archived' }),
    ])
    shown = await show(FunnelList, {})
    await settle()
    expect(shown.text()).toContain('25.0 %')
    expect(shown.text()).toContain('too few to read')
    expect(shown.page.querySelector('svg[aria-label^=Visitors]')?.getAttribute('aria-label')).toMatch(
      /1, 4, 2$/,
    )
    expect(shown.text()).not.toContain('Old fair')
    await shown.choose('Label', 'active')
    expect(shown.text()).not.toContain('Autumn')
    await shown.type('Search by name', 'nothing of the kind')
    await settle()
    expect(shown.text()).toContain('No results for “nothing of the kind”')
  })
})
