import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { openInstall, type TestInstall } from '../../../testing/install.ts'
import { countSegments, segmentCounts } from './segmentCounts.ts'
import { saveSegment } from './segments.ts'

let install: TestInstall
let [irish, tagged] = [0, 0]
const q = () => install.platform.database
beforeAll(async () => {
  install = await openInstall()
  irish = await saveSegment(install.platform, null, {
    name: 'Irish',
    tree: { kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } },
  })
  tagged = await saveSegment(install.platform, null, {
    name: 'Tagged',
    tree: { kind: 'hasTag', tag: install.ids.tag },
  })
  await add(3)
})
afterAll(() => install.close())

let next = 0
const add = async (people: number): Promise<void> => {
  await q().rows(
    `insert into contact (address, address_key, country, created_at, updated_at)
     select i || '@count.test', i || '@count.test', 'IE', now(), now() from generate_series($1::int, $2::int) i`,
    [next, (next += people) - 1],
  )
  await q().rows('analyze contact')
}
const waiting = async (): Promise<number> =>
  (await q().rows(`select 1 from graphile_worker.jobs where task_identifier = 'countSegments'`)).length
const counts = async (upTo?: number) =>
  Object.fromEntries(await segmentCounts(install.platform, [irish, tagged], upTo))

describe('the count of a segment', () => {
  it('is made at once on a short list', async () => {
    expect(await counts()).toEqual({ [irish]: 3, [tagged]: 0 })
    expect(await waiting()).toBe(0)
  })

  it('on a long list is the last one known, while a worker counts again: once, however many ask', async () => {
    expect(await counts(0)).toEqual({ [irish]: null, [tagged]: null })
    await counts(0)
    expect(await waiting()).toBe(1)
    await countSegments(install.platform)
    await q().rows('delete from graphile_worker._private_jobs')
    await add(2)
    // Known, and not yet old.
    expect(await counts(0)).toEqual({ [irish]: 3, [tagged]: 0 })
    expect(await waiting()).toBe(0)
    install.clock.move(61_000)
    expect(await counts(0)).toEqual({ [irish]: 3, [tagged]: 0 })
    expect(await waiting()).toBe(1)
    await countSegments(install.platform)
    expect(await counts(0)).toEqual({ [irish]: 5, [tagged]: 0 })
  })

  it('is not that of the condition before', async () => {
    await saveSegment(install.platform, irish, {
      name: 'Irish',
      tree: { kind: 'field', field: 'country', test: { test: 'is', value: 'FR' } },
    })
    expect(await counts(0)).toEqual({ [irish]: null, [tagged]: 0 })
    await countSegments(install.platform)
    expect(await counts(0)).toEqual({ [irish]: 0, [tagged]: 0 })
  })

  it('of a broken one is not made, and stands in no one’s way', async () => {
    await saveSegment(install.platform, tagged, { name: 'Tagged', tree: { kind: 'hasTag', tag: 999 } })
    await saveSegment(install.platform, irish, {
      name: 'Irish',
      tree: { kind: 'field', field: 'country', test: { test: 'is', value: 'IE' } },
    })
    await countSegments(install.platform)
    expect(await q().rows('select name, people from segment order by name')).toEqual([
      { name: 'Irish', people: 5 },
      { name: 'Tagged', people: null },
    ])
  })

  it('is written down for the day, once', async () => {
    await countSegments(install.platform, install.clock.now() + 1)
    await countSegments(install.platform, install.clock.now() + 1)
    expect(
      await q().rows('select day::text, people from segment_count where segment_id = $1', [irish]),
    ).toEqual([{ day: '2026-11-24', people: 5 }])
  })
})
