import { beforeEach, describe, expect, it } from 'vitest'
import type { BroadcastForecast, BroadcastView } from '../../../contract/broadcasts.ts'
import type { TodayView } from '../../../contract/today.ts'
import type { Condition } from '../../../core/audience/segments/condition.ts'
import { made, workEnded } from '../../../testing/people.ts'
import { sendDue } from '../../../testing/sending.ts'
import { useInstall } from '../../../testing/useInstall.ts'
import { mailFor } from '../../../testing/visitor.ts'
import { eventually } from '../../../testing/waiting.ts'
import { Cancelled, type Progress } from '../../work/longWork.ts'
import { claimMessages } from '../sending/claimed.ts'
import { runBroadcast } from './preparing.ts'
import { callBackFor } from './moments.ts'

const used = useInstall({ worker: false })
const add: typeof used.add = (address, more) => used.add(address, more)
const view = (id: number) => used.view(id)
const q = () => used.q
const grain = () => used.install.emails.grain

const quiet: Progress = { report: () => Promise.resolve() }
const consent = 'Told me so at the spring fair'
const everybody = { search: '', tree: null }

const forecast = (payload: object) =>
  made<BroadcastForecast>(
    used.mara.post('/broadcasts/forecast', { who: everybody, email: grain(), ...payload }),
  )
const begin = (payload: object = {}) =>
  used.mara.post('/broadcasts', { who: everybody, email: grain(), ...payload })
const nothingElse = { soon: 0, past: 0, openRate: null }
/** Does something with a broadcast, which is taken. */
async function steer(id: number, does: string, body?: object): Promise<void> {
  const answer = await used.mara.post(`/broadcasts/${id}/${does}`, body)
  if (!answer.ok) throw new Error(await answer.text())
}
const list = () => used.mara.get<BroadcastView[]>('/broadcasts')

const needsUtf8 = { people: 1, reason: 'the mail server takes no address with letters beyond a to z' }

describe('somebody whose address has letters beyond a to z', () => {
  it('is left out, and that is said before, once the mail server is known to take none', async () => {
    const person = await add('mära@postbox.test')
    await q().rows(`update contact set marketing_state = 'subscribed' where id = $1`, [person])
    const who = { search: 'mära@', tree: null }
    expect(await forecast({ who })).toMatchObject({ gets: 1, leftOut: [] })
    await q().rows('insert into mail_server (knows_utf8) values (false)')
    expect(await forecast({ who })).toMatchObject({ gets: 0, leftOut: [needsUtf8] })
    await q().rows('update mail_server set knows_utf8 = true')
    expect((await forecast({ who })).gets).toBe(1)
    await q().rows('delete from mail_server')
    await used.mara.post(`/people/${person}/erase`)
  })
})

/** Begins a broadcast, and carries out its long work as a worker would. */
async function queue(payload: object = {}, progress = quiet): Promise<number> {
  const { id } = await made<{ id: number }>(begin(payload))
  const work = (await q().row<{ id: number; payload: unknown }>(
    'select long_work.id, payload from long_work join broadcast on work_id = long_work.id where broadcast.id = $1',
    [id],
  ))!
  const said = await runBroadcast(used.install.platform, work.payload, progress)
  await q().rows(`update long_work set state = 'done', result = $2 where id = $1`, [
    work.id,
    JSON.stringify({ said }),
  ])
  return id
}

const queued = () =>
  q().rows<{ id: number; address: string }>(
    `select message.id, address from message join contact on contact.id = contact_id
     where message.state = 'queued' order by message.id`,
  )

/** Sends what waits, once it can no longer be called back. */
async function sendAll(): Promise<void> {
  used.install.clock.move(callBackFor)
  await sendDue(used.install)
}

async function topic(name: string): Promise<number> {
  return (await made<{ id: number }>(used.mara.post('/topics', { name }))).id
}

let people: Record<'ann' | 'bea' | 'cem' | 'dag' | 'eve', number>
beforeEach(async () => {
  for (const table of [
    'message',
    'broadcast_variant',
    'broadcast',
    'contact',
    'activity',
    'topic',
    'segment',
    'consent',
  ])
    await q().rows(`delete from ${table}`)
  await q().rows(`delete from graphile_worker._private_jobs`)
  people = {
    ann: await add('ann@postbox.test', { consent, tags: ['Buyer'] }),
    bea: await add('bea@postbox.test', { consent, tags: ['Buyer'] }),
    cem: await add('cem@postbox.test', { consent }),
    dag: await add('dag@postbox.test'),
    eve: await add('eve@postbox.test', { consent }),
  }
  const later = new Date(used.install.clock.now() + 86_400_000)
  await q().rows('update contact set paused_until = $2 where id = $1', [people.eve, later])
})

