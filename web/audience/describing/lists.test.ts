import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { flushPromises } from '@vue/test-utils'
import { fakeServer, show, type FakeServer, type Shown } from '../../../testing/screen.ts'
import FieldList from './FieldList.vue'
import ScorecardList from '../scores/ScorecardList.vue'
import SegmentList from '../segments/SegmentList.vue'
import TagList from './TagList.vue'
import TopicList from './TopicList.vue'

let server: FakeServer
let shown: Shown
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
})
afterEach(() => vi.useRealTimers())

const opened = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
}
const row = (words: string): HTMLTableRowElement =>
  [...shown.page.querySelectorAll<HTMLTableRowElement>('tbody tr')].find((each) =>
    each.textContent.includes(words),
  )!
const pressIn = async (words: string, button: string): Promise<void> => {
  ;[...row(words).querySelectorAll('button')].find((each) => each.textContent === button)!.click()
  await opened()
}

describe('tags', () => {
  const tags = [
    { id: 1, name: 'Buyer', description: 'Has bought something', people: 1200 },
    { id: 2, name: 'Template pack', description: '', people: 1 },
  ]
  beforeEach(async () => {
    server.answers('GET /tags', tags)
    shown = await show(TagList)
  })

  it('are found by a part of their name, and it is said when none is', async () => {
    expect(row('Buyer').textContent).toContain('1,200')
    await shown.fill('Search by name', 'PACK')
    expect(row('Buyer')).toBeUndefined()
    expect(row('Template pack')).toBeDefined()
    await shown.fill('Search by name', 'xyz')
    expect(shown.text()).toContain('No results for “xyz”.')
  })

  it('are described and renamed; a name that is taken is refused, with what was typed kept', async () => {
    await pressIn('Template pack', 'Edit')
    await shown.fill('Name', 'Buyer')
    server.refuses('POST /tags/2', { status: 409, title: 'This tag name is taken' })
    await shown.press('Save')
    expect(shown.text()).toContain('This tag name is taken')
    expect(shown.control('Name').value).toBe('Buyer')
    server.answers('POST /tags/2', undefined)
    await shown.fill('Name', 'Pack')
    await shown.press('Save')
    await opened()
    expect(server.sent('POST /tags/2').at(-1)).toEqual({ name: 'Pack', description: '' })
    // A refusal that was seen does not stand there when something else is begun.
    await pressIn('Buyer', 'Edit')
    expect(shown.text()).not.toContain('This tag name is taken')
  })

  it('are created on their own screen', async () => {
    await shown.press('New tag')
    await opened()
    await shown.press('Create tag')
    expect(shown.text()).toContain('Give it a name')
    await shown.fill('Name', 'Paper lover')
    server.answers('POST /tags', { id: 3 })
    await shown.press('Create tag')
    expect(server.sent('POST /tags')).toEqual([{ name: 'Paper lover', description: '' }])
  })

  it('are merged only into another one, which must be chosen', async () => {
    server.answers('POST /tags/1/merge', undefined)
    await pressIn('Buyer', 'Merge')
    await shown.press('Merge tags')
    expect(shown.text()).toContain('Choose the tag to keep')
    expect(server.sent('POST /tags/1/merge')).toEqual([])
    expect(await shown.offered('Merge into')).toEqual(['Template pack'])
    await shown.choose('Merge into', 'Template pack')
    await shown.press('Merge tags')
    expect(server.sent('POST /tags/1/merge')).toEqual([{ into: 2 }])
  })

  it('are deleted only after it is said from how many people they go', async () => {
    server.answers('POST /tags/1/delete', undefined)
    await pressIn('Buyer', 'Delete')
    expect(shown.text()).toContain('It is removed from 1,200 people.')
    expect(server.sent('POST /tags/1/delete')).toEqual([])
    await shown.press('Delete tag')
    expect(server.sent('POST /tags/1/delete')).toHaveLength(1)
  })

  it('say what to do when there is none', async () => {
    server.answers('GET /tags', [])
    shown = await show(TagList)
    expect(shown.text()).toContain('No tags yet. Create one here')
  })
})

