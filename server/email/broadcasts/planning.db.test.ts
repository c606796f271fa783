import { beforeEach, describe, expect, it } from 'vitest'
import type { BroadcastForecast, BroadcastView } from '../../../contract/broadcasts.ts'
import { signedIn } from '../../../testing/marketer.ts'
import { made } from '../../../testing/people.ts'
import type { TodayView } from '../../../contract/today.ts'
import { Cancelled } from '../../work/longWork.ts'
import { eventually } from '../../../testing/waiting.ts'
import { sendDue } from '../../../testing/sending.ts'
import { useInstall } from '../../../testing/useInstall.ts'
import { decideDueTests } from './deciding.ts'
import { runBroadcast } from './preparing.ts'
import { callBackFor } from './moments.ts'
import { beginPlanned } from './starting.ts'

const on = useInstall({ worker: false })
const hour = 3_600_000
const consent = 'Told me so at the spring fair'
const grain = () => on.install.emails.grain
const clock = () => on.install.clock
const list = () => on.mara.get<BroadcastView[]>('/broadcasts')
const begin = (payload: object = {}) => on.mara.post('/broadcasts', { who: {}, email: grain(), ...payload })
const refusal = async (answer: Promise<Response>) => (await answer).json() as Promise<{ title: string }>

/** A local time of the business. It is in Dublin, whose clocks show UTC in winter. */
const local = (later: number): string => new Date(clock().now() + later).toISOString().slice(0, 16)

/** Carries out the work that has been begun, as a worker would. */
async function makeReady(): Promise<void> {
  await beginPlanned(on.install.platform)
  const works = await on.q.rows<{ id: number; payload: unknown }>(
    `select id, payload from long_work where kind = 'broadcast' and state = 'waiting'`,
  )
  for (const { id, payload } of works) {
    const said = await runBroadcast(on.install.platform, payload, { report: () => Promise.resolve() })
    await on.q.rows(`update long_work set state = 'done', result = $2 where id = $1`, [
      id,
      JSON.stringify({ said }),
    ])
  }
}

async function started(payload: object = {}): Promise<number> {
  const { id } = await made<{ id: number }>(begin(payload))
  await makeReady()
  return id
}
const steer = (id: number, does: string, body?: object) => on.mara.post(`/broadcasts/${id}/${does}`, body)
const stateOf = async (id: number) => (await list()).find((each) => each.id === id)?.state
const sentTo = async () =>
  (
    await on.q.rows<{ address: string }>(
      `select address from message join contact on contact.id = contact_id where state = 'sent' order by 1`,
    )
  ).map(({ address }) => address.split('@')[0])

const addPeople = async (...names: string[]) => {
  for (const name of names) await on.add(`${name}@postbox.test`, { consent, firstName: name })
}

beforeEach(async () => {
  for (const table of [
    'message',
    'broadcast_variant',
    'broadcast',
    'long_work',
    'contact',
    'activity',
    'consent',
  ])
    await on.q.rows(`delete from ${table}`)
})

