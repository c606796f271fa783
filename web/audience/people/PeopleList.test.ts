import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { ContactQuery } from '../../../contract/audience/people.ts'
import { listed } from '../../../testing/peopleShown.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../../testing/screen.ts'
import { vocabulary } from '../../../testing/vocabulary.ts'
import PeopleList from './PeopleList.vue'

const warm = {
  id: 5,
  name: 'Warm and here',
  tree: { kind: 'hasTag', tag: 1 },
  sentence: 'has the tag “Template pack”',
  missing: [],
  people: 3,
  trend: [],
  usedBy: [],
}

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(400)
  await flushPromises()
}
const asked = (): ContactQuery => server.sent('POST /people/find').at(-1) as ContactQuery

beforeEach(async () => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /segments', [warm])
  server.answers('GET /tags', [])
  server.answers('GET /followups', [])
  server.answers('GET /vocabulary', vocabulary)
  server.answers('POST /people/count', { people: 120 })
  server.answers('POST /people/sample', { rows: [], sentence: '', missing: [] })
  server.answers('POST /people/find', ({ body }: { body: ContactQuery }) => {
    const from = body.after === null ? 1 : Number(body.after)
    const rows = Array.from({ length: 50 }, (_, i) => listed(from + i))
    return { rows, next: from < 101 ? String(from + 50) : null }
  })
  shown = await show(PeopleList, {}, { path: '/people' })
  await settle()
})
afterEach(() => vi.useRealTimers())

const rows = (): string[] => [...shown.page.querySelectorAll('tbody a')].map((each) => each.textContent)

describe('the list of people', () => {
  it('goes further and back, page by page', async () => {
    expect(rows()[0]).toBe('Person 1')
    await shown.press('Next')
    expect([rows()[0], asked().after]).toEqual(['Person 51', '51'])
    expect(shown.text()).toContain('51–100')
    await shown.press('Next')
    expect(shown.control('Next').disabled).toBe(true)
    await shown.press('Previous')
    expect(rows()[0]).toBe('Person 51')
  })

  it('begins anew when somebody is looked for, or the order changes', async () => {
    await shown.press('Next')
    await shown.fill('Part of a name or address', 'fairburn')
    await settle()
    expect(asked()).toMatchObject({ search: 'fairburn', after: null })
    expect(shown.text()).toContain('1–50')
  })

  it('asks once for what is typed quickly', async () => {
    const before = server.sent('POST /people/find').length
    for (const typed of ['f', 'fa', 'fai']) await shown.fill('Part of a name or address', typed)
    await settle()
    expect(server.sent('POST /people/find').slice(before)).toMatchObject([{ search: 'fai' }])
  })

  it('opens a segment with its condition, ready to be changed', async () => {
    shown = await show(PeopleList, {}, { path: '/people?segment=5' })
    await settle()
    expect(asked().tree).toEqual({ kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] })
    expect(shown.control('Warm and here').getAttribute('aria-pressed')).toBe('true')
    expect(shown.control('What the line is about').value).toBe('hasTag')
  })

  it.each([
    ['/people?tag=2', { kind: 'hasTag', tag: 2 }],
    ['/people?topic=9', { kind: 'topic', topic: 9 }],
  ] as const)('opens %s with those who are meant', async (path, leaf) => {
    shown = await show(PeopleList, {}, { path })
    await settle()
    expect(asked().tree).toEqual({ kind: 'all', of: [leaf] })
    expect(shown.control('What the line is about').value).toBe(leaf.kind)
  })

  it('says that nobody matches, and shows everybody again', async () => {
    server.answers('POST /people/find', { rows: [], next: null })
    await shown.fill('Part of a name or address', 'nobody at all')
    await settle()
    expect(shown.text()).toContain('Nobody matches')
    await shown.press('Show everybody')
    await settle()
    expect(asked()).toMatchObject({ search: '', tree: null })
    expect(shown.text()).toContain('Nobody is on the list yet')
  })

  it('says what is wrong, and keeps what it showed', async () => {
    server.refuses('POST /people/find', { status: 409, title: 'This condition is incomplete', detail: '' })
    await shown.fill('Part of a name or address', 'x')
    await settle()
    expect(shown.text()).toContain('This condition is incomplete')
    expect(rows()[0]).toBe('Person 1')
  })
})

