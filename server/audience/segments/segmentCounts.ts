import type { Instant } from '../../../core/audience/people/activity.ts'
import type { Condition } from '../../../core/audience/segments/condition.ts'
import { asksTooMuch } from '../../../core/audience/segments/conditionSize.ts'
import { missingIn } from '../../../core/audience/segments/references.ts'
import { dateOf } from '../../../core/audience/segments/within.ts'
import type { Queries } from '../../database/connect.ts'
import { queueJobs } from '../../work/jobs.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { loadContext } from './evaluationContext.ts'
import { countContacts } from '../people/contactList.ts'

/** Among so many people a count takes a few milliseconds, and is made when it is asked for. */
const soonCounted = 100_000

/** Among more, a count this old is made again, out of the way. */
const staleAfter = 60_000

const countNow = (q: Queries, segment: number, now: Instant): Promise<number> =>
  countContacts(q, { search: '', tree: { kind: 'segment', segment }, rehearsal: 'no' }, now)

/**
 * How many people each of these segments has; null where that is being counted.
 * @param upTo among more people than this the last known counts are given, and a worker counts again if they are old
 */
export async function segmentCounts(
  platform: Platform,
  ids: readonly number[],
  upTo = soonCounted,
): Promise<ReadonlyMap<number, number | null>> {
  const { database: q, clock } = platform
  const now = clock.now()
  const size = await q.row<{ people: number }>(
    `select reltuples::bigint people from pg_class where oid = 'contact'::regclass`,
  )
  if ((size?.people ?? 0) <= upTo)
    return new Map(await Promise.all(ids.map(async (id) => [id, await countNow(q, id, now)] as const)))
  const known = await q.rows<{ id: number; people: number | null; stale: boolean }>(
    `select id, people, counted_at is null or counted_at < $2 stale from segment where id = any($1::bigint[])`,
    [ids, new Date(now - staleAfter)],
  )
  if (known.some(({ stale }) => stale)) await queueJobs(q, 'countSegments', [{}])
  return new Map(known.map(({ id, people }) => [id, people]))
}

/** Counts the segments that have not been counted since, and writes down how many people each has today. */
export async function countSegments(platform: Platform, since?: Instant): Promise<void> {
  const { database: q, clock } = platform
  const now = clock.now()
  const due = await q.rows<{ id: number; tree: Condition }>(
    'select id, tree from segment where counted_at is null or counted_at < $1 order by id',
    [new Date(since ?? now - staleAfter)],
  )
  const { zone, names, segments } = await loadContext(
    q,
    due.map(({ tree }) => tree),
  )
  for (const { id, tree } of due) {
    if (missingIn(tree, names).length > 0 || asksTooMuch(tree, segments)) continue
    const people = await countNow(q, id, now)
    await q.rows(
      `with counted as (update segment set people = $2, counted_at = $3 where id = $1 returning id)
       insert into segment_count (segment_id, day, people) select id, $4, $2 from counted
       on conflict (segment_id, day) do update set people = $2`,
      [id, people, new Date(now), dateOf(now, zone)],
    )
  }
  if (due.length > 0) await announce(q, 'audience')
}