describe('what has just been sent', () => {
  it('can be called back for a minute, and then nobody gets it', async () => {
    await addPeople('ann', 'bea')
    const id = await started()
    expect(await stateOf(id)).toBe('calling')
    await sendDue(on.install)
    expect((await steer(id, 'call-back')).status).toBe(204)
    clock().move(callBackFor)
    await sendDue(on.install)
    expect(await sentTo()).toEqual([])
    expect(await list()).toMatchObject([
      { state: 'calledBack', said: 'Called back by Mara Ellery.', queued: 0 },
    ])
    // As if it had not been: they may get it another time.
    expect((await begin()).status).toBe(201)
  })

  it('cannot be called back once the first has left', async () => {
    await addPeople('ann')
    const id = await started()
    clock().move(callBackFor)
    await sendDue(on.install)
    expect(await refusal(steer(id, 'call-back'))).toMatchObject({ title: 'The first emails have left' })
  })

  it('called back before it is ready makes nothing', async () => {
    await addPeople('ann')
    const { id } = await made<{ id: number }>(begin())
    await steer(id, 'call-back')
    await makeReady()
    expect(await on.q.rows('select from message')).toEqual([])
  })

  it('called back while it is being made ready makes nothing either', async () => {
    await addPeople('ann', 'bea')
    const { id } = await made<{ id: number }>(begin())
    const work = await on.q.row<{ payload: unknown }>(
      'select payload from long_work join broadcast on work_id = long_work.id where broadcast.id = $1',
      [id],
    )
    const calling = runBroadcast(on.install.platform, work?.payload, {
      report: async () => {
        expect((await steer(id, 'call-back')).status).toBe(204)
      },
    })
    await expect(calling).rejects.toThrow(Cancelled)
    expect(await stateOf(id)).toBe('calledBack')
    expect(await on.q.rows('select from message')).toEqual([])
  })

  it('is not called back when its first email leaves at that very moment', async () => {
    await addPeople('ann', 'bea')
    const id = await started()
    let calling: Promise<Response> | undefined
    await on.q.inTransaction(async (tx) => {
      // A worker has one of them in hand, and closes it while the call waits for it.
      await tx.rows(
        `update message set state = 'sent', sent_at = now() where id = (select min(id) from message where broadcast_id = $1)`,
        [id],
      )
      calling = steer(id, 'call-back')
      await eventually(
        async () =>
          (await on.q.row(
            `select from pg_stat_activity where wait_event_type = 'Lock' and query like 'delete from message%'`,
          )) !== undefined,
      )
    })
    expect((await calling)?.status).toBe(409)
    expect(await list()).toMatchObject([{ sent: 1, queued: 1, state: 'goingOut' }])
  })

  it('pauses and goes on', async () => {
    await addPeople('ann', 'bea')
    const id = await started()
    await steer(id, 'pause')
    clock().move(callBackFor)
    await sendDue(on.install)
    expect(await list()).toMatchObject([{ state: 'paused', queued: 2, said: 'Paused by Mara Ellery.' }])
    await steer(id, 'resume')
    await sendDue(on.install)
    expect(await sentTo()).toEqual(['ann', 'bea'])
    expect(await stateOf(id)).toBe('out')
    expect((await steer(id, 'pause')).status).toBe(409)
  })

  it('goes once, though two people send it at the same moment', async () => {
    await addPeople('ann', 'bea')
    await Promise.all([begin(), begin()])
    await makeReady()
    clock().move(callBackFor)
    await sendDue(on.install)
    expect(await sentTo()).toEqual(['ann', 'bea'])
  })
})

describe('what is planned', () => {
  it('is made ready for whoever is meant by then, and goes at its moment', async () => {
    await addPeople('ann')
    const id = await started({ moment: { when: 'at', local: local(30 * hour) } })
    expect(await list()).toMatchObject([{ state: 'planned', queued: 0 }])
    const { departures } = await on.mara.get<TodayView>('/today')
    expect(departures).toMatchObject([
      { from: 'planned broadcast', people: 1, to: `/outbox/broadcasts/${id}` },
    ])
    await addPeople('bea')
    clock().move(30 * hour - 2 * 60_000)
    await makeReady()
    expect(await list()).toMatchObject([{ queued: 2 }])
    await sendDue(on.install)
    expect(await sentTo()).toEqual([])
    clock().move(2 * 60_000)
    await sendDue(on.install)
    expect(await sentTo()).toEqual(['ann', 'bea'])
    expect(await stateOf(id)).toBe('out')
  })

  it('is found in the month that somebody looks at, however many others there are', async () => {
    await addPeople('ann')
    const id = await started({ moment: { when: 'at', local: local(30 * hour) } })
    const span = (from: number, to: number) =>
      on.mara.get<BroadcastView[]>(
        `/broadcasts?from=${new Date(clock().now() + from * hour).toISOString()}&to=${new Date(clock().now() + to * hour).toISOString()}`,
      )
    expect((await span(29, 31)).map((each) => each.id)).toEqual([id])
    expect(await span(31, 50)).toEqual([])
    expect(await span(0, 29)).toEqual([])
    expect((await on.mara.download('/broadcasts?from=yesterday')).status).toBe(422)
  })

  it('is moved, and taken back', async () => {
    await addPeople('ann')
    const id = await started({ moment: { when: 'at', local: local(30 * hour) } })
    const moved = local(54 * hour)
    expect((await steer(id, 'move', { local: moved })).status).toBe(204)
    expect((await list())[0]?.goesAt.slice(0, 16)).toBe(moved)
    expect(await refusal(steer(id, 'move', { local: '2020-01-01T10:00' }))).toMatchObject({
      title: 'This moment has passed',
    })
    await steer(id, 'call-back')
    clock().move(60 * hour)
    await makeReady()
    expect(await stateOf(id)).toBe('calledBack')
    expect(await on.q.rows('select from message')).toEqual([])
  })

  it('that means a segment which is gone by then is not sent, and says so', async () => {
    await addPeople('ann')
    const tag = (await made<{ id: number }>(on.mara.post('/tags', { name: `Soon gone ${clock().now()}` }))).id
    await on.mara.post('/people/bulk', { who: {}, does: { kind: 'addTag', tag: 'unused' } })
    await on.q.rows(`insert into contact_tag (contact_id, tag_id, added_at, added_by)
       select id, ${tag}, now(), 'test' from contact`)
    const { id } = await made<{ id: number }>(
      begin({ who: { tree: { kind: 'hasTag', tag } }, moment: { when: 'at', local: local(2 * hour) } }),
    )
    await on.q.rows('delete from contact_tag where tag_id = $1', [tag])
    await on.q.rows('delete from tag where id = $1', [tag])
    clock().move(2 * hour)
    await expect(makeReady()).rejects.toThrow('This condition is incomplete')
    expect(await on.q.rows('select from message')).toEqual([])
    expect(id).toBeGreaterThan(0)
  })
})

