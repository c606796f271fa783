import { describe, expect, it } from 'vitest'
import type { EnrolmentView } from '../../contract/followups.ts'
import type { TodayView } from '../../contract/today.ts'
import { made, workEnded } from '../../testing/people.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { advanceDue } from './advancing.ts'

const on = useInstall({ worker: false })
const day = 86_400_000

/** People who stand before the branch of the follow-up, and are due. */
async function due(count: number): Promise<number[]> {
  const people = await on.q.rows<{ id: number }>(
    `insert into contact (address, address_key, marketing_state, created_at, updated_at)
     select 'p' || n || '@postbox.test', 'p' || n || '@postbox.test', 'subscribed', now(), now()
     from generate_series(1, $1) n returning id`,
    [count],
  )
  await on.q.rows(
    `insert into enrolment (followup_id, contact_id, started_at, step, due_at, wakes_at)
     select $1, contact, $3, 'two-days', $4, $4 from unnest($2::bigint[]) contact`,
    [
      on.install.ids.followup,
      people.map(({ id }) => id),
      new Date(on.install.clock.now() - 2 * day),
      new Date(on.install.clock.now()),
    ],
  )
  return people.map(({ id }) => id)
}

const waiting = async (): Promise<number> =>
  (await on.q.row<{ count: number }>(
    `select count(*) count from enrolment where step = 'two-days' and ended_at is null`,
  ))!.count

/** A journal in which the engine finds something that is no activity. */
const breakFor = (contact: number): Promise<unknown> =>
  on.q.rows(`insert into activity (contact_id, kind, details, at) values ($1, 'emailClicked', 'null', $2)`, [
    contact,
    new Date(on.install.clock.now()),
  ])

describe('somebody whose step fails', () => {
  it('is set aside and holds none of the other 499 up; Today says so, and a button tries again', async () => {
    const people = await due(500)
    const [broken = 0] = people.slice(250)
    await breakFor(broken)
    expect(await advanceDue(on.install.platform)).toBe(500)
    expect(await waiting()).toBe(1)

    const { needsAHand } = await on.mara.get<TodayView>('/today')
    expect(needsAHand[0]).toMatchObject({
      what: expect.stringMatching(/^1 person is stuck in “Template pack”: /) as string,
      retry: on.install.ids.followup,
    })

    // Trying again before it is mended sets them aside again; after it they go on.
    expect((await on.mara.post(`/followups/${on.install.ids.followup}/retry`)).status).toBe(204)
    await advanceDue(on.install.platform)
    expect(await waiting()).toBe(1)
    await on.q.rows(`delete from activity where details = 'null'`)
    await on.mara.post(`/followups/${on.install.ids.followup}/retry`)
    await advanceDue(on.install.platform)
    expect(await waiting()).toBe(0)
    const [enrolment] = await on.mara.get<EnrolmentView[]>(`/people/${broken}/enrolments`)
    expect(enrolment?.endedAt).toBeNull()
    expect((await on.mara.get<TodayView>('/today')).needsAHand.filter(({ retry }) => retry !== null)).toEqual(
      [],
    )
    expect((await on.mara.post(`/followups/${on.install.ids.followup}/retry`)).status).toBe(409)
  })

  it('is found also where it is the database that refuses them', async () => {
    await on.q.rows('delete from contact')
    const people = await due(60)
    await on.q.rows(
      `create function refuse() returns trigger language plpgsql as 'begin
         if new.contact_id = ${people[17]} then raise ''this one cannot be stored''; end if; return new; end'`,
    )
    await on.q.rows('create trigger refuse before insert on message for each row execute function refuse()')
    expect(await advanceDue(on.install.platform)).toBe(60)
    expect(await waiting()).toBe(1)
    expect(
      await on.q.rows('select contact_id id, problem from enrolment where set_aside_at is not null'),
    ).toEqual([{ id: people[17], problem: 'this one cannot be stored' }])
    expect((await on.view(people[17] ?? 0)).journal[0]).toMatchObject({
      title: 'Template pack: was set aside',
      reason: 'this one cannot be stored',
    })
    await on.q.rows('drop trigger refuse on message')
  })
})

describe('people let in by hand', () => {
  it('come in though one of them cannot go on', async () => {
    const [first, second] = [await on.add('first@postbox.test'), await on.add('second@postbox.test')]
    await breakFor(first)
    await on.q.rows('update followup set program = jsonb_set(program, $1, $2)', [
      '{steps,0,onlyIf}',
      JSON.stringify({ kind: 'did', activity: 'emailClicked', details: { email: 1 }, atLeast: 1 }),
    ])
    const request = {
      who: { only: [first, second] },
      does: { kind: 'startFollowup', followup: on.install.ids.followup },
    }
    await on.install.startWorker()
    const { work } = await made<{ work: number }>(on.mara.post('/people/bulk', request))
    expect((await workEnded(on.mara, work)).said).toBe('Done for 2 people.')
    const rows = await on.q.rows(
      `select contact_id id, set_aside_at is not null aside from enrolment where contact_id = any($1) order by 1`,
      [[first, second]],
    )
    expect(rows).toEqual([
      { id: first, aside: true },
      { id: second, aside: false },
    ])
  })
})
