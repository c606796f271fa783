import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { OutboxList } from '../../contract/email.ts'
import type { PersonView } from '../../contract/audience/people.ts'
import type { TodayView } from '../../contract/today.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { signedIn, type Marketer } from '../../testing/marketer.ts'
import { mailFor, postForm } from '../../testing/visitor.ts'
import { eventually } from '../../testing/waiting.ts'
import { openTransports } from './transport.ts'
import { sendMessage } from './sending.ts'

let install: TestInstall
let mara: Marketer
beforeAll(async () => {
  install = await openInstall()
  mara = await signedIn(install.url)
})
afterAll(() => install.close())

describe('when the mail server is down', () => {
  it('keeps the mail, says so, and sends it when the server is back', async () => {
    await install.mail.stop()
    await install.startWorker()
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
    // The queue tries again after some seconds (its pauses grow as the exponential of the tries).
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
  it('goes once, however many workers take it up at the same time', async () => {
    const q = install.platform.database
    const { id } = (await q.row<{ id: number }>(
      `with somebody as (
         insert into contact (address, address_key, marketing_state, created_at, updated_at)
         values ('once@postbox.test', 'once@postbox.test', 'subscribed', now(), now()) returning id)
       insert into message (email_id, contact_id, purpose, queued_at)
       select $1, id, 'marketing', now() from somebody returning id`,
      [install.emails.grain],
    ))!
    const transports = openTransports(install.platform.settings)
    const tries = await Promise.allSettled([1, 2, 3].map(() => sendMessage(install.platform, transports, id)))
    // Who comes too late fails and is tried again by the queue; then there is nothing left to do.
    expect(tries.filter(({ status }) => status === 'fulfilled').length).toBeGreaterThanOrEqual(1)
    await sendMessage(install.platform, transports, id)
    transports.close()
    expect(await mailFor(install, 'once@postbox.test')).toHaveLength(1)
  })
})