describe('before anything is sent', () => {
  it('says who would get it, and who would not and why', async () => {
    expect(await forecast({})).toEqual({
      ...nothingElse,
      gets: 3,
      leftOut: [
        { reason: 'the person has never been asked', people: 1 },
        { reason: 'the person has paused all email', people: 1 },
      ],
    })
  })

  it('asks for the topic where the email has one, and leaves out who has had it', async () => {
    const news = await topic('Session news')
    await used.mara.post(`/people/${people.ann}/topics`, { topic: news, agreed: true })
    expect(await forecast({ topic: news })).toMatchObject({
      gets: 1,
      leftOut: [{ reason: 'the person did not agree to the topic', people: 2 }, {}, {}],
    })
    await queue({ topic: news })
    expect((await forecast({})).leftOut).toContainEqual({
      reason: 'the person has had this email',
      people: 1,
    })
  })

  it('counts nobody in rehearsal, and a pause that is over as none', async () => {
    await q().rows('update contact set rehearsal = true where id = $1', [people.ann])
    used.install.clock.move(2 * 86_400_000)
    expect((await forecast({})).gets).toBe(3)
  })

  it('refuses what cannot be: no such email, a topic that is archived, nobody, nobody can tell who', async () => {
    expect((await begin({ email: 999 })).status).toBe(404)
    const old = await topic('Old news')
    await used.mara.post(`/topics/${old}`, { name: 'Old news', archived: true })
    expect((await begin({ topic: old })).status).toBe(404)
    const nobody = await begin({ who: { search: 'dag@', tree: null } })
    expect(nobody.status).toBe(409)
    expect(await nobody.json()).toMatchObject({ title: 'Nobody would get this email' })
    const tree: Condition = { kind: 'hasTag', tag: 999 }
    expect((await begin({ who: { search: '', tree } })).status).toBe(409)
    expect(await list()).toEqual([])
    expect(await queued()).toEqual([])
  })
})

