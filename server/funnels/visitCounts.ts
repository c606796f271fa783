import type { Passage } from '../../core/funnels/stretches.ts'
import type { Database } from '../database/connect.ts'

/** Who came by the pages of a line, and who went on from each station to the next. */
export interface VisitCounts {
  /** By page. */
  visitors: ReadonlyMap<number, number>
  passages: Passage[]
}

/** The first (or last) look at any page of a station: of one page or two. */
const ofStation = (which: 'first' | 'last', pages: readonly number[], all: readonly number[]): string => {
  const columns = pages.map((page) => `${which}_${all.indexOf(page)}`)
  return `${which === 'first' ? 'least' : 'greatest'}(${columns.join(', ')})`
}

/**
 * Counts the visits of a line since a moment, in one go through them. Whoever was at a station went on when they were
 * at the next one afterwards: the same browser on the same day, or the same known person on any day. A browser's first
 * and last look at each page tell all of it, so that there is one row a browser and nothing to join.
 * @param stations the pages of each, one or two
 */
export async function countVisits(
  database: Database,
  stations: readonly (readonly number[])[],
  since: Date,
): Promise<VisitCounts> {
  const pages = [...new Set(stations.flat())]
  if (pages.length === 0) return { visitors: new Map(), passages: [] }
  const looks = pages.flatMap((_, i) => [
    `min(at) filter (where page_id = $${i + 3}) first_${i}`,
    `max(at) filter (where page_id = $${i + 3}) last_${i}`,
  ])
  const lines = stations.map((each, i) => ({
    first: ofStation('first', each, pages),
    last: ofStation('last', each, pages),
    person: `person_${i}`,
  }))
  const people = lines.map(({ last, person }) => `max(${last}) over same ${person}`)
  const counts = [
    ...pages.map((_, i) => `count(first_${i})::int came_${i}`),
    ...lines.slice(0, -1).flatMap(({ first }, i) => {
      const next = lines[i + 1]
      return next
        ? [
            `count(${first})::int here_${i}`,
            `count(*) filter (where ${next.last} >= ${first} or ${next.person} >= ${first})::int there_${i}`,
          ]
        : []
    }),
  ]
  const nobody = lines.map(({ person }) => `null::timestamptz ${person}`)
  const sql = `with browser as materialized (
      select max(contact_id) contact, ${looks.join(', ')} from visit
      where page_id = any($1) and at >= $2 group by visitor)
    select ${counts.join(', ')} from (
      select *, ${nobody.join(', ')} from browser where contact is null
      union all
      select *, ${people.join(', ')} from browser where contact is not null
      window same as (partition by contact)) each`
  const row = await database.inTransaction(async (tx) => {
    // A row for each browser of a month fits into it; else it would be sorted on the disk.
    await tx.rows(`select set_config('work_mem', '64MB', true)`)
    return tx.row<Record<string, number>>(sql, [pages, since, ...pages])
  })
  return {
    visitors: new Map(pages.map((page, i) => [page, row?.[`came_${i}`] ?? 0])),
    passages: stations.slice(1).map((_, i) => ({
      here: row?.[`here_${i}`] ?? 0,
      there: row?.[`there_${i}`] ?? 0,
    })),
  }
}
