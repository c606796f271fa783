import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { ImportCounts, ImportView as View } from '../../../contract/audience/imports.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../../testing/screen.ts'
import { vocabulary } from '../../../testing/vocabulary.ts'
import ImportView from './ImportView.vue'

const address = { kind: 'builtIn', field: 'address' } as const
const uploaded: View = {
  id: 3,
  fileName: 'Spring fair.csv',
  size: 2_048_000,
  format: {
    encoding: 'windows-1252',
    delimiter: ';',
    columns: ['Email', 'Binding', ''],
    samples: [
      ['nia@postbox.test', 'Coptic', ''],
      ['bram@postbox.test', '', 'x'],
    ],
  },
  choices: {
    columns: [address, { kind: 'own', field: 3 }, { kind: 'skip' }],
    existing: 'update',
    tags: [],
    topics: [],
    permission: 'notAsked',
    statement: '',
    startFollowups: false,
  },
  state: 'uploaded',
  counts: null,
  work: null,
  createdAt: '2026-11-24T10:00:00.000Z',
  endedAt: null,
}
const counts: ImportCounts = {
  lines: 12,
  invalid: 2,
  repeated: 1,
  suppressed: 1,
  added: 1200,
  changed: 4,
  same: 0,
  keptUnsubscribed: 0,
  reasons: [{ reason: '“x” is not an email address', lines: 2, example: 7 }],
}

let server: FakeServer
let shown: Shown
const open = async (view: View): Promise<void> => {
  server.answers('GET /imports/3', view)
  shown = await show(ImportView, { id: 3 })
  await vi.advanceTimersByTimeAsync(200)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /topics', [{ id: 9, name: 'Newsletter', description: '', people: 1, archived: false }])
  server.answers('GET /vocabulary', vocabulary)
})
afterEach(() => vi.useRealTimers())

describe('an import', () => {
  it('shows the file as it was read, and what its columns were taken for', async () => {
    await open(uploaded)
    expect(shown.text()).toContain('Spring fair.csv')
    expect(shown.text()).toContain('WINDOWS-1252, 2,000 kB')
    expect(shown.text()).toContain('nia@postbox.test | bram@postbox.test')
    expect(shown.shownIn('Import Binding as')).toBe('Binding')
    expect(shown.text()).toContain('Column 3')
  })

  it('is previewed with what was chosen', async () => {
    await open(uploaded)
    server.answers('POST /imports/3/check', { work: 5 })
    await shown.choose('Import Binding as', 'last name')
    await shown.choose('Import Column 3 as', 'tags')
    await shown.addChip('Add tags', 'Fair')
    await shown.addChip('Add tags', 'Buyer')
    await shown.choose('People already on the list', 'Fill in blanks only')
    shown.control('They agreed to receive it').click()
    await flushPromises()
    await shown.fill('Where and how', 'Signed the list at the fair')
    await shown.press('Preview')
    expect(server.sent('POST /imports/3/check')).toEqual([
      {
        columns: [address, { kind: 'builtIn', field: 'lastName' }, { kind: 'tags' }],
        existing: 'fillBlanks',
        tags: ['Fair', 'Buyer'],
        topics: [],
        permission: 'agreed',
        statement: 'Signed the list at the fair',
        startFollowups: false,
      },
    ])
  })

  it('is not sent when a column or the statement is missing: it says so at the place', async () => {
    await open(uploaded)
    await shown.choose('Import Email as', 'Skip')
    shown.control('They refused: never email them').click()
    await flushPromises()
    await shown.choose('People already on the list', 'Leave unchanged')
    await shown.press('Preview')
    expect(shown.text()).toContain('Choose the column with the email address')
    expect(shown.text()).toContain('Describe where and how they refused, in at least ten characters')
    expect(shown.text()).toContain('People who refused cannot be left unchanged')
    expect(server.sent('POST /imports/3/check')).toEqual([])
  })

  it('makes a new own field of a column right there, of the type that its cells look like', async () => {
    await open({
      ...uploaded,
      format: { ...uploaded.format, columns: ['Email', 'Books'], samples: [['a@b.test', '3']] },
      choices: { ...uploaded.choices, columns: [address, { kind: 'skip' }] },
    })
    await shown.choose('Import Books as', 'New field…')
    expect(shown.control('Name').value).toBe('Books')
    expect(shown.shownIn('Type')).toBe('number')
    server.answers('POST /fields', { id: 44 })
    const books = { id: 44, name: 'Books', kind: 'number' as const, options: [] }
    server.answers('GET /vocabulary', { ...vocabulary, fields: [...vocabulary.fields, books] })
    await shown.press('Create field')
    await vi.advanceTimersByTimeAsync(200)
    await flushPromises()
    expect(server.sent('POST /fields')).toEqual([
      { name: 'Books', kind: 'number', options: [], archived: false },
    ])
    expect(shown.shownIn('Import Books as')).toBe('Books')
    server.answers('POST /imports/3/check', { work: 5 })
    await shown.press('Preview')
    expect(server.sent('POST /imports/3/check')).toMatchObject([
      { columns: [address, { kind: 'own', field: 44 }] },
    ])
  })

  it('asks topics only of who agreed, and starts nothing for who refused', async () => {
    await open(uploaded)
    expect(shown.controls('Topics they agreed to')).toHaveLength(0)
    shown.control('They agreed to receive it').click()
    await flushPromises()
    expect(shown.controls('Topics they agreed to')).toHaveLength(1)
    shown.control('They refused: never email them').click()
    await flushPromises()
    expect(shown.controls(/^Start follow-ups/)).toHaveLength(0)
  })
})

