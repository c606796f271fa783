import type { Passage } from '../../core/funnels/stretches.ts'
import type { Queries } from '../database/connect.ts'

/** Who came by the pages of a line, and who went on from each station to the next. */
export interface VisitCounts {
  /** By page. */
  visitors: ReadonlyMap<number, number>
  passages: Passage[]
}

interface Row {
  page: number | null
  station: number | null
  here: number
  there: number
}

/**
 * Counts the visits of a line since a moment, in one go through them. Whoever was at a station went on when they were
 * at the next one afterwards: the same browser on the same day, or the same known person on any day.
 * @param stations the pages of each, one or two
 */
export async function countVisits(
  q: Queries,
  stations: readonly (readonly number[])[],
  since: Date,
): Promise<VisitCounts> {
  const rows = await q.rows<Row>(
    // A browser's first and last look at a station tell all: it went on when its last look at the next one came after
    // its first at this one.
    `with seen as materialized (
       select page_id page, station, visitor, max(contact_id) contact, min(at) first, max(at) last
       from visit join unnest($1::bigint[], $3::int[]) stand (page, station) on page = page_id
       where page_id = any($1) and at >= $2 group by 1, 2, 3),
     here as materialized (
       select station, visitor, max(contact) contact, min(first) first, max(last) last from seen group by 1, 2),
     person as (
       select station, contact, max(last) last from here where contact is not null group by 1, 2)
     select page, null::int station, count(*)::int here, 0 there from seen group by 1
     union all
     select null, here.station, count(*)::int,
       count(*) filter (where next.last >= here.first or person.last >= here.first)::int
     from here
     left join here next on next.station = here.station + 1 and next.visitor = here.visitor
     left join person on person.station = here.station + 1 and person.contact = here.contact
     where here.station < $4 group by here.station`,
    [stations.flat(), since, stations.flatMap((pages, i) => pages.map(() => i)), stations.length - 1],
  )
  const passages = new Map(rows.map((row) => [row.station, row]))
  return {
    visitors: new Map(rows.flatMap(({ page, here }) => (page === null ? [] : [[page, here] as const]))),
    passages: stations.slice(1).map((_, i) => passages.get(i) ?? { here: 0, there: 0 }),
  }
}
