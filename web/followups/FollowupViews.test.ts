import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type {
  FollowupNumbers as Numbers,
  FollowupView,
  InsideList,
  JournalList,
} from '../../contract/followups.ts'
import type { Program } from '../../core/followups/program.ts'
import { listed } from '../../testing/peopleShown.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import { vocabulary } from '../../testing/vocabulary.ts'
import FollowupJournal from './FollowupJournal.vue'
import FollowupNumbers from './FollowupNumbers.vue'
import FollowupPeople from './FollowupPeople.vue'
import RehearsalPeople from './RehearsalPeople.vue'

const content: Program = {
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  steps: [
    { kind: 'send', id: 'file', email: 4 },
    { kind: 'waitFor', id: 'wait', amount: 2, unit: 'days' },
  ],
}
const at = '2026-11-24T09:00:00.000Z'
const view: FollowupView = {
  id: 3,
  name: 'Template pack',
  state: 'live',
  content,
  live: content,
  version: 1,
  revision: 1,
  savedAt: at,
  savedBy: 'Mara Ellery',
  changes: [],
  findings: [],
  others: [],
  publishedVersion: 1,
  versions: [],
  pages: [],
  webhookSecret: 'whsec_x',
}

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(400)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers({ now: Date.parse('2026-11-24T12:00:00.000Z') })
  server = fakeServer()
  server.answers('GET /vocabulary', vocabulary)
  server.answers('GET /followups/3', view)
})
afterEach(() => vi.useRealTimers())

describe('people in a follow-up', () => {
  const person = (contact: number, name: string, rest: Partial<InsideList['rows'][number]> = {}) => ({
    enrolment: contact + 100,
    contact,
    name,
    address: `${name.toLowerCase()}@postbox.test`,
    rehearsal: false,
    step: 'wait',
    startedAt: '2026-11-22T10:00:00.000Z',
    dueAt: '2026-11-24T13:00:00.000Z',
    setAside: null,
    ...rest,
  })
  const first: InsideList = {
    rows: [
      person(1, 'Nia'),
      person(2, 'Ada', { rehearsal: true }),
      person(3, 'Orla', { setAside: 'the email has no sender' }),
    ],
    next: 'further',
  }
  const tick = async (row: number): Promise<void> => {
    shown.page.querySelectorAll<HTMLInputElement>('tbody input[type=checkbox]')[row]?.click()
    await settle()
  }
  beforeEach(async () => {
    server.answers('GET /followups/3/people?size=50', first)
    shown = await show(FollowupPeople, { id: 3 })
    await settle()
  })

  it('are told with where they stand, since when, and when they go on; who is made up, and who was set aside', () => {
    expect(shown.text()).toMatch(/Nia ?2 days ?Sun 22 Nov 10:00 ?13:00/)
    expect(shown.text()).toContain('Ada (rehearsal)')
    expect(shown.text()).toContain('set aside: the email has no sender')
  })

  it('are moved on together, and it is said who stays since it would lead back', async () => {
    server.answers('POST /followups/3/people/move', { moved: 1 })
    await tick(0)
    await tick(1)
    await shown.choose('Skip ahead to', '“Grain direction”')
    await shown.press('Skip ahead')
    await settle()
    expect(server.sent('POST /followups/3/people/move')).toEqual([
      { who: { people: [1, 2] }, to: { where: 'step', step: 'file' } },
    ])
    expect(shown.text()).toContain('1 person moved; 1 person stays, since it would lead back.')
  })

  it('are taken out; when that is refused, who was ticked stays ticked', async () => {
    server.refuses('POST /followups/3/people/move', { status: 409, title: 'This follow-up is archived' })
    await tick(0)
    await shown.press('Take out')
    await settle()
    expect(server.sent('POST /followups/3/people/move')).toEqual([
      { who: { people: [1] }, to: { where: 'out' } },
    ])
    expect(shown.text()).toContain('This follow-up is archived')
    expect(shown.text()).toContain('1 person')
  })

  it('are searched for once somebody stops typing, and leafed through', async () => {
    server.answers('GET /followups/3/people?after=further&size=50', { rows: [person(9, 'Uma')], next: null })
    await shown.press('Next')
    await settle()
    expect(shown.text()).toContain('Uma')
    server.answers('GET /followups/3/people?search=ni&size=50', { rows: [person(1, 'Nia')], next: null })
    await shown.type('Search by name or address', 'n')
    await shown.type('Search by name or address', 'ni')
    await settle()
    expect(server.asked.filter(({ path }) => path.includes('search='))).toHaveLength(1)
    expect(shown.text()).not.toContain('Uma')
  })

  it('that cannot be asked for are not waited for without a word', async () => {
    server.refuses('GET /followups/3/people?search=x&size=50', { status: 500, title: 'Something went wrong' })
    await shown.type('Search by name or address', 'x')
    await settle()
    expect(shown.text()).toContain('Something went wrong')
  })
})

