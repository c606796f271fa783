import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { OutboxList } from '../../../contract/email.ts'
import type { PersonView } from '../../../contract/audience/people.ts'
import type { TodayView } from '../../../contract/today.ts'
import type { Worker } from '../../work/worker.ts'
import { openInstall, type TestInstall } from '../../../testing/install.ts'
import { signedIn, type Marketer } from '../../../testing/marketer.ts'
import { mailFor, postForm } from '../../../testing/visitor.ts'
import { sendDue } from '../../../testing/sending.ts'
import { eventually } from '../../../testing/waiting.ts'

let install: TestInstall
let mara: Marketer
const workers: Worker[] = []
const silent = { add() {}, told() {}, close() {} }
beforeAll(async () => {
  install = await openInstall()
  mara = await signedIn(install.url)
})
afterAll(() => install.close())

describe('when the mail server is down', () => {
  it('keeps the mail, says so, and sends it when the server is back', async () => {
    await install.mail.stop()
    workers.push(await install.startWorker())
    await postForm(install.url, { address: 'patient@postbox.test' })
    const today = await eventually(async () => {
      const seen = await mara.get<TodayView>('/today')
      return seen.needsAHand.length > 0 && seen
    })
    expect(today.needsAHand[0]).toMatchObject({
      what: '1 email waits: The mail server does not answer',
      to: '/outbox?show=queue',
    })
    const queue = await mara.get<OutboxList>('/outbox?show=queue')
    expect(queue.rows).toMatchObject([{ state: 'queued', problem: 'The mail server does not answer' }])
    const inbox = await fetch(`${install.url}/api/inbox`)
    expect(inbox.status).toBe(401)
    await expect(mara.get('/inbox')).rejects.toThrow(/503.*Mail waits in the queue and nothing is lost/)

    await install.mail.start()
    install.clock.move(20_000)
    expect(await mailFor(install, 'patient@postbox.test')).toHaveLength(1)
    await eventually(async () => (await mara.get<TodayView>('/today')).needsAHand.length === 0)
  })
})

describe('when the mail server refuses', () => {
  it('gives up on an address that does not exist and marks the person', async () => {
    await postForm(install.url, { address: 'no-such-person@postbox.test' })
    const list = await eventually(async () => {
      const seen = await mara.get<OutboxList>('/outbox?show=problems')
      return seen.rows.length > 0 && seen
    })
    expect(list.rows[0]).toMatchObject({ state: 'failed', attempts: 1 })
    expect(list.rows[0]?.problem).toContain('5.1.1')
    const person = await mara.get<PersonView>(`/people/${list.rows[0]?.contact.id}`)
    expect(person.marketingState).toBe('bounced')
  })

  it('tries again later when the refusal may pass (RFC 3463: 4.x.x is transient)', async () => {
    await postForm(install.url, { address: 'full-mailbox@postbox.test' })
    const waiting = await eventually(async () => {
      const { rows } = await mara.get<OutboxList>('/outbox?show=queue&search=full-mailbox')
      return rows.find(({ attempts }) => attempts > 0)
    })
    expect(waiting.problem).toContain('4.2.2')
  })
})

describe('one message', () => {
  const q = () => install.platform.database
  const queueFor = async (
    address: string,
    more: { firstName?: string; due?: string } = {},
  ): Promise<number> =>
    (await q().row<{ id: number }>(
      `with somebody as (
         insert into contact (address, address_key, first_name, marketing_state, created_at, updated_at)
         values ($2, $2, $3, 'subscribed', now(), now()) returning id)
       insert into message (email_id, contact_id, purpose, queued_at, due_at)
       select $1, id, 'marketing', now(), $4::timestamptz from somebody returning id`,
      [install.emails.grain, address, more.firstName ?? '', more.due ?? '-infinity'],
    ))!.id
  const stateOf = async (id: number) =>
    (await q().row<{ state: string; problem: string | null; attempts: number }>(
      'select state, problem, attempts from message where id = $1',
      [id],
    ))!
  const at = (later: number): string => new Date(install.clock.now() + later).toISOString()

  it('goes once, however many workers look for it at the same time', async () => {
    const id = await queueFor('once@postbox.test')
    const claimed = await Promise.all([1, 2, 3].map(() => sendDue(install)))
    expect(claimed.reduce((sum, each) => sum + each, 0)).toBeLessThanOrEqual(1)
    await eventually(async () => (await stateOf(id)).state === 'sent')
    expect(await mailFor(install, 'once@postbox.test')).toHaveLength(1)
  })

  it('waits for its moment', async () => {
    await queueFor('later@postbox.test', { due: at(3_600_000) })
    await sendDue(install)
    expect(install.mail.standins?.mailbox.list({ to: 'later@postbox.test' })).toEqual([])
    install.clock.move(3_600_000)
    expect(await mailFor(install, 'later@postbox.test')).toHaveLength(1)
  })

  it('that a killed worker had handed over is not sent again', async () => {
    const id = await queueFor('gone@postbox.test', { due: at(60_000) })
    for (const worker of [...workers]) await worker.stop()
    install.clock.move(60_000)
    await sendDue(install, { ...silent, all: () => new Set([id]) })
    expect(await stateOf(id)).toMatchObject({ state: 'sent' })
    expect(install.mail.standins?.mailbox.list({ to: 'gone@postbox.test' })).toEqual([])
  })

  it('goes on without the one for whom it cannot be put together', async () => {
    const broken = await queueFor('not an address')
    const fine = await queueFor('fine@postbox.test')
    await sendDue(install)
    expect(await stateOf(broken)).toMatchObject({
      state: 'failed',
      problem: 'The email cannot be put together: “not an address” is no email address',
    })
    expect(await stateOf(fine)).toMatchObject({ state: 'sent', attempts: 1 })
  })

  it('is tried for two days, then is a problem', async () => {
    const id = await queueFor('full-mailbox@elsewhere.test')
    let tries = 0
    for (let hours = 0; hours < 60; hours += 1) {
      if ((await sendDue(install)) > 0) tries += 1
      install.clock.move(3_600_000)
    }
    const { state, problem, attempts } = await stateOf(id)
    expect({ state, attempts }).toEqual({ state: 'failed', attempts: tries })
    expect(problem).toContain('Not taken for 2 days')
    expect(tries).toBeGreaterThan(20)
  })
})
