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
  reasons: [{ reason: '“x” is no email address', lines: 2, example: 7 }],
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
    expect(shown.control('What the column Binding holds').value).toBe('own 3')
    expect(shown.text()).toContain('no. 3')
  })

  it('is tried out with what was chosen by hand', async () => {
    await open(uploaded)
    server.answers('POST /imports/3/check', { work: 5 })
    await shown.fill('What the column Binding holds', 'builtIn lastName')
    await shown.fill('What the column no. 3 holds', 'tags')
    await shown.fill('Tags to add, with commas between', 'Fair, , Buyer')
    await shown.fill('Who is on the list already', 'fillBlanks')
    shown.control('They agreed to be written to').click()
    await flushPromises()
    await shown.fill('Where and how', 'Signed the list at the fair')
    await shown.press('Try it out')
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
    await shown.fill('What the column Email holds', 'skip')
    shown.control('They said no: never write to them again').click()
    await flushPromises()
    await shown.fill('Who is on the list already', 'skip')
    await shown.press('Try it out')
    expect(shown.text()).toContain('Choose the column with the email address')
    expect(shown.text()).toContain('Say where and how they refused, in at least ten letters')
    expect(shown.text()).toContain('Who refused must not be left as they are')
    expect(server.sent('POST /imports/3/check')).toEqual([])
  })

  it('asks topics only of who agreed, and starts nothing for who refused', async () => {
    await open(uploaded)
    expect(shown.controls('Topics they agreed to')).toHaveLength(0)
    shown.control('They agreed to be written to').click()
    await flushPromises()
    expect(shown.controls('Topics they agreed to')).toHaveLength(1)
    shown.control('They said no: never write to them again').click()
    await flushPromises()
    expect(shown.controls(/^Start the follow-ups/)).toHaveLength(0)
  })
})

describe('an import that was tried out', () => {
  const checked: View = { ...uploaded, state: 'checked', counts }

  it('says what would happen and why lines cannot be used, and is run', async () => {
    await open(checked)
    expect(shown.text()).toContain('What would happen')
    expect(shown.text()).toMatch(/1,200\s*new on the list/)
    expect(shown.text()).toContain('“x” is no email address (line 7)')
    server.answers('POST /imports/3/run', { work: 6 })
    await shown.press('Put 1,200 new people on the list and change 4')
    expect(server.sent('POST /imports/3/run')).toEqual([{}])
  })

  it.each([
    [{ added: 1, changed: 0 }, 'Put 1 new person on the list'],
    [{ added: 0, changed: 3 }, 'Change 3 people'],
    [{ added: 0, changed: 0 }, 'Finish: nobody is changed'],
  ])('says on its button what it will do: %j', async (part, words) => {
    await open({ ...checked, counts: { ...counts, ...part } })
    expect(shown.controls(words)).toHaveLength(1)
  })

  it('is tried out again before it runs with another wish', async () => {
    await open(checked)
    await shown.fill('Tags to add, with commas between', 'Fair')
    expect(shown.control('Put 1,200 new people on the list and change 4').disabled).toBe(true)
    expect(shown.text()).toContain('You have changed something: try it out again first.')
  })
})

describe('an import that is over', () => {
  it('can be taken back, and is changed no more', async () => {
    await open({ ...uploaded, state: 'done', counts })
    expect(shown.text()).toContain('What happened')
    expect(shown.control('What the column Email holds').disabled).toBe(true)
    server.refuses('POST /imports/3/undo', { status: 409, title: 'This import is undone' })
    await shown.press('Take this import back')
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
