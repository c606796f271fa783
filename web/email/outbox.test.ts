import { flushPromises } from '@vue/test-utils'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { EmailReport } from '../../contract/emails.ts'
import { fakeServer, show, type FakeServer, type Shown } from '../../testing/screen.ts'
import EmailReportView from './EmailReport.vue'
import OutboxView from './OutboxView.vue'

// Curves are drawn on a canvas, which there is none of here.
vi.mock('./ReadingChart.vue', () => ({ default: { template: '<div />' } }))

let server: FakeServer
let shown: Shown
beforeEach(() => {
  server = fakeServer()
  server.answers('GET /outbox/counts', { queue: 1, problems: 3 })
})

const row = {
  id: 31,
  contact: { id: 4, name: 'Orla Byrne', address: 'orla@postbox.test' },
  email: 'Sunday, live',
  rehearsal: false,
  queuedAt: '2026-11-24T10:00:00.000Z',
  sentAt: null,
  attempts: 1,
}

describe('the outbox', () => {
  it('says by cause what did not go out and what to do, and sends all of a cause again', async () => {
    server.answers('GET /outbox?show=problems&size=50', {
      rows: [{ ...row, state: 'failed', problem: 'The mail server does not answer' }],
      next: null,
    })
    server.answers('GET /outbox/problems', [
      { title: 'The mail server did not take it', doing: 'Check the server.', again: true, people: 2 },
      { title: 'The person does not want it', doing: 'Nothing has to be done.', again: false, people: 1 },
    ])
    server.answers('POST /outbox/again', { people: 2 })
    shown = await show(OutboxView, {}, { path: '/outbox?show=problems' })
    await flushPromises()
    expect(shown.text()).toContain('Check the server.')
    expect(shown.controls(/^Send again: The person/)).toEqual([])
    await shown.press('Send again: The mail server did not take it')
    expect(server.sent('POST /outbox/again')).toEqual([{ title: 'The mail server did not take it' }])
    expect(shown.text()).toContain('2 messages wait to be sent again.')
  })

  it('says what waits for which moment, and cancels one as long as it waits', async () => {
    server.answers('GET /outbox?show=queue&size=50', {
      rows: [{ ...row, state: 'queued', problem: null }],
      next: null,
    })
    server.answers('GET /outbox/queue', [
      { at: null, email: 'Sunday, live', from: 'broadcast', people: 7, waiting: false },
      { at: null, email: 'Let it lie flat', from: 'broadcast', people: 9, waiting: true },
    ])
    server.refuses('POST /outbox/31/cancel', { status: 409, title: 'This message does not wait any more' })
    shown = await show(OutboxView, {}, { path: '/outbox?show=queue' })
    await flushPromises()
    expect(shown.text()).toMatch(/now ?Sunday, live ?broadcast ?7/)
    expect(shown.text()).toMatch(/on hold ?Let it lie flat ?broadcast ?9/)
    await shown.press('Actions')
    expect(shown.controls('Send at once')).toHaveLength(1)
    await shown.press('Cancel')
    expect(shown.text()).toContain('This message does not wait any more')
  })
})

describe('the report of an email', () => {
  const report: EmailReport = {
    name: 'Let it lie flat',
    subject: 'A spine that opens flat',
    tracked: true,
    sent: 400,
    held: 0,
    failed: 2,
    opened: 100,
    machineOpened: 30,
    clicked: 8,
    money: { currency: 'EUR', amount: 12_800, orders: 3 },
    unsubscribed: 1,
    links: [
      { id: 1, key: 'a', label: 'See both spines', gone: false, people: 8, machines: 3 },
      { id: 2, key: 'b', label: 'Never clicked', gone: true, people: 0, machines: 0 },
    ],
    byHour: [{ hours: 1, opened: 40, clicked: 2 }],
    byDomain: [{ domain: 'postbox.test', sent: 400, opened: 100, clicked: 8, failed: 2 }],
    byDevice: [{ device: 'phone', opened: 60, clicked: 5 }],
  }
  beforeEach(async () => {
    const mail = {
      purpose: 'marketing',
      topic: null,
      hasDraft: false,
      usedIn: [],
      opened: 0,
      clicked: 0,
      state: 'live',
    }
    server.answers('GET /emails', [
      { ...mail, id: 5, name: report.name, subject: '', sent: 400, changedAt: row.queuedAt },
      { ...mail, id: 6, name: 'Wax', subject: '', sent: 50, changedAt: row.queuedAt },
      { ...mail, id: 7, name: 'Never sent', subject: '', sent: 0, changedAt: row.queuedAt },
    ])
    server.answers('GET /emails/5/report', report)
    server.answers('GET /emails/6/report', { ...report, name: 'Wax', sent: 50, opened: 20, tracked: false })
    shown = await show(EmailReportView, { id: 5 })
    await flushPromises()
  })

  it('tells people and machines apart, and leaves out links that are gone and were never clicked', () => {
    expect(shown.text()).toMatch(/Opened by people ?100 ?25\.0 %/)
    expect(shown.text()).toMatch(/Opened by machines alone ?30/)
    expect(shown.text()).toContain('See both spines')
    expect(shown.text()).not.toContain('Never clicked')
    expect(shown.text()).toMatch(/Phone ?60 ?5/)
  })

  it('stands beside that of another email, whose few people allow no rate', async () => {
    expect(await shown.offered('Compare with')).toEqual(['Wax'])
    await shown.choose('Compare with', 'Wax')
    await flushPromises()
    expect(shown.text()).toMatch(/Opened by people ?100 ?25\.0 % ?20 ?too few to read/)
  })
})
