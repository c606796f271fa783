import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { BulkRequest } from '../../../contract/audience/people.ts'
import { openInstall, type TestInstall } from '../../../testing/install.ts'
import { Cancelled, type Progress } from '../../work/longWork.ts'
import { startBulkAction, runBulkAction } from './bulkActions.ts'

let install: TestInstall
const q = () => install.platform.database
beforeAll(async () => {
  install = await openInstall()
})
afterAll(() => install.close())

/** Two full rounds of 5,000 and a half one, and one person in rehearsal. */
const people = 12_500
beforeEach(async () => {
  await q().rows('truncate contact, activity cascade')
  await q().rows(
    `insert into contact (address, address_key, country, marketing_state, rehearsal, created_at, updated_at)
     select i || '@bulk.test', i || '@bulk.test', case when i % 2 = 0 then 'IE' else 'FR' end, 'subscribed', i = 0, now(), now()
     from generate_series(0, $1::int) i`,
    [people],
  )
})

const quiet: Progress = { report: () => Promise.resolve() }
const everybody = { search: '', tree: null, rehearsal: 'no' } as const
const carry = (request: BulkRequest, progress = quiet) =>
  runBulkAction(install.platform, { ...request, by: 'Mara' }, progress)
const count = async (sql: string) => (await q().row<{ n: number }>(`select count(*)::int n from ${sql}`))?.n

describe('something done to everybody who is meant', () => {
  it('puts a tag on each, with who did it, and on nobody in rehearsal', async () => {
    expect(await carry({ who: everybody, does: { kind: 'addTag', tag: 'Spring fair' } })).toBe(
      'Done for 12500 people.',
    )
    expect(await count('contact_tag')).toBe(people)
    expect(await count(`activity where kind = 'tagAdded' and details->>'by' = 'Mara'`)).toBe(people)
    expect(await count('contact_tag join contact on contact.id = contact_id where rehearsal')).toBe(0)
    // Nothing twice: who has it already is left alone.
    await carry({ who: everybody, does: { kind: 'addTag', tag: 'spring FAIR' } })
    expect(await count(`activity where kind = 'tagAdded'`)).toBe(people)
  })

  it('takes it off those who are meant, and of no one else', async () => {
    await carry({ who: everybody, does: { kind: 'addTag', tag: 'Spring fair' } })
    const tag = (await q().row<{ id: number }>(`select id from tag where name = 'Spring fair'`))!.id
    const irish = { kind: 'field', field: 'country', test: { test: 'is', value: 'ie' } } as const
    await carry({ who: { ...everybody, tree: irish }, does: { kind: 'removeTag', tag } })
    expect(await count('contact_tag')).toBe(people / 2)
    expect(await count(`contact_tag join contact on contact.id = contact_id where country = 'IE'`)).toBe(0)
    expect(await count(`activity where kind = 'tagRemoved'`)).toBe(people / 2)
  })

  it('is done to those alone who were chosen by hand, and only where they are meant', async () => {
    const some = await q().rows<{ id: number }>(
      `select id from contact where address in ('2@bulk.test', '3@bulk.test', '0@bulk.test')`,
    )
    const only = some.map(({ id }) => id)
    await carry({ who: { ...everybody, only }, does: { kind: 'addTag', tag: 'Chosen' } })
    // One of the three is in rehearsal.
    expect(await count('contact_tag')).toBe(2)
    await carry({ who: { ...everybody, only, search: '3@bulk' }, does: { kind: 'addTag', tag: 'Three' } })
    expect(await count(`contact_tag join tag on tag.id = tag_id where name = 'Three'`)).toBe(1)
  })

  it('lets each into a follow-up once', async () => {
    const does = { kind: 'startFollowup', followup: install.ids.followup } as const
    await carry({ who: { ...everybody, search: '1@bulk' }, does })
    const first = await count('enrolment')
    expect(first).toBe(1250)
    await carry({ who: { ...everybody, search: '1@bulk' }, does })
    expect(await count('enrolment')).toBe(first)
  })

  it('does nothing at all when it is cancelled on the way', async () => {
    const told: number[] = []
    const stopping: Progress = {
      report: (_step, done) => {
        told.push(done)
        return done >= 10_000 ? Promise.reject(new Cancelled()) : Promise.resolve()
      },
    }
    await expect(carry({ who: everybody, does: { kind: 'addTag', tag: 'Never' } }, stopping)).rejects.toThrow(
      Cancelled,
    )
    expect(told).toEqual([0, 5_000, 10_000])
    expect(await count('contact_tag')).toBe(0)
    expect(await count(`tag where name = 'Never'`)).toBe(0)
  })

  it('says before it begins how many are meant, and refuses to guess who', async () => {
    const work = await startBulkAction(
      install.platform,
      { who: { ...everybody, search: '7@bulk.test' }, does: { kind: 'addTag', tag: 'x' } },
      'Mara',
    )
    expect(await q().row('select title from long_work where id = $1', [work])).toEqual({
      title: 'Add a tag to 1250 people',
    })
    const broken = { ...everybody, tree: { kind: 'hasTag', tag: 999 } as const }
    await expect(
      startBulkAction(install.platform, { who: broken, does: { kind: 'addTag', tag: 'x' } }, 'Mara'),
    ).rejects.toMatchObject({ status: 409 })
  })
})
