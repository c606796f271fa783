import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { BroadcastRequestInput, BroadcastView } from '../../../contract/broadcasts.ts'
import { FakeStream, fakeServer, show, type FakeServer, type Shown } from '../../../testing/screen.ts'
import { audienceTree } from './audience.ts'
import BroadcastCalendar from './BroadcastCalendar.vue'
import BroadcastList from './BroadcastList.vue'
import BroadcastScreen from './BroadcastScreen.vue'
import { closeLive, openLive } from '../../live.ts'
import { calendarWeeks, movedTo } from './calendar.ts'
import WriteBroadcast from './WriteBroadcast.vue'

let server: FakeServer
let shown: Shown
beforeEach(() => {
  server = fakeServer()
  server.answers('GET /outbox/counts', { queue: 0, problems: 0 })
})

const row: BroadcastView = {
  id: 7,
  email: 'Sunday, live',
  emailId: 5,
  topic: null,
  sentence: 'everybody',
  by: 'Mara Ellery',
  createdAt: '2026-11-24T10:00:00.000Z',
  goesAt: '2026-11-24T10:01:00.000Z',
  readerZone: false,
  state: 'goingOut',
  said: '',
  queued: 1200,
  sent: 400,
  opened: 100,
  clicked: 20,
  held: 0,
  failed: 0,
  leftOut: [{ reason: 'the person is unsubscribed', people: 15 }],
  variants: [],
  test: null,
  againOf: null,
  wasSentAgain: false,
}

describe('an email to everybody who is meant', () => {
  beforeEach(async () => {
    const email = {
      purpose: 'marketing',
      topic: null,
      hasDraft: false,
      usedIn: [],
      sent: 0,
      opened: 0,
      clicked: 0,
      changedAt: '2026-11-24T10:00:00.000Z',
    }
    server.answers('GET /emails', [
      { ...email, id: 5, name: 'Sunday, live', subject: 'Bring a needle', state: 'live' },
      { ...email, id: 6, name: 'Half written', subject: '', state: 'draft' },
    ])
    server.answers('GET /topics', [
      { id: 2, name: 'Session news', description: '', people: 9, archived: false },
      { id: 3, name: 'Old news', description: '', people: 1, archived: true },
    ])
    server.answers('GET /segments', [])
    server.answers('GET /tags', [])
    server.answers('POST /broadcasts/forecast', {
      gets: 1204,
      leftOut: [{ reason: 'the person is unsubscribed', people: 15 }],
      soon: 212,
      past: 0,
      openRate: 0.4,
    })
    server.answers('POST /broadcasts', { id: 1 })
    shown = await show(WriteBroadcast)
    await flushPromises()
  })
  const sent = (): BroadcastRequestInput => server.sent('POST /broadcasts').at(-1) as BroadcastRequestInput

  it('cannot be sent before an email is chosen, and asks nothing until then', async () => {
    await shown.press('Send')
    expect(shown.text()).toContain('Choose an email')
    expect(server.sent('POST /broadcasts/forecast')).toEqual([])
    expect(server.sent('POST /broadcasts')).toEqual([])
  })

  it('says who gets it and who is left out before it goes, and sends what was said', async () => {
    // Nobody gets a draft.
    expect(await shown.offered('Email')).toEqual(['Sunday, live'])
    await shown.choose('Email', 'Sunday, live')
    await flushPromises()
    expect(shown.text()).toContain('Subject: Bring a needle')
    expect(shown.text()).toMatch(/1,204 people would get it now\. Left out: ?15 ?the person is unsubscribed/)
    expect(shown.text()).toContain('212 of them may get a follow-up email within an hour of it.')
    await shown.press('Send to 1,204 people')
    expect(sent()).toMatchObject({ email: 5, topic: null, moment: { when: 'now' }, test: null })
  })

  it('counts anew for a topic, of which those that are archived cannot be chosen', async () => {
    await shown.choose('Email', 'Sunday, live')
    expect(await shown.offered('Topic')).toEqual([
      'No topic: everybody who is subscribed',
      'Session news: only those who agreed to it',
    ])
    await shown.choose('Topic', 'Session news: only those who agreed to it')
    expect(server.sent('POST /broadcasts/forecast').at(-1)).toMatchObject({ email: 5, topic: 2 })
  })

  it('keeps the chosen topic when the emails are loaded anew, as something else changes', async () => {
    vi.stubGlobal('EventSource', FakeStream)
    openLive(() => Promise.resolve(true))
    await shown.choose('Email', 'Sunday, live')
    await shown.choose('Topic', 'Session news: only those who agreed to it')
    const loads = () => server.asked.filter(({ path }) => path === '/emails').length
    const before = loads()
    FakeStream.last.tell('email')
    await vi.waitFor(() => expect(loads()).toBeGreaterThan(before))
    await flushPromises()
    closeLive()
    expect(shown.shownIn('Topic')).toContain('Session news')
    await shown.press(/^Send to/)
    expect(sent()).toMatchObject({ email: 5, topic: 2 })
  })

  it('is planned for a local time, of the business or of each reader', async () => {
    await shown.choose('Email', 'Sunday, live')
    await shown.press('At that time of day wherever each reader is')
    await shown.fill('Time', '18:30')
    await flushPromises()
    await shown.press('Plan for 1,204 people')
    const { moment } = sent()
    expect(moment).toMatchObject({ when: 'at', readerZone: true })
    expect(moment).toHaveProperty('local', expect.stringMatching(/^\d{4}-\d\d-\d\dT18:30$/))
  })

  it('says before it is sent what a split test can show', async () => {
    await shown.choose('Email', 'Sunday, live')
    await shown.press('Try different versions on some of them first')
    await flushPromises()
    // 30 % of 1,204 in two groups are 180 each; the method is held against its source in core/email/splitTest.test.ts.
    expect(shown.text()).toContain(
      '180 people get each version: a difference of 15 points would be seen in 80 of 100 cases, when 40 of 100 open.',
    )
    await shown.fill('Subject', 'Bring thread')
    await shown.press('Send to 1,204 people')
    expect(sent().test).toMatchObject({
      share: 30,
      by: 'opens',
      itself: true,
      variants: [{ subject: 'Bring thread', senderName: '', email: null }],
    })
  })

  it('says why it is refused, and keeps what was chosen', async () => {
    await shown.choose('Email', 'Sunday, live')
    await flushPromises()
    server.refuses('POST /broadcasts', { status: 409, title: 'Nobody would get this email' })
    await shown.press('Send to 1,204 people')
    expect(shown.text()).toContain('Nobody would get this email')
    expect(shown.shownIn('Email')).toBe('Sunday, live')
  })
})

