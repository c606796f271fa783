import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it } from 'vitest'
import type { BroadcastView } from '../../contract/broadcasts.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import BroadcastList from './BroadcastList.vue'
import SendBroadcast from './SendBroadcast.vue'

let server: FakeServer
let shown: Shown
beforeEach(() => {
  server = fakeServer()
})

describe('an email to everybody who is meant', () => {
  const who = { search: '', tree: { kind: 'segment', segment: 4 } }
  beforeEach(async () => {
    const row = {
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
      { ...row, id: 5, name: 'Sunday, live', subject: 'Bring a needle', state: 'live' },
      { ...row, id: 6, name: 'Half written', subject: '', state: 'draft' },
    ])
    server.answers('GET /topics', [
      { id: 2, name: 'Session news', description: '', people: 9, archived: false },
      { id: 3, name: 'Old news', description: '', people: 1, archived: true },
    ])
    server.answers('POST /broadcasts/forecast', {
      gets: 1204,
      leftOut: [{ reason: 'the person is unsubscribed', people: 15 }],
    })
    server.answers('POST /broadcasts', { id: 1 })
    shown = await show(SendBroadcast, { modelValue: true, who })
    await flushPromises()
  })

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
    await shown.press('Send to 1,204 people')
    expect(server.sent('POST /broadcasts')).toEqual([{ who, email: 5, topic: null }])
  })

  it('counts anew for a topic, of which those that are archived cannot be chosen', async () => {
    await shown.choose('Email', 'Sunday, live')
    expect(await shown.offered('Topic')).toEqual([
      'No topic: everybody who is subscribed',
      'Session news: only those who agreed to it',
    ])
    await shown.choose('Topic', 'Session news: only those who agreed to it')
    expect(server.sent('POST /broadcasts/forecast').at(-1)).toEqual({ who, email: 5, topic: 2 })
  })

  it('does not go to nobody', async () => {
    server.answers('POST /broadcasts/forecast', { gets: 0, leftOut: [] })
    await shown.choose('Email', 'Sunday, live')
    await flushPromises()
    server.refuses('POST /broadcasts', { status: 409, title: 'Nobody would get this email' })
    await shown.press('Send to 0 people')
    expect(shown.text()).toContain('Nobody would get this email')
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

describe('the list of broadcasts', () => {
  const row: BroadcastView = {
    id: 7,
    email: 'Sunday, live',
    topic: null,
    sentence: 'everybody',
    by: 'Mara Ellery',
    createdAt: '2026-11-24T10:00:00.000Z',
    state: 'goingOut',
    said: '',
    queued: 1200,
    sent: 4,
    held: 0,
    failed: 0,
    leftOut: [{ reason: 'the person is unsubscribed', people: 15 }],
  }
  beforeEach(() => {
    server.answers('GET /outbox/counts', { queue: 0, problems: 0 })
  })

  it('stops one that goes out, after saying what that means', async () => {
    server.answers('GET /broadcasts', [row])
    server.answers('POST /broadcasts/7/stop', undefined)
    shown = await show(BroadcastList)
    await shown.press('Stop')
    expect(shown.text()).toContain('1,200 people have not got it yet, and will not.')
    await shown.press('Stop broadcast')
    expect(server.sent('POST /broadcasts/7/stop')).toHaveLength(1)
    expect(shown.controls('Stop broadcast')).toEqual([])
  })

  it('says why one was not sent, and offers no stop for it', async () => {
    server.answers('GET /broadcasts', [
      { ...row, state: 'notSent', said: 'Cancelled. Nothing was changed.', queued: 0 },
    ])
    shown = await show(BroadcastList)
    expect(shown.text()).toContain('Cancelled. Nothing was changed.')
    expect(shown.controls('Stop')).toEqual([])
  })

  it('says where to begin when there is none', async () => {
    server.answers('GET /broadcasts', [])
    shown = await show(BroadcastList)
    expect(shown.text()).toContain('No broadcasts yet.')
  })
})
