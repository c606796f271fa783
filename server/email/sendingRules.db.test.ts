import { DateTime } from 'luxon'
import { beforeEach, describe, expect, it } from 'vitest'
import type { OutboxList } from '../../contract/email.ts'
import { noRules, type SendingRules } from '../../core/email/sendingRules.ts'
import { useEmails } from '../../testing/emails.ts'
import { sendDue } from '../../testing/sending.ts'
import { useInstall } from '../../testing/useInstall.ts'

const on = useInstall({ worker: false })
const { write, live } = useEmails(on)
const hour = 3_600_000

const setRules = async (rules: Partial<SendingRules>): Promise<void> => {
  expect((await on.mara.post('/sending-rules', { ...noRules, ...rules })).status).toBe(204)
}
/** Queues marketing, or something asked for, to a new person or a known one. @returns their id */
async function queue(
  email: number,
  count: number,
  purpose = 'marketing',
  zone: string | null = null,
  known?: number,
) {
  const person = known ?? (await on.add(`p${Math.random()}@postbox.test`))
  await on.q.rows(`update contact set marketing_state = 'subscribed', zone = $2 where id = $1`, [
    person,
    zone,
  ])
  await on.q.rows(
    `insert into message (email_id, contact_id, purpose, queued_at, due_at)
     select $1, $2, $3, $4, $4 from generate_series(1, $5)`,
    [email, person, purpose, new Date(on.install.clock.now()), count],
  )
  return person
}
const sentTo = async (person: number): Promise<number> =>
  (await on.q.rows(`select from message where contact_id = $1 and state = 'sent'`, [person])).length
const journalOf = async (person: number): Promise<string> => JSON.stringify((await on.view(person)).journal)

let email: number
beforeEach(async () => {
  await setRules({})
  await on.q.rows(`update message set state = 'held' where state = 'queued'`)
  email = await live(write())
})

describe('sending rules', () => {
  it('move marketing out of quiet hours where the reader is; what was asked for goes', async () => {
    // 10:00 in Dublin is 15:30 in Kolkata.
    await setRules({ quiet: { from: '15:00', to: '18:00' } })
    const [there, here, asked] = [
      await queue(email, 1, 'marketing', 'Asia/Kolkata'),
      await queue(email, 1),
      await queue(email, 1, 'transactional', 'Asia/Kolkata'),
    ]
    await sendDue(on.install)
    expect([await sentTo(there), await sentTo(here), await sentTo(asked)]).toEqual([0, 1, 1])
    expect(await journalOf(there)).toContain('it is a quiet hour where the person is')
    const { rows } = await on.mara.get<OutboxList>('/outbox?show=queue&size=50')
    expect(rows).toMatchObject([{ problem: 'Moved: it is a quiet hour where the person is', attempts: 0 }])
    on.install.clock.move(2.5 * hour)
    await sendDue(on.install)
    expect(await sentTo(there)).toBe(1)
  })

  it('let so many to one person a day, the most urgent first, the next when there is room', async () => {
    await setRules({ aDay: 2 })
    const person = await queue(email, 3)
    await sendDue(on.install)
    expect(await sentTo(person)).toBe(2)
    expect(await journalOf(person)).toContain('enough marketing was sent to this person')
    on.install.clock.move(23 * hour)
    await sendDue(on.install)
    expect(await sentTo(person)).toBe(2)
    on.install.clock.move(hour)
    await sendDue(on.install)
    expect(await sentTo(person)).toBe(3)
  })

  it('count on the own clock of somebody in rehearsal, which runs ahead', async () => {
    await setRules({ aDay: 1 })
    const person = await queue(email, 2)
    await on.q.rows('update contact set rehearsal = true, clock_ahead = $2 where id = $1', [
      person,
      3 * 24 * hour,
    ])
    await sendDue(on.install)
    expect(await sentTo(person)).toBe(1)
    // A jump of a day for them alone makes room; nobody else waits for it.
    await on.q.rows('update contact set clock_ahead = $2 where id = $1', [person, 4 * 24 * hour])
    await on.q.rows('update message set due_at = $2 where contact_id = $1', [
      person,
      new Date(on.install.clock.now()),
    ])
    await sendDue(on.install)
    expect(await sentTo(person)).toBe(2)
  })

  it('skip what would have to wait more than a week, and say so', async () => {
    await setRules({ aWeek: 1 })
    const person = await queue(email, 1)
    await sendDue(on.install)
    // A week from now is on a day that is not among them, and there is no room before.
    const tomorrow = DateTime.fromMillis(on.install.clock.now(), { zone: 'Europe/Dublin' }).plus({ days: 1 })
    await setRules({ aWeek: 1, weekdays: [tomorrow.weekday] })
    await queue(email, 1, 'marketing', null, person)
    await sendDue(on.install)
    const held = await on.q.rows<{ problem: string }>(
      `select problem from message where contact_id = $1 and state = 'held'`,
      [person],
    )
    expect([await sentTo(person), held]).toEqual([
      1,
      [{ problem: expect.stringContaining('Skipped:') as string }],
    ])
  })

  it('let so many a minute, of all kinds, whoever sends', async () => {
    await setRules({ perMinute: 5 })
    on.install.clock.move(2 * 60_000)
    for (let n = 0; n < 8; n += 1) await queue(email, 1, n % 2 ? 'marketing' : 'transactional')
    const count = async (): Promise<number> =>
      (await on.q.rows(`select from message where email_id = $1 and state = 'sent'`, [email])).length
    await Promise.all([sendDue(on.install), sendDue(on.install)])
    expect(await count()).toBe(5)
    on.install.clock.move(61_000)
    await sendDue(on.install)
    expect(await count()).toBe(8)
  })

  it('give way to somebody who wants a message out at once, and to other rules', async () => {
    await setRules({ quiet: { from: '00:00', to: '23:59' } })
    const [hurried, waits] = [await queue(email, 1), await queue(email, 1)]
    await sendDue(on.install)
    const [message] = await on.q.rows<{ id: number }>('select id from message where contact_id = $1', [
      hurried,
    ])
    expect((await on.mara.post(`/outbox/${message!.id}/hurry`)).status).toBe(204)
    await sendDue(on.install)
    expect([await sentTo(hurried), await sentTo(waits)]).toEqual([1, 0])
    await setRules({})
    await sendDue(on.install)
    expect(await sentTo(waits)).toBe(1)
  })

  it.each([{ quiet: { from: '25:00', to: '08:00' } }, { weekdays: [] }, { aDay: 0 }, { perMinute: 1.5 }])(
    'of %j are refused',
    async (rules) => {
      expect((await on.mara.post('/sending-rules', { ...noRules, ...rules })).status).toBe(422)
    },
  )
})