describe('an import that was previewed', () => {
  const checked: View = { ...uploaded, state: 'checked', counts }

  it('says what would happen and why lines cannot be used, and is run', async () => {
    await open(checked)
    expect(shown.controls('Add 1,200 new people and update 4')).toHaveLength(1)
    expect(shown.text()).toMatch(/1,200\s*new people/)
    expect(shown.text()).toContain('“x” is not an email address (line 7)')
    server.answers('POST /imports/3/run', { work: 6 })
    await shown.press('Add 1,200 new people and update 4')
    expect(server.sent('POST /imports/3/run')).toHaveLength(1)
  })

  it.each([
    [{ added: 1, changed: 0 }, 'Add 1 new person'],
    [{ added: 0, changed: 3 }, 'Update 3 people'],
    [{ added: 0, changed: 0 }, 'Finish: nobody changes'],
  ])('says on its button what it will do: %j', async (part, words) => {
    await open({ ...checked, counts: { ...counts, ...part } })
    expect(shown.controls(words)).toHaveLength(1)
  })

  it('is previewed again before it runs with other options', async () => {
    await open(checked)
    await shown.addChip('Add tags', 'Fair')
    expect(shown.control('Add 1,200 new people and update 4').disabled).toBe(true)
    expect(shown.text()).toContain('Something has changed: preview again first.')
  })
})

describe('an import that is over', () => {
  it('can be undone, and shows its options as text', async () => {
    await open({ ...uploaded, state: 'done', counts })
    expect(shown.text()).toContain('Result')
    expect(shown.controls('Import Email as')).toEqual([])
    expect(shown.controls('People already on the list')).toEqual([])
    expect(shown.text()).toContain('Nobody asked them: no marketing email')
    server.refuses('POST /imports/3/undo', { status: 409, title: 'This import is undone' })
    await shown.press('Undo import')
    expect(shown.text()).toContain('This import is undone')
  })

  it('says why it came to nothing', async () => {
    await open({
      ...uploaded,
      state: 'checked',
      counts,
      work: {
        id: 1,
        kind: 'import',
        title: 'Import',
        state: 'cancelled',
        step: '',
        done: 0,
        total: null,
        said: 'Cancelled. Nothing was changed.',
      },
    })
    expect(shown.text()).toContain('Cancelled. Nothing was changed.')
  })
})