describe('people who are ticked', () => {
  const sendTag = async (people: string): Promise<unknown> => {
    await shown.press('With these…')
    await settle()
    await shown.press(`Put a tag on ${people}`)
    await settle()
    await shown.fill('Tag', 'Fair')
    await shown.press(`Do it for ${people}`)
    return server.sent('POST /people/bulk').at(-1)
  }
  beforeEach(() => server.answers('POST /people/bulk', { work: 3 }))

  it('are those that something is done with, from page to page', async () => {
    await shown.press('Tick Person 2')
    await shown.press('Next')
    await shown.press('Tick Person 51')
    expect(shown.text()).toContain('2 ticked of 120 people')
    expect(await sendTag('2 people')).toMatchObject({ who: { only: [2, 51] } })
  })

  it('are all of a page at once, and one less', async () => {
    await shown.press('Tick all on this page')
    expect(shown.text()).toContain('50 ticked of 120 people')
    await shown.press('Tick Person 7')
    expect(shown.control('Tick all on this page').checked).toBe(false)
    expect(shown.text()).toContain('49 ticked of 120 people')
    await shown.press('Tick all on this page')
    await shown.press('Tick all on this page')
    expect(shown.text()).not.toContain('ticked of')
  })

  it('are at most a thousand, and that is said', async () => {
    server.answers('POST /people/find', ({ body }: { body: ContactQuery }) => {
      const from = body.after === null ? 1 : Number(body.after)
      return { rows: Array.from({ length: 200 }, (_, i) => listed(from + i)), next: String(from + 200) }
    })
    shown = await show(PeopleList, {}, { path: '/people' })
    await settle()
    for (let page = 0; page < 6; page += 1) {
      await shown.press('Tick all on this page')
      await shown.press('Next')
    }
    expect(shown.text()).toContain('1,000 ticked, the most, of 120 people')
  })

  it('are nobody again when others are looked for: what cannot be seen is not ticked', async () => {
    await shown.press('Tick Person 2')
    await shown.fill('Part of a name or address', 'fair')
    await settle()
    expect(shown.text()).not.toContain('ticked of')
    expect(await sendTag('120 people')).toMatchObject({ who: { search: 'fair', tree: null } })
  })
})

describe('a person added by hand', () => {
  it('is told what is wrong at its place, and loses nothing that was typed', async () => {
    server.refuses('POST /people', {
      status: 422,
      title: 'Some values are not valid',
      fields: { address: 'This is no email address' },
    })
    await shown.press('Add a person')
    await settle()
    await shown.fill(/^Email address/, 'nia at postbox')
    await shown.fill('First name', 'Nia')
    await shown.fill('Tags, with commas between', 'Buyer, , Fair')
    await shown.press('Add the person')
    expect(server.sent('POST /people')).toMatchObject([
      { address: 'nia at postbox', tags: ['Buyer', 'Fair'] },
    ])
    expect(shown.text()).toContain('This is no email address')
    expect(shown.control('First name').value).toBe('Nia')

    server.answers('POST /people', { id: 12 })
    await shown.press('Add the person')
    await settle()
    expect(shown.router.currentRoute.value.path).toBe('/people/12')
  })
})

describe('something done to everybody who is meant', () => {
  it('says to how many, and is sent with who is meant', async () => {
    server.answers('POST /people/bulk', { work: 3 })
    await shown.fill('Part of a name or address', 'fair')
    await settle()
    await shown.press('With these…')
    await settle()
    await shown.press('Put a tag on 120 people')
    await settle()
    expect(shown.control('Do it for 120 people').disabled).toBe(true)
    await shown.fill('Tag', ' Spring fair ')
    await shown.press('Do it for 120 people')
    expect(server.sent('POST /people/bulk')).toEqual([
      { who: { search: 'fair', tree: null }, does: { kind: 'addTag', tag: 'Spring fair' } },
    ])
  })
})
