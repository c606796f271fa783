import ICAL from 'ical.js'
import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { FollowupDraft, FollowupNumbers, FollowupView } from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import { vocabulary } from '../../testing/vocabulary.ts'
import { useVocabulary } from '../audience/segments/vocabulary.ts'
import FollowupDesk from './FollowupDesk.vue'
import { rehearsalCalendar, rehearsalCsv } from './rehearsalFiles.ts'

const content: Program = {
  startsWhen: [{ kind: 'formSent', form: 2 }],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  steps: [
    { kind: 'send', id: 'file', email: 4 },
    { kind: 'waitFor', id: 'two-days', amount: 2, unit: 'days' },
    {
      kind: 'branch',
      id: 'clicked',
      arms: [
        {
          label: 'clicked',
          when: { kind: 'hasTag', tag: 1 },
          steps: [{ kind: 'send', id: 'invite', email: 4 }],
        },
      ],
      otherwise: { label: 'did not', steps: [{ kind: 'send', id: 'remind', email: 4 }] },
    },
  ],
}
const draft: FollowupDraft = {
  version: 1,
  revision: 1,
  savedAt: '2026-11-24T09:00:00.000Z',
  savedBy: 'Mara Ellery',
  changes: [],
  findings: [],
  others: [],
}
const view = (given: Partial<FollowupView> = {}): FollowupView => ({
  ...draft,
  id: 3,
  name: 'Template pack',
  state: 'live',
  content,
  live: content,
  publishedVersion: 1,
  versions: [{ number: 1, madeAt: draft.savedAt, madeBy: 'Mara Ellery', published: true }],
  pages: [],
  webhookSecret: 'whsec_x',
  ...given,
})
const numbers: FollowupNumbers = {
  steps: [
    { step: 'two-days', waiting: 1200, outcomes: { waits: 2000 }, opened: 0, clicked: 0, skippedBecause: [] },
    { step: 'file', waiting: 0, outcomes: { sent: 2000 }, opened: 900, clicked: 40, skippedBecause: [] },
  ],
  inside: 1200,
  finished: 800,
  arrivals: [],
  completed: 800,
  medianTime: null,
  orders: 0,
}

let server: FakeServer
let shown: Shown
const open = async (given: Partial<FollowupView> = {}): Promise<void> => {
  shown = await show(FollowupDesk, { view: view(given) }, { path: '/follow-ups/3' })
  useVocabulary().words = vocabulary
  await settle()
}
const settle = async (time = 300): Promise<void> => {
  await vi.advanceTimersByTimeAsync(time)
  await flushPromises()
}
const press = async (key: string, more: KeyboardEventInit = {}): Promise<void> => {
  const chart = shown.page.querySelector('.timetable')!
  const from = chart.contains(document.activeElement) ? document.activeElement! : chart
  from.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }))
  await settle(20)
}
const selected = (): string | undefined =>
  shown.page.querySelector('[aria-pressed=true]')?.id.replace('stop-', '')
const steps = (): string[] =>
  [...shown.page.querySelectorAll('[id^=stop-]')].map((each) => each.id.replace('stop-', '')).sort()
const savedSteps = (): unknown[] =>
  server.sent('POST /followups/3/draft').map((body) => (body as { content: Program }).content.steps)

beforeEach(() => {
  vi.useFakeTimers()
  localStorage.clear()
  server = fakeServer()
  server.answers('GET /vocabulary', vocabulary)
  server.answers('GET /followups/3/numbers', numbers)
  server.answers('POST /followups/3/draft', { ...draft, revision: 2, changes: ['moved: something'] })
})
afterEach(() => vi.useRealTimers())

