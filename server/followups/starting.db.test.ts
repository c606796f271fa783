import { beforeEach, describe, expect, it } from 'vitest'
import type { ClockStrip } from '../../contract/workspace.ts'
import type { TodayView } from '../../contract/today.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { erasePerson } from '../audience/people/erasing.ts'
import { mergePeople } from '../audience/people/merging.ts'
import { scorePeople } from '../audience/scores/scoring.ts'
import { ensureActivityMonths } from '../database/migrate.ts'
import { advanceDue } from './advancing.ts'
import { startFollowups } from './starting.ts'

const on = useInstall({ worker: false })
const day = 86_400_000

beforeEach(async () => {
  await on.q.rows('delete from contact')
  await on.q.rows('delete from graphile_worker._private_jobs')
})

/** The job that a form of this person leaves. */
const job = (contact: number, activity = 1) => ({
  contact,
  activity,
  kind: 'formSent',
  details: { form: on.install.ids.form },
  at: on.install.clock.now(),
})
const enrolments = () =>
  on.q.rows<{ contact: number; ended: boolean }>(
    'select contact_id contact, ended_at is not null ended from enrolment order by id',
  )

describe('an activity', () => {
  it('starts a follow-up once, though people may come in again and the job is repeated', async () => {
    await on.q.rows(`update followup set program = jsonb_set(program, '{reentry}', '"afterLeaving"')`)
    const contact = await on.add('again@postbox.test', { consent: 'at the fair' })
    await startFollowups(on.install.platform, job(contact))
    await on.q.rows('update enrolment set step = null, due_at = null, wakes_at = null, ended_at = now()')
    await Promise.all([1, 2, 3].map(() => startFollowups(on.install.platform, job(contact))))
    expect(await enrolments()).toEqual([{ contact, ended: true }])
    // Another sending is another activity.
    await startFollowups(on.install.platform, job(contact, 2))
    expect(await enrolments()).toHaveLength(2)
    await on.q.rows(`update followup set program = jsonb_set(program, '{reentry}', '"never"')`)
  })

  it('of somebody who was merged starts it for who they live on in', async () => {
    const [kept, gone] = [await on.add('kept@postbox.test'), await on.add('gone@postbox.test')]
    await mergePeople(on.install.platform, kept, gone, 'Mara')
    await startFollowups(on.install.platform, job(gone))
    expect(await enrolments()).toEqual([{ contact: kept, ended: false }])
    const third = await on.add('third@postbox.test')
    await mergePeople(on.install.platform, third, kept, 'Mara')
    await on.q.rows('delete from enrolment')
    await startFollowups(on.install.platform, job(gone, 2))
    expect(await enrolments()).toEqual([{ contact: third, ended: false }])
  })

  it('of somebody who was erased ends quietly', async () => {
    const [gone, merged, kept] = [
      await on.add('a@postbox.test'),
      await on.add('b@postbox.test'),
      await on.add('c@postbox.test'),
    ]
    await mergePeople(on.install.platform, kept, merged, 'Mara')
    await erasePerson(on.install.platform, gone)
    await erasePerson(on.install.platform, kept)
    for (const id of [gone, merged, kept]) {
      await startFollowups(on.install.platform, job(id))
      await scorePeople(on.install.platform, [id])
    }
    expect(await enrolments()).toEqual([])
  })
})

describe('a merge', () => {
  it('keeps a pause that either of the two asked for', async () => {
    const [kept, gone] = [await on.add('kept@postbox.test'), await on.add('gone@postbox.test')]
    const until = new Date(on.install.clock.now() + 20 * day)
    await on.q.rows('update contact set paused_until = $2 where id = $1', [gone, until])
    await mergePeople(on.install.platform, kept, gone, 'Mara')
    expect((await on.view(kept)).pausedUntil).toBe(until.toISOString())
  })
})