describe('topics', () => {
  it('are created, edited and archived', async () => {
    server.answers('GET /topics', [
      { id: 4, name: 'Newsletter', description: 'Once a month', people: 900, archived: false },
    ])
    shown = await show(TopicList)
    await shown.press('New topic')
    await opened()
    await shown.fill('Name', 'Session news')
    await shown.fill('What subscribers will get', 'When the next one is')
    server.answers('POST /topics', { id: 5 })
    await shown.press('Create topic')
    await opened()
    expect(server.sent('POST /topics')).toEqual([
      { name: 'Session news', description: 'When the next one is', archived: false },
    ])
    await pressIn('Newsletter', 'Edit')
    expect(shown.control('Name').value).toBe('Newsletter')
    shown.control('Archived: no longer offered').click()
    server.answers('POST /topics/4', undefined)
    await shown.press('Save')
    expect(server.sent('POST /topics/4')).toEqual([
      { name: 'Newsletter', description: 'Once a month', archived: true },
    ])
  })
})

describe('own fields', () => {
  const binding = {
    id: 3,
    name: 'Binding',
    kind: 'oneOf',
    options: [
      { id: 'coptic', label: 'Coptic' },
      { id: 'case', label: 'Case' },
    ],
    archived: false,
    people: 40,
  }
  beforeEach(async () => {
    server.answers('GET /fields', [binding])
    shown = await show(FieldList)
  })

  it('ask for choices only where there are any', async () => {
    await shown.press('New field')
    await opened()
    expect(shown.controls('Options, one per line')).toHaveLength(0)
    await shown.choose('Type', 'several of many')
    await shown.fill('Options, one per line', 'Thread\nPaper')
    await shown.fill('Name', 'Likes')
    server.answers('POST /fields', { id: 9 })
    await shown.press('Create field')
    expect(server.sent('POST /fields')).toEqual([
      {
        name: 'Likes',
        kind: 'manyOf',
        archived: false,
        options: [
          { id: 'thread', label: 'Thread' },
          { id: 'paper', label: 'Paper' },
        ],
      },
    ])
  })

  it('keep their kind for ever, and their choices’ ids through a change of words', async () => {
    await pressIn('Binding', 'Edit')
    expect(shown.control('Type').disabled).toBe(true)
    await shown.fill('Options, one per line', 'Coptic stitch\nCase')
    server.answers('POST /fields/3', undefined)
    await shown.press('Save')
    expect(server.sent('POST /fields/3')).toMatchObject([
      {
        options: [
          { id: 'coptic', label: 'Coptic stitch' },
          { id: 'case', label: 'Case' },
        ],
      },
    ])
  })
})

describe('segments', () => {
  const segment = {
    id: 5,
    name: 'Warm and here',
    tree: { kind: 'hasTag', tag: 1 },
    sentence: 'has the tag “Template pack”',
    missing: [] as string[],
    people: 1200 as number | null,
    trend: [
      { day: '2026-11-23', people: 1000 },
      { day: '2026-11-24', people: 1200 },
    ],
    usedBy: ['Fair visitors'],
  }

  it('show their sentence, count and trend', async () => {
    server.answers('GET /segments', [segment])
    shown = await show(SegmentList)
    expect(row('Warm and here').textContent).toContain('1,200')
    expect(row('Warm and here').querySelector('[role=img]')?.getAttribute('aria-label')).toBe(
      'Warm and here over time: from 1,000 to 1,200',
    )
  })

  it('say when they are being counted, and when nobody can tell', async () => {
    server.answers('GET /segments', [
      { ...segment, people: null },
      { ...segment, id: 6, name: 'Lost', people: null, missing: ['the tag something deleted (77)'] },
    ])
    shown = await show(SegmentList)
    expect(row('Warm and here').textContent).toContain('counting…')
    expect(row('Lost').textContent).toContain('broken')
    expect(row('Lost').textContent).toContain('something deleted (77)')
  })

  it('are deleted after it is said what speaks of them', async () => {
    server.answers('GET /segments', [segment])
    shown = await show(SegmentList)
    server.answers('POST /segments/5/delete', undefined)
    await pressIn('Warm and here', 'Delete')
    expect(shown.text()).toContain('These use it and will be broken: Fair visitors.')
    server.answers('GET /segments', [])
    await shown.press('Delete segment')
    await opened()
    expect(shown.text()).toContain('No segments yet.')
  })
})

describe('scorecards', () => {
  it('show how many people each band has', async () => {
    server.answers('GET /scorecards', [
      {
        id: 7,
        name: 'Interest',
        card: {
          behaviours: [],
          profile: [],
          bands: [
            { id: 'cool', name: 'Cool', from: null },
            { id: 'hot', name: 'Hot', from: 30 },
          ],
        },
        people: { cool: 2100 },
        missing: [],
      },
    ])
    shown = await show(ScorecardList)
    expect(row('Interest').textContent).toMatch(/Cool\s*2,100/)
    expect(row('Interest').textContent).toMatch(/Hot\s*0/)
  })
})
