import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { RehearsalStage as Staged } from '../../contract/followups.ts'
import { known } from '../../testing/peopleShown.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import { useRehearsal } from '../frame/rehearsal.ts'
import RehearsalStage from './RehearsalStage.vue'

const staged: Staged = {
  mail: [
    { id: 4, subject: 'Still on the bench', at: '2026-11-26T09:05:00.000Z' },
    { id: 2, subject: 'Your templates', at: '2026-11-24T09:05:00.000Z' },
  ],
  mailProblem: null,
  pages: [
    { name: 'Offer', url: 'http://pages.test/p/offer?me=mark' },
    { name: 'Template pack', url: 'http://pages.test/p/template-pack?me=mark' },
  ],
}

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(300)
  await flushPromises()
}
const frame = (): HTMLIFrameElement => shown.page.querySelector('iframe')!
async function open(part: Partial<Staged> = {}): Promise<void> {
  server.answers('GET /people/7/stage', { ...staged, ...part })
  shown = await show(RehearsalStage, { id: 7 })
  await settle()
}
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /people/7', known({ rehearsal: true }))
  server.answers('GET /people/7/enrolments', [])
  server.answers('GET /followups', [])
})
afterEach(() => vi.useRealTimers())

describe('the stage', () => {
  it('shows the newest of their mail, and another when it is chosen', async () => {
    await open()
    expect(frame().title).toBe('The email Still on the bench')
    await shown.press(/Your templates/)
    expect(frame().getAttribute('src')).toBe('/api/inbox/2/html')
    // Nothing in an email may act on the application.
    expect(frame().getAttribute('sandbox')).not.toMatch(/same-origin|scripts|top-navigation/)
    expect(useRehearsal().stage).toMatchObject({ id: 7 })
  })

  it('opens pages as they come to them, and keeps one that is being read', async () => {
    await open()
    await shown.press('Pages')
    expect(frame().getAttribute('src')).toBe('http://pages.test/p/offer?me=mark')
    await shown.choose('Page', 'Template pack')
    expect(frame().getAttribute('src')).toBe('http://pages.test/p/template-pack?me=mark')
    expect(frame().getAttribute('sandbox')).not.toContain('top-navigation')
  })

  it('says why there is no mail, and goes on with the rest', async () => {
    await open({ mail: [], mailProblem: 'The test inbox is not responding' })
    expect(shown.text()).toContain('The test inbox is not responding')
    await shown.press('Pages')
    expect(frame()).not.toBeNull()
  })

  it('jumps once to what is next, and says why it cannot', async () => {
    await open()
    server.refuses('POST /people/7/jump', { status: 409, title: 'Nothing is due' })
    await shown.press('Jump to next')
    await settle()
    expect(server.sent('POST /people/7/jump')).toEqual([{}])
    expect(shown.text()).toContain('Nothing is due')
  })

  it('goes on to a date from moment to moment, until it has come', async () => {
    await open()
    const moments = ['2026-11-26', '2026-11-28', '2026-12-01'].map((day) => `${day}T09:05:00.000Z`)
    let jumps = 0
    server.answers('POST /people/7/jump', () => {
      const now = moments[jumps++] ?? ''
      return { now, moved: 1, arrived: jumps === moments.length }
    })
    await shown.fill('Time', '10:30')
    await shown.press('Jump to this date')
    await settle()
    expect(jumps).toBe(3)
    const [first] = server.sent('POST /people/7/jump') as { until: string }[]
    expect(first?.until).toMatch(/T10:30:00\.000Z$/)
    expect(shown.text()).not.toContain('On the way')
  })

  it('gives up where a moment does not go by, instead of asking for ever', async () => {
    await open()
    const stands = { now: '2026-11-26T09:05:00.000Z', moved: 0, arrived: false }
    server.answers('POST /people/7/jump', stands)
    await shown.fill('Time', '23:59')
    await shown.press('Jump to this date')
    await settle()
    expect(server.sent('POST /people/7/jump')).toHaveLength(2)
    expect(shown.text()).toContain('Something does not move on')
  })

  it('starts over after it has said what is lost, as somebody new if that is wanted', async () => {
    server.answers('GET /people/7', known({ rehearsal: true, marketingState: 'subscribed' }))
    await open()
    server.answers('POST /people/7/start-over', undefined)
    await shown.press('Start over…')
    expect(shown.text()).toContain('their clock goes back to now')
    shown.control('They have agreed to marketing email').click()
    await shown.press('Start over')
    await settle()
    expect(server.sent('POST /people/7/start-over')).toEqual([{ agreed: false }])
  })

  it('lets them into a follow-up that is live, or says why not', async () => {
    server.answers('GET /followups', [
      { ...row, id: 3, name: 'Welcome', state: 'live' },
      { ...row, id: 4, name: 'Old one', state: 'paused' },
    ])
    await open()
    expect(await shown.offered('Let into a follow-up')).toEqual(['Welcome'])
    server.refuses('POST /people/7/let-in', { status: 409, title: 'They did not come in' })
    await shown.choose('Let into a follow-up', 'Welcome')
    await settle()
    expect(server.sent('POST /people/7/let-in')).toEqual([{ followup: 3 }])
    expect(shown.text()).toContain('They did not come in')
  })
})

const row = {
  startsWhen: [],
  steps: 1,
  inside: 0,
  finished: 0,
  nextDueAt: null,
  hasDraft: false,
}
