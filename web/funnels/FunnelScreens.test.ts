import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { noFunnelSettings } from '../../core/funnels/settings.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import CopyFunnel from './CopyFunnel.vue'
import FunnelStage from './FunnelStage.vue'
import ImportFunnel from './ImportFunnel.vue'
import NewFunnel from './NewFunnel.vue'

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /pages', [])
})
afterEach(() => vi.useRealTimers())

describe('a new funnel', () => {
  beforeEach(async () => {
    shown = await show(NewFunnel, { modelValue: true })
    await settle()
  })

  it('is made by a goal, a starter of it, and a name that its path follows', async () => {
    server.answers('POST /funnels', { id: 12 })
    await shown.fill('Name', 'Fold it!')
    await shown.press('Make funnel')
    await settle()
    expect(server.sent('POST /funnels')).toEqual([
      {
        name: 'Fold it!',
        goal: 'list',
        labels: [],
        starter: 'free-file',
        path: 'fold-it',
        currency: null,
        opens: null,
        line: [],
      },
    ])
    expect(shown.router.currentRoute.value.path).toBe('/funnels/12')
  })

  it('offers the starters of the goal, and asks for the day that a waiting list needs', async () => {
    expect(shown.text()).toContain('Two pages against each other')
    await shown.press('Open a waiting list')
    await settle()
    expect(shown.text()).not.toContain('Two pages against each other')
    expect(shown.text()).toContain('A waiting list')
    await shown.fill('Name', 'Atelier')
    await shown.fill('Currency (optional)', 'eur')
    await shown.fill('Opening day', '2027-03-01')
    server.answers('POST /funnels', { id: 13 })
    await shown.press('Make funnel')
    await settle()
    expect(server.sent('POST /funnels')).toMatchObject([
      { goal: 'waitingList', starter: 'waiting-list', currency: 'EUR', opens: '2027-03-01' },
    ])
  })

  it('says what is taken, and keeps what was typed', async () => {
    server.refuses('POST /funnels', {
      status: 409,
      title: 'This path is taken',
      fields: { path: '“Spring” has this path' },
    })
    await shown.fill('Name', 'Spring')
    await shown.press('Make funnel')
    await settle()
    expect(shown.text()).toContain('“Spring” has this path')
    await shown.fill('Name', '')
    await shown.press('Make funnel')
    await settle()
    expect(shown.text()).toContain('Give it a name')
  })
})

describe('a copy of a funnel', () => {
  it('is whole with a path of its own, or the line alone', async () => {
    server.answers('POST /funnels/5/copy', { id: 14 })
    shown = await show(CopyFunnel, { id: 5, name: 'Spring' })
    await settle()
    await shown.press('Tags of its own')
    await shown.press('Copy')
    await settle()
    expect(server.sent('POST /funnels/5/copy')).toEqual([
      { name: 'Spring (copy)', path: 'spring-copy', whole: true, tags: 'new' },
    ])
    shown = await show(CopyFunnel, { id: 5, name: 'Spring' })
    await settle()
    await shown.press('The line only')
    await shown.press('Copy')
    await settle()
    expect(server.sent('POST /funnels/5/copy')[1]).toMatchObject({ path: null, whole: false })
  })
})

describe('an import', () => {
  it('asks for a file before it does anything', async () => {
    shown = await show(ImportFunnel, { modelValue: true })
    await settle()
    await shown.press('Import')
    await settle()
    expect(shown.text()).toContain('Choose a file')
  })
})

describe('the stage of a funnel', () => {
  const funnel = {
    id: 5,
    name: 'Spring',
    goal: 'list',
    labels: [],
    settings: noFunnelSettings,
    state: 'draft',
    rehearsing: false,
    revision: 1,
    changedAt: '2026-11-24T09:00:00.000Z',
    changedBy: 'Mara Ellery',
    countedSince: null,
    line: [],
    stations: [],
    stretches: [],
  }
  it('is opened to rehearsal first, or says what keeps it from that', async () => {
    server.answers('GET /funnels/5', funnel)
    server.answers('POST /people/find', { rows: [], next: null })
    shown = await show(FunnelStage, { id: 5 })
    await settle()
    expect(shown.text()).toContain('Nobody can see it yet')
    server.refuses('POST /funnels/5/open', {
      status: 409,
      title: 'This funnel is not ready',
      detail: 'The file is missing.',
    })
    await shown.press('Open it to rehearsal')
    await settle()
    expect(server.sent('POST /funnels/5/open')).toEqual([{ to: 'rehearsal' }])
    expect(shown.text()).toContain('The file is missing.')
    server.answers('POST /funnels/5/open', undefined)
    server.answers('GET /funnels/5', { ...funnel, rehearsing: true })
    await shown.press('Open it to rehearsal')
    await settle()
    expect(shown.text()).toContain('Who tries it?')
  })
})