describe('a split test', () => {
  const test = {
    variants: [{ subject: 'Which way does paper bend?', senderName: 'Mara at the bench' }],
    share: 40,
    by: 'opens',
    afterHours: 4,
    itself: true,
  }
  const subjects = async () =>
    (
      await on.q.rows<{ variant: number | null; count: number }>(
        'select variant, count(*)::int count from message group by 1 order by 1',
      )
    ).map(({ variant, count }) => [variant, count])

  it('goes to a share first, in equal parts; the rest gets what is opened most', async () => {
    await addPeople(...'abcdefghij'.split(''))
    const id = await started({ test })
    expect(await subjects()).toEqual([
      [1, 2],
      [2, 2],
      [null, 6],
    ])
    clock().move(callBackFor)
    await sendDue(on.install)
    expect(await stateOf(id)).toBe('testing')
    await on.q.rows(`update message set opened_at = $1 where variant = 2`, [new Date(clock().now())])
    await decideDueTests(on.install.platform)
    expect(await stateOf(id)).toBe('testing')
    clock().move(4 * hour)
    await decideDueTests(on.install.platform)
    await sendDue(on.install)
    expect(await list()).toMatchObject([
      {
        state: 'out',
        sent: 10,
        test: { winner: 2, decidedBy: 'Nurtel' },
        variants: [{ sent: 2 }, { sent: 2 }],
      },
    ])
    const mails = on.install.mail.standins?.mailbox.list({}) ?? []
    const won = mails.filter(({ subject }) => subject === 'Which way does paper bend?')
    expect(won).toHaveLength(8)
    expect(won[0]?.from).toContain('Mara at the bench')
  })

  it('is not decided by itself while nothing of it could go: paused, or too early for some of its readers', async () => {
    await addPeople(...'abcdefghij'.split(''))
    const id = await started({ test })
    await steer(id, 'pause')
    clock().move(callBackFor + 5 * hour)
    await decideDueTests(on.install.platform)
    expect((await list())[0]?.test?.winner).toBeNull()
    await steer(id, 'resume')
    await decideDueTests(on.install.platform)
    expect((await list())[0]?.test?.winner).toBeNull()
    await sendDue(on.install)
    await decideDueTests(on.install.platform)
    // Nobody opened any: of equal ones it is the first.
    expect((await list())[0]?.test?.winner).toBe(1)
  })

  it('with a merge field that there is none of is refused before anybody gets it', async () => {
    await addPeople('ann')
    const wrong = { ...test, variants: [{ subject: 'Hello {frist name}' }] }
    expect(await refusal(begin({ test: wrong }))).toMatchObject({ title: 'There is no {frist name}' })
    expect(await list()).toEqual([])
  })

  it('is decided by hand, once', async () => {
    await addPeople('ann', 'bea', 'cem', 'dag', 'eve')
    const id = await started({ test: { ...test, itself: false } })
    clock().move(callBackFor + 5 * hour)
    await sendDue(on.install)
    await decideDueTests(on.install.platform)
    expect(await stateOf(id)).toBe('testing')
    expect((await steer(id, 'decide', { variant: 3 })).status).toBe(404)
    expect((await steer(id, 'decide', { variant: 1 })).status).toBe(204)
    expect((await steer(id, 'decide', { variant: 2 })).status).toBe(409)
    await sendDue(on.install)
    expect(await list()).toMatchObject([{ state: 'out', sent: 5, test: { decidedBy: 'Mara Ellery' } }])
  })

  it('keeps those who wait for its end from going out when it goes on after a pause', async () => {
    await addPeople(...'abcdefghij'.split(''))
    const id = await started({ test })
    await steer(id, 'pause')
    await steer(id, 'resume')
    clock().move(callBackFor)
    await sendDue(on.install)
    expect(await sentTo()).toHaveLength(4)
  })
})