describe('the journal of a follow-up', () => {
  const line = (id: number, rest: Partial<JournalList['rows'][number]>): JournalList['rows'][number] => ({
    id,
    at,
    contact: 1,
    name: 'Nia',
    step: null,
    outcome: 'sent',
    reason: '',
    ...rest,
  })

  it('tells every decision with its values and its step, and leafs through older ones', async () => {
    server.answers('GET /followups/3/journal', {
      rows: [
        line(8, { step: 'file', reason: '“Grain direction”' }),
        line(7, { outcome: 'left', reason: 'by hand' }),
      ],
      next: '7',
    })
    server.answers('GET /followups/3/journal?after=7', {
      rows: [line(2, { reason: 'the first one' })],
      next: null,
    })
    shown = await show(FollowupJournal, { id: 3 })
    await settle()
    expect(shown.text()).toMatch(/09:00 ?Nia ?sent “Grain direction” ?· at “Grain direction”/)
    expect(shown.text()).toContain('by hand')
    await shown.press('Next')
    await settle()
    expect(shown.text()).toContain('the first one')
  })

  it('says when nothing has been decided yet', async () => {
    server.answers('GET /followups/3/journal', { rows: [], next: null })
    shown = await show(FollowupJournal, { id: 3 })
    await settle()
    expect(shown.text()).toContain('Nothing has been decided yet.')
  })
})

describe('the numbers of a follow-up', () => {
  it('are arrivals, who got through and how fast, later orders, and each step; of few there is no rate', async () => {
    const numbers: Numbers = {
      steps: [
        {
          step: 'file',
          waiting: 0,
          outcomes: { sent: 200, skipped: 20 },
          opened: 90,
          clicked: 30,
          skippedBecause: [{ reason: 'they have unsubscribed', times: 20 }],
        },
        { step: 'wait', waiting: 40, outcomes: { waits: 200 }, opened: 0, clicked: 0, skippedBecause: [] },
      ],
      inside: 40,
      finished: 160,
      arrivals: [{ day: '2026-11-24', people: 4 }],
      completed: 120,
      medianTime: 2 * 86_400_000,
      orders: 3,
    }
    server.answers('GET /followups/3/numbers', numbers)
    shown = await show(FollowupNumbers, { id: 3 })
    await settle()
    expect(shown.text()).toContain('200 people')
    expect(shown.text()).toContain('120 of 160 who left 75.0 %')
    expect(shown.text()).toMatch(/they have unsubscribed/)
    expect(shown.text()).toContain('2 days')
  })
})

describe('rehearsing what is live', () => {
  const people = { rows: [listed(7, { name: 'Ada Finch' }), listed(8, { name: 'Bram Okafor' })], next: null }
  beforeEach(() => server.answers('POST /people/find', people))

  it('lets somebody made up in and goes to their stage, or says why they do not come in', async () => {
    shown = await show(RehearsalPeople, { id: 3, state: 'live' })
    await settle()
    server.refuses('POST /people/7/let-in', { status: 409, title: 'They did not come in' })
    await shown.press('Let Ada Finch in')
    await settle()
    expect(shown.text()).toContain('They did not come in')
    server.answers('POST /people/8/let-in', undefined)
    await shown.press('Let Bram Okafor in')
    await settle()
    expect(server.sent('POST /people/8/let-in')).toEqual([{ followup: 3 }])
    expect(shown.router.currentRoute.value.path).toBe('/rehearsal/8')
  })

  it('makes somebody up who may be written to; a taken address is said under its field', async () => {
    shown = await show(RehearsalPeople, { id: 3, state: 'live' })
    await settle()
    await shown.press('New rehearsal person')
    server.refuses('POST /people', { fields: { address: 'Another person has this address' } })
    await shown.fill('First name', 'Wanda')
    await shown.fill('Email address', 'wanda@rehearsal.example')
    await shown.press('Add and let in')
    await settle()
    expect(shown.text()).toContain('Another person has this address')
    server.answers('POST /people', { id: 12 })
    server.answers('POST /people/12/let-in', undefined)
    await shown.press('Add and let in')
    await settle()
    expect(server.sent('POST /people').at(-1)).toMatchObject({
      rehearsal: true,
      consent: 'Made up for a rehearsal',
      firstName: 'Wanda',
    })
    expect(shown.router.currentRoute.value.path).toBe('/rehearsal/12')
  })

  it('of a draft is not possible, and says what is', async () => {
    shown = await show(RehearsalPeople, { id: 3, state: 'draft' })
    await settle()
    expect(shown.text()).toContain('Only what is live can be rehearsed with real emails.')
    expect(shown.control('Let Ada Finch in').disabled).toBe(true)
  })
})
