import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { VDataTableVirtual } from 'vuetify/components/VDataTable'
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
    const rows = Array.from({ length: 5 }, (_, i) => listed(from + i))
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
    expect(shown.text()).toContain('51–55')
    await shown.press('Next')
    expect(shown.control('Next').disabled).toBe(true)
    await shown.press('Previous')
    expect(rows()[0]).toBe('Person 51')
  })

  it('begins anew when somebody is looked for, or the order changes', async () => {
    await shown.press('Next')
    await shown.fill('Search by name or address', 'fairburn')
    await settle()
    expect(asked()).toMatchObject({ search: 'fairburn', after: null })
    expect(shown.text()).toContain('1–5')
  })

  it('sorts by its heads, from the first page on', async () => {
    await shown.press('Next')
    shown.page.querySelector<HTMLElement>('th:nth-child(2)')!.click()
    await settle()
    expect(asked()).toMatchObject({ sort: 'name', after: null })
    shown.page.querySelector<HTMLElement>('th:nth-child(2)')!.click()
    await settle()
    expect(asked()).toMatchObject({ sort: 'nameDesc', after: null })
  })

  it('asks once for what is typed quickly', async () => {
    const before = server.sent('POST /people/find').length
    for (const typed of ['f', 'fa', 'fai']) await shown.fill('Search by name or address', typed)
    await settle()
    expect(server.sent('POST /people/find').slice(before)).toMatchObject([{ search: 'fai' }])
  })

  it('opens a segment with its condition, ready to be changed', async () => {
    shown = await show(PeopleList, {}, { path: '/people?segment=5' })
    await settle()
    expect(asked().tree).toEqual({ kind: 'all', of: [{ kind: 'hasTag', tag: 1 }] })
    expect(shown.control('Warm and here').getAttribute('aria-pressed')).toBe('true')
    expect(shown.shownIn('Condition')).toBe('has the tag')
  })

  it.each([
    ['/people?tag=2', { kind: 'hasTag', tag: 2 }, 'has the tag'],
    ['/people?topic=9', { kind: 'topic', topic: 9 }, 'agreed to the topic'],
  ] as const)('opens %s with those who are meant', async (path, leaf, words) => {
    shown = await show(PeopleList, {}, { path })
    await settle()
    expect(asked().tree).toEqual({ kind: 'all', of: [leaf] })
    expect(shown.shownIn('Condition')).toBe(words)
  })

  it('says that nobody matches, and shows everybody again', async () => {
    server.answers('POST /people/find', { rows: [], next: null })
    await shown.fill('Search by name or address', 'nobody at all')
    await settle()
    expect(shown.text()).toContain('No results.')
    await shown.press('Clear filter')
    await settle()
    expect(asked()).toMatchObject({ search: '', tree: null })
    expect(shown.text()).toContain('Nobody yet.')
  })

  it('says what is wrong, and keeps what it showed', async () => {
    server.refuses('POST /people/find', { status: 409, title: 'This condition is incomplete', detail: '' })
    await shown.fill('Search by name or address', 'x')
    await settle()
    expect(shown.text()).toContain('This condition is incomplete')
    expect(rows()[0]).toBe('Person 1')
  })
})

describe('people who are selected', () => {
  const sendTag = async (people: string): Promise<unknown> => {
    await shown.press('Actions')
    await settle()
    await shown.press(`Add a tag to ${people}`)
    await settle()
    await shown.addChip('Tag', 'Fair')
    await shown.press(`Apply to ${people}`)
    return server.sent('POST /people/bulk').at(-1)
  }
  beforeEach(() => server.answers('POST /people/bulk', { work: 3 }))

  it('are those that something is done with, from page to page', async () => {
    await shown.press('Select Person 2')
    await shown.press('Next')
    await shown.press('Select Person 51')
    expect(shown.text()).toContain('2 selected of 120 people')
    expect(await sendTag('2 people')).toMatchObject({ who: { only: [2, 51] } })
  })

  it('are all of a page at once, and one less', async () => {
    await shown.press('Select all on this page')
    expect(shown.text()).toContain('5 selected of 120 people')
    await shown.press('Select Person 3')
    expect(shown.control('Select all on this page').checked).toBe(false)
    expect(shown.text()).toContain('4 selected of 120 people')
    await shown.press('Select all on this page')
    await shown.press('Select all on this page')
    expect(shown.text()).not.toContain('selected of')
  })

  it('are at most a thousand, and that is said', async () => {
    const ids = Array.from({ length: 1_200 }, (_, i) => i + 1)
    shown.wrapper.findComponent(VDataTableVirtual).vm.$emit('update:modelValue', ids)
    await settle()
    expect(shown.text()).toContain('1,000 selected (the maximum) of 120 people')
  })

  it('are nobody again when others are looked for: what cannot be seen is not selected', async () => {
    await shown.press('Select Person 2')
    await shown.fill('Search by name or address', 'fair')
    await settle()
    expect(shown.text()).not.toContain('selected of')
    expect(await sendTag('120 people')).toMatchObject({ who: { search: 'fair', tree: null } })
  })
})

describe('a person added by hand', () => {
  /** The button in the dialog; that which opens it has the same name. */
  const submitPerson = async (): Promise<void> => {
    shown.controls('Add person').at(-1)?.click()
    await flushPromises()
  }
  it('is told what is wrong at its place, and loses nothing that was typed', async () => {
    server.refuses('POST /people', {
      status: 422,
      title: 'Some values are not valid',
      fields: { address: 'This is not an email address' },
    })
    await shown.press('Add person')
    await settle()
    await shown.fill(/^Email address/, 'nia at postbox')
    await shown.fill('First name', 'Nia')
    await shown.addChip('Tags', 'Buyer')
    await shown.addChip('Tags', 'Fair')
    await submitPerson()
    expect(server.sent('POST /people')).toMatchObject([
      { address: 'nia at postbox', tags: ['Buyer', 'Fair'] },
    ])
    expect(shown.text()).toContain('This is not an email address')
    expect(shown.control('First name').value).toBe('Nia')

    server.answers('POST /people', { id: 12 })
    await submitPerson()
    await settle()
    expect(shown.router.currentRoute.value.path).toBe('/people/12')
  })
})

describe('something done to everybody who is meant', () => {
  it('says to how many, and is sent with who is meant', async () => {
    server.answers('POST /people/bulk', { work: 3 })
    await shown.fill('Search by name or address', 'fair')
    await settle()
    await shown.press('Actions')
    await settle()
    await shown.press('Add a tag to 120 people')
    await settle()
    await shown.press('Apply to 120 people')
    expect(shown.text()).toContain('Choose or type a tag')
    expect(server.sent('POST /people/bulk')).toEqual([])
    await shown.addChip('Tag', ' Spring fair ')
    await shown.press('Apply to 120 people')
    expect(server.sent('POST /people/bulk')).toEqual([
      { who: { search: 'fair', tree: null }, does: { kind: 'addTag', tag: 'Spring fair' } },
    ])
  })
})
