import { createHmac } from 'node:crypto'
import { createServer, type IncomingHttpHeaders, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { programOf, useFollowups } from '../../testing/followups.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'
import { callWebhook, teamNote, webhookSecret } from './outside.ts'

const on = useInstall()
const followups = useFollowups(on)

/** Another server, which answers as it is told to. */
let other: Server
let url: string
let answer = 200
const got: { headers: IncomingHttpHeaders; body: string }[] = []
beforeAll(async () => {
  other = createServer((request, response) => {
    let body = ''
    request.on('data', (part: Buffer) => (body += part.toString()))
    request.on('end', () => {
      got.push({ headers: request.headers, body })
      response.writeHead(answer, answer === 302 ? { location: 'http://127.0.0.1:1/' } : {}).end()
    })
  })
  await new Promise<void>((done) => other.listen(0, '127.0.0.1', done))
  url = `http://127.0.0.1:${(other.address() as AddressInfo).port}/hook`
})
afterAll(() => new Promise((done) => other.close(done)))
beforeEach(() => {
  got.length = 0
  answer = 200
})

const job = (contact: number, followup = 1) => ({
  contact,
  followup,
  enrolment: 5,
  step: 'report',
  url,
  at: Date.parse('2026-11-24T09:00:00Z'),
})

describe('a report to another server', () => {
  it('comes from the step, signed so that the other side can check it (Standard Webhooks)', async () => {
    const id = await followups.live(programOf([{ kind: 'webhook', id: 'report', url }]))
    const person = await on.add('reported@postbox.test', { firstName: 'Nia' })
    await followups.letIn(id, [person])
    const { headers, body } = await eventually(() => Promise.resolve(got[0] ?? false))
    expect(JSON.parse(body)).toMatchObject({
      type: 'followup.step',
      data: { followup: id, step: 'report', person: { id: person, address: 'reported@postbox.test' } },
    })
    const key = Buffer.from(webhookSecret(on.install.platform).replace('whsec_', ''), 'base64')
    const signed = `${String(headers['webhook-id'])}.${String(headers['webhook-timestamp'])}.${body}`
    expect(headers['webhook-signature']).toBe(
      `v1,${createHmac('sha256', key).update(signed).digest('base64')}`,
    )
    expect(Number(headers['webhook-timestamp'])).toBe(Math.floor(on.install.clock.now() / 1_000))
    // Nobody waits for it: the person is through.
    expect(await followups.outcomes(id, person)).toEqual(['report did', 'report left'])
  })

  it('has the same id when it is tried again, and fails as long as it is not taken', async () => {
    const person = await on.add('again@postbox.test')
    answer = 503
    await expect(callWebhook(on.install.platform, job(person))).rejects.toThrow(/answered 503/)
    answer = 200
    await callWebhook(on.install.platform, job(person))
    expect(new Set(got.map(({ headers }) => headers['webhook-id']))).toEqual(new Set(['followup_5_report']))
  })

  it('goes nowhere else than where it was told to: no redirect is followed', async () => {
    answer = 302
    const person = await on.add('redirected@postbox.test')
    await expect(callWebhook(on.install.platform, job(person))).rejects.toThrow()
    expect(got).toHaveLength(1)
  })

  it('is made of nobody in rehearsal, and of nobody who was erased', async () => {
    const madeUp = await on.add('made.up@rehearsal.example', { rehearsal: true })
    await callWebhook(on.install.platform, job(madeUp))
    const gone = await on.add('gone@postbox.test')
    await on.mara.post(`/people/${gone}/erase`)
    await callWebhook(on.install.platform, job(gone))
    expect(got).toEqual([])
  })
})

describe('a note to the team', () => {
  it('says who it is about and leads there; an answer goes to them', async () => {
    const person = await on.add('noted@postbox.test', { firstName: 'Nia', lastName: 'Fairburn' })
    const { mail, rehearsal } = (await teamNote(on.install.platform, {
      contact: person,
      followup: on.install.ids.followup,
      words: 'Call them',
    }))!
    expect(rehearsal).toBe(false)
    expect(mail.subject).toMatch(/: Nia Fairburn$/)
    expect(mail.replyTo).toBe('noted@postbox.test')
    expect(mail.text).toMatch(/^Call them\n\nNia Fairburn \(noted@postbox\.test\)\n.*\/app\/people\/\d+$/)
  })

  it('of somebody made up stays in the test inbox, and of nobody there is none', async () => {
    const madeUp = await on.add('noted@rehearsal.example', { rehearsal: true })
    const note = { contact: madeUp, followup: on.install.ids.followup, words: 'Look' }
    expect((await teamNote(on.install.platform, note))?.rehearsal).toBe(true)
    expect(await teamNote(on.install.platform, { ...note, contact: 999_999 })).toBeNull()
    expect(await teamNote(on.install.platform, { ...note, followup: 999_999 })).toBeNull()
  })
})