describe('an audience', () => {
  it('is anybody in some, less who is in others', () => {
    expect(audienceTree([], [])).toBeNull()
    expect(audienceTree([{ kind: 'tag', id: 3 }], [])).toEqual({
      kind: 'any',
      of: [{ kind: 'hasTag', tag: 3 }],
    })
    expect(audienceTree([{ kind: 'segment', id: 1 }], [{ kind: 'tag', id: 3 }])).toEqual({
      kind: 'all',
      of: [
        { kind: 'any', of: [{ kind: 'segment', segment: 1 }] },
        { kind: 'not', of: { kind: 'hasTag', tag: 3 } },
      ],
    })
  })
})

describe('one broadcast', () => {
  const open = async (view: Partial<BroadcastView>): Promise<void> => {
    server.answers('GET /broadcasts/7', { ...row, ...view })
    shown = await show(BroadcastScreen, { id: 7 })
    await flushPromises()
  }

  it('is called back in its minute, with the seconds that are left', async () => {
    server.answers('POST /broadcasts/7/call-back', undefined)
    await open({ state: 'calling', sent: 0, goesAt: new Date(Date.now() + 42_000).toISOString() })
    expect(shown.text()).toMatch(
      /Goes out in 4[12] s\. Until then you can call it back, and nobody gets it\./,
    )
    await shown.press('Call back')
    expect(server.sent('POST /broadcasts/7/call-back')).toHaveLength(1)
  })

  it('is stopped after saying what that means', async () => {
    server.answers('POST /broadcasts/7/stop', undefined)
    await open({})
    await shown.press('Stop')
    expect(shown.text()).toContain('1,200 people have not got it yet, and will not.')
    await shown.press('Stop broadcast')
    expect(server.sent('POST /broadcasts/7/stop')).toHaveLength(1)
    expect(shown.controls('Stop broadcast')).toEqual([])
  })

  it('offers only what can be done with it', async () => {
    await open({ state: 'notSent', said: 'Cancelled. Nothing was changed.', queued: 0 })
    expect(shown.text()).toContain('Cancelled. Nothing was changed.')
    for (const name of ['Stop', 'Pause', 'Call back', 'Send again to who did not open'])
      expect(shown.controls(name), name).toEqual([])
  })

  it('says which version leads and whether that can be read, and sends the rest the one that is chosen', async () => {
    server.answers('POST /broadcasts/7/decide', undefined)
    const variant = { email: row.email, senderName: '', clicked: 0, signedUp: 0 }
    await open({
      state: 'testing',
      test: { share: 30, by: 'opens', decideAt: null, itself: false, winner: null, decidedBy: null },
      variants: [
        { ...variant, number: 1, subject: 'Bring a needle', sent: 200, opened: 60 },
        { ...variant, number: 2, subject: 'Bring thread', sent: 200, opened: 90 },
      ],
    })
    // (60 of 200 against 90 of 200: z = 3.098, two-sided p = 0.0019, by the test of two proportions.)
    expect(shown.text()).toContain(
      'Version B leads. A difference so great would be chance in fewer than 5 of 100',
    )
    const [, second] = shown.controls('Send this to the rest')
    second!.click()
    await flushPromises()
    expect(server.sent('POST /broadcasts/7/decide')).toEqual([{ variant: 2 }])
  })

  it('is sent again to who did not open it, with another subject', async () => {
    server.answers('POST /broadcasts/7/again', { id: 8 })
    await open({ state: 'out', queued: 0 })
    await shown.press('Send again to who did not open')
    await shown.press('Send again')
    expect(shown.text()).toContain('Write a subject')
    await shown.fill('New subject', 'Still time to bring a needle')
    await shown.press('Send again')
    expect(server.sent('POST /broadcasts/7/again')).toEqual([{ subject: 'Still time to bring a needle' }])
  })
})