describe('a broadcast to a segment', () => {
  it('goes to each of it once, and the journal says why', async () => {
    const buyer = (await q().row<{ id: number }>(`select id from tag where name = 'Buyer'`))!.id
    const { id: segment } = await made<{ id: number }>(
      used.mara.post('/segments', { name: 'Buyers', tree: { kind: 'hasTag', tag: buyer } }),
    )
    const who = { search: '', tree: { kind: 'segment', segment } }
    await queue({ who })
    expect((await queued()).map(({ address }) => address)).toEqual(['ann@postbox.test', 'bea@postbox.test'])
    await sendAll()
    expect(await mailFor(used.install, 'ann@postbox.test')).toHaveLength(1)
    const { journal } = await view(people.ann)
    expect(journal.find(({ title }) => title.startsWith('was sent'))).toMatchObject({
      title: 'was sent “Paper grain in ten minutes”',
      reason: 'broadcast by Mara Ellery to everybody, narrowed down to: is in the segment “Buyers”',
    })
    expect(await list()).toMatchObject([
      { state: 'out', sent: 2, queued: 0, sentence: expect.stringContaining('“Buyers”') as string },
    ])
    const again = await begin({ who })
    expect(again.status).toBe(409)
  })

  it('waits behind what somebody waits for', async () => {
    await queue()
    await q().rows(
      `insert into message (email_id, contact_id, purpose, queued_at) values ($1, $2, 'transactional', now())`,
      [grain(), people.dag],
    )
    used.install.clock.move(callBackFor)
    const claimed = await q().inTransaction((tx) => claimMessages(tx, used.install.clock.now(), 2))
    expect(claimed.map(({ purpose }) => purpose)).toEqual(['transactional', 'marketing'])
  })

  it('lets follow-ups go on sending the same email while it is made', async () => {
    const { grain } = used.install.emails
    const stillMaking: Progress = {
      async report() {
        // A message of a follow-up: were the email's row locked whole, this would wait for the broadcast to end.
        await used.q.inTransaction(async (tx) => {
          await tx.rows(`set local lock_timeout = '1s'`)
          await tx.rows(
            `insert into message (email_id, contact_id, purpose, queued_at) values ($1, $2, 'marketing', now())`,
            [grain, people.dag],
          )
        })
      },
    }
    await queue({}, stillMaking)
    expect((await queued()).filter(({ address }) => address.startsWith('dag')).length).toBeGreaterThan(0)
  })

  it('keeps its counts when a worker takes it up again', async () => {
    const id = await queue()
    const before = await list()
    const { payload } = (await q().row<{ payload: unknown }>(
      'select payload from long_work where id = (select work_id from broadcast where id = $1)',
      [id],
    ))!
    const said = await runBroadcast(used.install.platform, payload, quiet)
    expect(said).toBe('Queued for 3 people; 2 people left out.')
    expect(await list()).toEqual(before)
  })

  it('queues nothing when it is cancelled on the way', async () => {
    const stopping: Progress = { report: () => Promise.reject(new Cancelled()) }
    await expect(queue({}, stopping)).rejects.toThrow(Cancelled)
    expect(await queued()).toEqual([])
  })

  it('keeps it from who has left the topic, or all, since it was queued', async () => {
    const news = await topic('Session news')
    for (const id of [people.ann, people.bea, people.cem])
      await used.mara.post(`/people/${id}/topics`, { topic: news, agreed: true })
    await queue({ topic: news })
    await used.mara.post(`/people/${people.ann}/topics`, { topic: news, agreed: false })
    await q().rows(`update contact set marketing_state = 'unsubscribed' where id = $1`, [people.bea])
    await sendAll()
    const held = (await view(people.ann)).journal.find(({ title }) => title.startsWith('was left out of'))
    expect(held?.reason).toBe('the person did not agree to the topic')
    expect(await list()).toMatchObject([{ state: 'out', sent: 1, held: 2, topic: 'Session news' }])
  })

  it('can be stopped: what has gone is gone, the rest is held back and each is told why', async () => {
    const id = await queue()
    // One of them only is due now.
    await q().rows(`update message set due_at = $2 where id = $1`, [
      (await queued())[0]!.id,
      new Date(used.install.clock.now()),
    ])
    await sendDue(used.install)
    expect(await list()).toMatchObject([{ state: 'goingOut', sent: 1, queued: 2 }])
    const { departures } = await used.mara.get<TodayView>('/today')
    const fromIt = { what: '“Paper grain in ten minutes”', from: 'broadcast', to: '/outbox/broadcasts' }
    expect(departures).toMatchObject([
      { ...fromIt, people: 1, gone: true },
      // Under way: how many of all are still to go.
      { ...fromIt, to: `/outbox/broadcasts/${id}`, people: 2, of: 3, gone: false },
    ])
    await steer(id, 'stop')
    await sendDue(used.install)
    expect(await list()).toMatchObject([
      { state: 'stopped', said: 'Stopped by Mara Ellery.', sent: 1, held: 2, queued: 0 },
    ])
    const held = (await view(people.cem)).journal.find(({ title }) => title.startsWith('was left out of'))
    expect(held?.reason).toBe('Mara Ellery stopped the broadcast')
    // Who did not get it may still get it another time.
    expect((await forecast({})).gets).toBe(2)
  })

  it('has nothing to stop once all of it has gone', async () => {
    const id = await queue()
    await sendAll()
    const answer = await used.mara.post(`/broadcasts/${id}/stop`)
    expect(answer.status).toBe(409)
    expect((await used.mara.post('/broadcasts/999/stop')).status).toBe(404)
  })
})

describe('with a worker', () => {
  it('goes from one press to the inboxes', async () => {
    await used.install.startWorker()
    await made(begin({ email: used.install.emails.invitation }))
    const { work_id } = (await q().row<{ work_id: number }>('select work_id from broadcast'))!
    expect((await workEnded(used.mara, work_id)).said).toBe('Queued for 3 people; 2 people left out.')
    expect(await list()).toMatchObject([{ state: 'calling', queued: 3 }])
    await steer((await list())[0]!.id, 'hurry')
    for (const name of ['ann', 'bea', 'cem'])
      expect(await eventually(() => mailFor(used.install, `${name}@postbox.test`))).not.toEqual([])
    await eventually(async () => (await list())[0]?.state === 'out')
  })
})