/** People who wait on a step of the follow-up, due at a moment. */
async function wait(count: number, step: string, at: number): Promise<void> {
  await on.q.rows(
    `with people as (
       insert into contact (address, address_key, marketing_state, created_at, updated_at)
       select 'w' || gen_random_uuid() || '@postbox.test', gen_random_uuid()::text, 'subscribed', now(), now()
       from generate_series(1, $1) returning id)
     insert into enrolment (followup_id, contact_id, started_at, step, due_at, wakes_at)
     select $2, id, now(), $3, $4, $4 from people`,
    [count, on.install.ids.followup, step, new Date(at)],
  )
}

describe('a paused follow-up', () => {
  it('costs nothing while its people wait: the look for who is due reads none of them', async () => {
    await wait(3_000, 'two-days', on.install.clock.now() - day)
    await on.q.rows(`update followup set state = 'paused'`)
    await on.q.rows('analyze enrolment')
    const { database } = on.install.platform
    const read = await database.inTransaction(async (tx) => {
      const reads = async (): Promise<number> =>
        (await tx.row<{ reads: number }>(
          `select coalesce(idx_tup_fetch, 0) + seq_tup_read reads from pg_stat_xact_user_tables
           where relname = 'enrolment'`,
        ))!.reads
      const before = await reads()
      const inside = {
        ...database,
        ...tx,
        inTransaction: <T>(work: (q: typeof tx) => Promise<T>) => work(tx),
      }
      await advanceDue({ ...on.install.platform, database: inside })
      return (await reads()) - before
    })
    expect(read).toBe(0)
    expect(await advanceDue(on.install.platform)).toBe(0)
    await on.q.rows(`update followup set state = 'live'`)
    expect(await advanceDue(on.install.platform)).toBe(3_000)
  })
})

describe('two workers that start together', () => {
  it('make the months of the journal without a race', async () => {
    const later = on.install.clock.now() + 4_000 * day
    const makers = Array.from({ length: 6 }, () => ensureActivityMonths(on.q, later, 2, 6))
    await expect(Promise.all(makers)).resolves.toHaveLength(6)
    const parts = await on.q.rows(
      `select from pg_class where relname ~ '^activity_203[78]' and relkind = 'r'`,
    )
    expect(parts).toHaveLength(9)
  })
})

describe('the next departure', () => {
  const strip = () => on.mara.get<ClockStrip>('/clock-strip')

  it('is who waits for the nearest minute, named by the program', async () => {
    const now = Math.floor(on.install.clock.now() / 60_000) * 60_000
    expect((await strip()).nextDeparture).toBeNull()
    await wait(4, 'four-days', now + 3 * 60_000 + 5_000)
    await wait(2, 'four-days', now + 3 * 60_000 + 50_000)
    await wait(9, 'four-days', now + 4 * 60_000)
    expect((await strip()).nextDeparture).toEqual({
      at: new Date(now + 3 * 60_000).toISOString(),
      people: 6,
      what: '“Paper grain in ten minutes”',
    })
    // The board has one row for a minute and an email, however many people it goes to.
    const { departures } = await on.mara.get<TodayView>('/today')
    expect(departures.map(({ at, what, people }) => [at, what, people])).toEqual([
      [new Date(now + 3 * 60_000).toISOString(), '“Paper grain in ten minutes”', 6],
      [new Date(now + 4 * 60_000).toISOString(), '“Paper grain in ten minutes”', 9],
    ])
    // Lanes part there: it may be one email or another.
    await wait(1, 'two-days', now + 60_000)
    expect((await strip()).nextDeparture).toMatchObject({ people: 1, what: '“Template pack”' })
  })

  it('counts nobody in rehearsal and nobody who was set aside', async () => {
    await wait(1, 'four-days', on.install.clock.now() + 60_000)
    await on.q.rows('update contact set rehearsal = true')
    expect((await strip()).nextDeparture).toBeNull()
    await on.q.rows('update contact set rehearsal = false')
    await on.q.rows('update enrolment set set_aside_at = now()')
    expect((await strip()).nextDeparture).toBeNull()
    expect((await on.mara.get<TodayView>('/today')).departures).toEqual([])
  })
})