describe('a timetable', () => {
  it('has its moments as columns, its lanes by name, and says how many wait and how many read', async () => {
    await open()
    const texts = (of: string): string[] =>
      [...shown.page.querySelectorAll(of)].map((each) => each.textContent.trim())
    expect(texts('.column')).toEqual(['at once', 'day 2'])
    expect(texts('.name')).toEqual(['clicked', 'did not'])
    expect(shown.text()).toContain('1,200 here')
    expect(shown.text()).toContain('2,000 sent, 45.0 % opened')
  })

  it('is walked with the arrow keys: along the line, and from lane to lane', async () => {
    await open()
    await press('ArrowRight')
    expect(selected()).toBe('file')
    await press('ArrowRight')
    expect(selected()).toBe('two-days')
    expect(document.activeElement?.id).toBe('stop-two-days')
    await press('ArrowRight')
    await press('ArrowDown')
    expect(selected()).toBe('invite')
    await press('ArrowDown')
    expect(selected()).toBe('remind')
    await press('ArrowRight')
    expect(selected()).toBe('remind')
  })

  it('is edited by keys: moved, copied as a stretch, taken out, undone; and saved by itself', async () => {
    await open()
    await press('ArrowRight')
    await press('ArrowRight', { altKey: true })
    await settle(1_000)
    expect(savedSteps().at(-1)).toMatchObject([{ id: 'two-days' }, { id: 'file' }, { id: 'clicked' }])
    await press('z', { ctrlKey: true })
    await press('ArrowRight', { shiftKey: true })
    await press('c', { ctrlKey: true })
    await press('v', { ctrlKey: true })
    // Both of the stretch, with ids of their own.
    expect(steps()).toHaveLength(7)
    expect(new Set(steps()).size).toBe(7)
    await press('Delete')
    expect(steps()).toHaveLength(5)
    await press('z', { ctrlKey: true })
    await press('z', { ctrlKey: true, shiftKey: true })
    expect(steps()).toHaveLength(5)
  })

  it('moves a step to the lane beside with Alt and an arrow', async () => {
    await open()
    shown.page.querySelector<HTMLElement>('#stop-invite')!.click()
    await press('ArrowDown', { altKey: true })
    await settle(1_000)
    expect(savedSteps().at(-1)).toMatchObject([
      {},
      {},
      { arms: [{ steps: [] }], otherwise: { steps: [{ id: 'invite' }, { id: 'remind' }] } },
    ])
  })

  it('says a wait as one reads it aloud, and with an example', async () => {
    await open()
    shown.page.querySelector<HTMLElement>('#stop-two-days')!.click()
    await settle()
    expect(shown.text()).toMatch(/Wait 2 days\. Who comes to it \w+ \d+ \w+, \d\d:\d\d goes on \w+ \d+ \w+/)
    await shown.fill('How long', '3')
    await settle(1_000)
    expect(savedSteps().at(-1)).toMatchObject([{}, { amount: 3 }, {}])
  })
})

describe('going live', () => {
  it('says first what happens to those inside, and publishes the emails that are drafts', async () => {
    server.answers('GET /followups/3/going-live', [
      { step: '2 days', people: 12, to: null, stays: false },
      { step: '3 days', people: 40, to: '3 days', stays: true },
    ])
    server.answers('POST /followups/3/go-live', undefined)
    await open({
      changes: ['taken out: 2 days'],
      findings: [
        {
          level: 'error',
          words: 'The email “Grain direction” is a draft',
          part: 'file',
          mend: { does: 'publishEmail', email: 4 },
        },
      ],
    })
    await shown.press('Go live')
    await settle()
    const dialog = shown.page.querySelector('[role=dialog]')!.textContent
    expect(dialog).toContain('40 people stay on their step')
    expect(dialog).toContain('12 people on “2 days”, which is taken out: they leave')
    expect(dialog).toContain('taken out: 2 days')
    await shown.press('Publish the email and go live')
    await settle()
    expect(server.sent('POST /followups/3/go-live')).toEqual([{ version: 1, revision: 1, publish: [4] }])
  })
})

describe('the files of a rehearsal', () => {
  const at = Date.parse('2026-03-03T09:00:00Z')
  it('are a calendar that a reader of calendars reads (RFC 5545, by ical.js)', () => {
    const text = rehearsalCalendar(
      [{ at, followup: 3, step: 'file', outcome: 'sent', reason: '', email: 4 }],
      'Template pack',
      vocabulary.names,
    )
    const [event] = new ICAL.Component(ICAL.parse(text) as unknown[]).getAllSubcomponents('vevent')
    expect(new ICAL.Event(event).startDate.toJSDate().getTime()).toBe(at)
    expect(new ICAL.Event(event).summary).toBe('“Grain direction”')
    expect(
      Math.max(...text.split('\r\n').map((line) => new TextEncoder().encode(line).length)),
    ).toBeLessThanOrEqual(75)
  })

  it('are CSV in which no cell is a formula', () => {
    const line = {
      at,
      when: 'Tue',
      followup: '=1+1',
      what: 'gets “a, b”',
      why: '',
      isEmail: true,
      isDeed: false,
    }
    expect(rehearsalCsv([line])).toBe(`When,Follow-up,What,Why\r\nTue,'=1+1,"gets “a, b”",\r\n`)
  })
})