describe('the list of broadcasts', () => {
  it('has the numbers of each, with rates', async () => {
    server.answers('GET /broadcasts', [row])
    shown = await show(BroadcastList)
    expect(shown.text()).toContain('25.0 %')
    expect(shown.text()).toContain('1,200')
  })

  it('says where to begin when there is none', async () => {
    server.answers('GET /broadcasts', [])
    shown = await show(BroadcastList)
    expect(shown.text()).toContain('No broadcasts yet.')
  })
})

describe('the calendar', () => {
  const zone = 'Europe/Dublin'
  const planned: BroadcastView = { ...row, state: 'planned', goesAt: '2026-12-03T09:00:00.000Z' }

  it('shows whole weeks from Monday on, each broadcast on its day in the zone of the business', () => {
    // At 23:30 UTC on 31 March 2027 it is 1 April in Dublin, where clocks went forward on 28 March.
    const late = { ...planned, goesAt: '2027-03-31T23:30:00.000Z' }
    const at = { shown: '2027-03-10T12:00:00Z', zone, now: '2027-03-10T12:00:00Z' }
    const weeks = calendarWeeks([late], { ...at, span: 'month' })
    expect(weeks.map((week) => week[0]?.date)).toEqual([
      '2027-03-01',
      '2027-03-08',
      '2027-03-15',
      '2027-03-22',
      '2027-03-29',
    ])
    const day = weeks.flat().find(({ broadcasts }) => broadcasts.length > 0)
    expect(day).toMatchObject({ date: '2027-04-01', inMonth: false })
    expect(calendarWeeks([], { ...at, span: 'week' })).toHaveLength(1)
    expect(movedTo(late, '2027-03-20', zone)).toBe('2027-03-20T00:30')
  })

  it('moves what is planned by keys, and says so', async () => {
    vi.useFakeTimers({ now: new Date('2026-12-01T12:00:00Z'), toFake: ['Date'] })
    // Whole weeks, as far as they are shown: Monday 30 November to Sunday 3 January.
    const span = new URLSearchParams({ from: '2026-11-30T00:00:00.000Z', to: '2027-01-04T00:00:00.000Z' })
    server.answers(`GET /broadcasts?${span.toString()}`, [
      planned,
      { ...row, id: 9, goesAt: '2026-12-02T09:00:00.000Z' },
    ])
    server.answers('POST /broadcasts/7/move', undefined)
    shown = await show(BroadcastCalendar)
    await flushPromises()
    const [link, other] = [7, 9].map((id) => document.getElementById(`broadcast-${id}`)!)
    other!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', shiftKey: true, bubbles: true }))
    link!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }))
    link!.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', shiftKey: true, bubbles: true }))
    await flushPromises()
    vi.useRealTimers()
    expect(server.sent('POST /broadcasts/7/move')).toEqual([{ local: '2026-12-10T09:00' }])
    expect(server.sent('POST /broadcasts/9/move')).toEqual([])
    expect(shown.text()).toContain('Sunday, live now goes out on Thursday 10 December.')
  })
})
