import { afterAll, beforeAll, expect, it } from 'vitest'
import { DatabaseError } from 'sequelize'
import { chanceFrom } from '../../core/chance.ts'
import { openInstall, type TestInstall } from '../../testing/install.ts'
import { erasePerson } from '../audience/people/erasing.ts'
import { mergePeople } from '../audience/people/merging.ts'
import { unsubscribe } from '../audience/people/permission.ts'
import { tagPerson } from '../audience/describing/tagging.ts'
import { Problem } from '../http/problems.ts'
import { advanceDue } from './advancing.ts'
import { moveClock, setRehearsal } from './rehearsal.ts'

/** So often each of them has to run beside the others, in so long at most (ms). */
const times = 60
const longest = 400_000

let install: TestInstall
beforeAll(async () => {
  install = await openInstall()
})
afterAll(() => install.close())

/** Puts people on the list who are due in the follow-up, at several of its steps. */
async function arrive(from: number, count: number): Promise<void> {
  const { database: q, clock } = install.platform
  await q.rows(
    `with people as (
       insert into contact (address, address_key, marketing_state, created_at, updated_at)
       select 'p' || n || '@postbox.test', 'p' || n || '@postbox.test', 'subscribed', now(), now()
       from generate_series($1::int, $1::int + $2::int - 1) n returning id)
     insert into enrolment (followup_id, contact_id, started_at, step, due_at, wakes_at)
     select $3, id, $4, case when id % 2 = 0 then 'two-days' else 'four-days' end, $4, $4
     from people cross join generate_series(1, 2)`,
    [from, count, install.ids.followup, new Date(clock.now())],
  )
}

it(
  'advancing, rehearsal, merging, erasing, tagging and unsubscribing never wait for each other in a circle',
  { timeout: 2 * longest },
  async () => {
    const { platform } = install
    const chance = chanceFrom(20261126)
    const done: Record<string, number> = {}
    const deadlocks: string[] = []
    let arrived = 0
    const anyone = async (): Promise<number> => {
      const found = await platform.database.row<{ id: number }>(
        'select id from contact order by id desc offset $1 limit 1',
        [chance.below(40)],
      )
      return found?.id ?? 0
    }
    const each = ['arrive', 'advance', 'merge', 'erase', 'unsubscribe', 'tag', 'rehearse'] as const
    const until = performance.now() + longest
    const isEnough = (): boolean =>
      performance.now() > until || each.every((name) => (done[name] ?? 0) > times)
    const again = async (name: string, work: () => Promise<unknown>): Promise<void> => {
      while (!isEnough())
        try {
          await work()
          done[name] = (done[name] ?? 0) + 1
        } catch (error) {
          // Somebody was merged or erased meanwhile, or is in rehearsal and the other is not: that is said, and all right.
          if (error instanceof Problem) continue
          const { code } = (error instanceof DatabaseError ? error.original : error) as { code?: string }
          deadlocks.push(`${name}: ${code ?? String(error)}`)
        }
    }
    const advancing = (): Promise<void> => again('advance', () => advanceDue(platform))
    await Promise.all([
      again('arrive', async () => {
        await arrive((arrived += 20), 20)
        await new Promise((wait) => setTimeout(wait, 20))
      }),
      advancing(),
      advancing(),
      again('merge', async () => mergePeople(platform, await anyone(), await anyone(), 'Mara')),
      again('merge', async () => mergePeople(platform, await anyone(), await anyone(), 'Tom')),
      again('erase', async () => erasePerson(platform, await anyone())),
      again('unsubscribe', async () => unsubscribe(platform, await anyone(), 'person')),
      again('tag', async () => tagPerson(platform, await anyone(), { add: ['Met'], remove: [] }, 'Mara')),
      again('rehearse', async () => {
        const id = await anyone()
        await setRehearsal(platform, id, true)
        await moveClock(platform, id, {})
      }),
    ])
    expect(deadlocks).toEqual([])
    // Each of them really ran beside the others.
    for (const name of each) expect(done[name], name).toBeGreaterThan(times)
  },
)