describe('again to who did not open', () => {
  it('goes with another subject to those, and to nobody a third time', async () => {
    await addPeople('ann', 'bea', 'cem')
    const id = await started()
    expect(await refusal(steer(id, 'again', { subject: 'Once more' }))).toMatchObject({
      title: 'It is still going out',
    })
    clock().move(callBackFor)
    await sendDue(on.install)
    await on.q.rows(
      `update message set opened_at = now() where contact_id = (select id from contact where first_name = 'ann')`,
    )
    // Two people press at the same moment: it goes once. One that is called back makes room for another.
    const both = await Promise.all([1, 2].map(() => steer(id, 'again', { subject: 'Too early' })))
    expect(both.map(({ status }) => status).sort()).toEqual([201, 409])
    await makeReady()
    const early = (await list()).find(({ againOf }) => againOf === id)
    expect((await list()).find((each) => each.id === id)?.wasSentAgain).toBe(true)
    await steer(early!.id, 'call-back')
    expect((await list()).find((each) => each.id === id)?.wasSentAgain).toBe(false)
    const again = await made<{ id: number }>(steer(id, 'again', { subject: 'Once more: grain' }))
    await makeReady()
    clock().move(callBackFor)
    await sendDue(on.install)
    const second = (await list()).find((each) => each.id === again.id)
    expect(second).toMatchObject({
      id: again.id,
      sent: 2,
      againOf: id,
      sentence: expect.stringContaining('did not open') as string,
    })
    expect(on.install.mail.standins?.mailbox.list({ search: 'Once more: grain' })).toHaveLength(2)
    for (const each of [id, again.id])
      expect(await refusal(steer(each, 'again', { subject: 'And again' }))).toMatchObject({
        title: 'It was sent again already',
      })
  })
})

describe('each in their own zone', () => {
  it('goes at that local time where each reader is, also where clocks change before it', async () => {
    await addPeople('ann', 'bea', 'cem')
    await on.q.rows(`update contact set zone = 'Asia/Tokyo' where address_key = 'bea@postbox.test'`)
    await on.q.rows(`update contact set zone = 'America/New_York' where address_key = 'cem@postbox.test'`)
    // Clocks in New York go forward on 14 March 2027, those of Dublin on 28 March (IANA time zone database).
    await started({ moment: { when: 'at', local: '2027-03-15T09:00', readerZone: true } })
    clock().move(Date.parse('2027-03-14T20:00:00Z') - clock().now())
    await makeReady()
    const due = await on.q.rows<{ name: string; due: Date }>(
      `select first_name name, due_at due from message join contact on contact.id = contact_id order by 1`,
    )
    expect(due.map(({ name, due }) => [name, due.toISOString()])).toEqual([
      ['ann', '2027-03-15T09:00:00.000Z'],
      ['bea', '2027-03-15T00:00:00.000Z'],
      ['cem', '2027-03-15T13:00:00.000Z'],
    ])
    const there = await made<BroadcastForecast>(
      (await signedIn(on.install.url)).post('/broadcasts/forecast', {
        who: {},
        email: on.install.emails.invitation,
        moment: { when: 'at', local: local(2 * hour), readerZone: true },
      }),
    )
    expect(there).toMatchObject({ gets: 3, past: 1 })
  })
})
