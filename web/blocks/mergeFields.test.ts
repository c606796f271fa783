import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import type { MergeFieldChoice, SharedDetailView } from '../../contract/sharedDetails.ts'
import { emptySite, fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import MergeTextField from './inspector/MergeTextField.vue'
import SharedDetails from './SharedDetails.vue'

let server: FakeServer
let shown: Shown
const choices: MergeFieldChoice[] = [
  { name: 'first name', from: 'person', formats: ['name'], says: null },
  { name: 'Shelf', from: 'own', formats: ['number', 'wholeNumber'], says: null },
  {
    name: 'stitch-along',
    from: 'detail',
    formats: ['dateAndTime', 'time'],
    says: ['Sunday at 18:00', '18:00'],
  },
]
beforeEach(() => {
  server = fakeServer()
  server.answers('GET /merge-fields', choices)
  server.answers('POST /people/find', { rows: [], next: null, total: 0 })
})

describe('a merge field', () => {
  beforeEach(async () => {
    shown = await show(MergeTextField, { label: 'Subject', modelValue: 'Hello !' })
    const input = shown.control('Subject') as unknown as HTMLInputElement
    input.setSelectionRange(6, 6)
    await shown.press('Insert merge field: Subject')
    await flushPromises()
  })

  it('is put where one writes, with what stands in for it', async () => {
    await shown.choose('Merge field', 'first name')
    await shown.fill('Who has none reads', 'reader')
    expect(shown.text()).toContain("{first name or 'reader'} says reader")
    await shown.press('Insert')
    await flushPromises()
    expect(shown.control('Subject').value).toBe("Hello {first name or 'reader'}!")
  })

  it('shows what a shared detail says in each of its formats', async () => {
    await shown.choose('Merge field', 'stitch-along')
    expect(shown.text()).toContain('{stitch-along} says Sunday at 18:00')
    await shown.choose('Said', 'as time')
    expect(shown.text()).toContain('{stitch-along as time} says 18:00')
    expect(shown.controls('Who has none reads')).toEqual([])
  })

  it('is chosen before it is inserted', async () => {
    await shown.press('Insert')
    expect(shown.text()).toContain('Choose a merge field')
  })
})

describe('shared details', () => {
  const detail: SharedDetailView = {
    id: 1,
    name: 'stitch-along',
    content: { kind: 'moment', local: '2026-11-29T18:00', zone: 'Europe/Dublin' },
    says: 'Sunday 29 November at 18:00 GMT',
    past: true,
    usedIn: ['email Sunday, live'],
    changedAt: '2026-11-24T10:00:00.000Z',
    changedBy: 'Mara',
  }
  beforeEach(async () => {
    server.answers('GET /site', emptySite())
    server.answers('GET /shared-details', [detail])
    shown = await show(SharedDetails)
    await flushPromises()
  })

  it('say what they stand for, whether that is past, and where they are used', () => {
    expect(shown.text()).toMatch(
      /stitch-along.*Date and time.*Sunday 29 November at 18:00 GMT.*past.*email Sunday, live/,
    )
  })

  it('are created of each kind; what is missing is said', async () => {
    server.answers('POST /shared-details', { id: 2 })
    await shown.press('New detail')
    await shown.press('Create detail')
    expect(shown.text()).toMatch(/Give it a name.*Write what it says/)
    await shown.fill('Name', 'guest')
    await shown.fill('Says', 'Ilse Varga')
    await shown.press('Create detail')
    await flushPromises()
    expect(server.sent('POST /shared-details')).toEqual([
      { name: 'guest', content: { kind: 'text', text: 'Ilse Varga' } },
    ])
  })

  it('are changed in their own zone', async () => {
    server.answers('POST /shared-details/1/save', null)
    await shown.press('Edit stitch-along')
    expect(shown.control('Time').value).toBe('18:00')
    await shown.fill('Time', '19:30')
    await shown.press('Save')
    await flushPromises()
    expect(server.sent('POST /shared-details/1/save')).toEqual([
      { name: 'stitch-along', content: { kind: 'moment', local: '2026-11-29T19:30', zone: 'Europe/Dublin' } },
    ])
  })
})
