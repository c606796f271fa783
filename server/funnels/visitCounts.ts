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

/** A browser's first and last look at each page, one row a browser: they tell all of who went on. */
const browsers = (pages: readonly number[], where = ''): string => {
  const looks = pages.map(
    (_, i) =>
      `min(at) filter (where page_id = $${i + 3}) first_${i}, max(at) filter (where page_id = $${i + 3}) last_${i}`,
  )
  return `select visitor, max(contact_id) contact, ${looks.join(', ')} from visit
    where page_id = any($1) and at >= $2 ${where} group by visitor`
}

/**
 * Counts the visits of a line since a moment. Whoever was at a station went on when they were at the next one
 * afterwards: the same browser on the same day, or the same known person on any day. Browsers are gone through once,
 * and beside that those of known people, who are few.
 * @param stations the pages of each, one or two
 */
export async function countVisits(
  database: Database,
  stations: readonly (readonly number[])[],
  since: Date,
): Promise<VisitCounts> {
  const pages = [...new Set(stations.flat())]
  if (pages.length === 0) return { visitors: new Map(), passages: [] }
  const steps = stations.slice(1).map((next, i) => ({
    first: ofStation('first', stations[i] ?? [], pages),
    last: ofStation('last', next, pages),
  }))
  const counts = [
    ...pages.map((_, i) => `count(first_${i})::int came_${i}`),
    ...steps.flatMap(({ first, last }, i) => [
      `count(${first})::int here_${i}`,
      `count(*) filter (where ${last} >= ${first})::int there_${i}`,
    ]),
  ]
  const later = steps.map(
    ({ first, last }, i) => `${first} first_at_${i}, ${last} last_at_${i}, max(${last}) over same any_${i}`,
  )
  const added = steps.map(
    (_, i) =>
      `count(*) filter (where any_${i} >= first_at_${i} and (last_at_${i} >= first_at_${i}) is not true)::int also_${i}`,
  )
  const known = `and visitor in (select visitor from visit
    where page_id = any($1) and at >= $2 and contact_id is not null)`
  const ask = (sql: string): Promise<Record<string, number> | undefined> =>
    database.inTransaction(async (tx) => {
      // A row for each browser of a month fits into it; else it would be sorted on the disk.
      await tx.rows(`select set_config('work_mem', '64MB', true)`)
      return tx.row<Record<string, number>>(sql, [pages, since, ...pages])
    })
  const [all, people] = await Promise.all([
    ask(`select ${counts.join(', ')} from (${browsers(pages)}) browser`),
    steps.length === 0
      ? undefined
      : ask(`select ${added.join(', ')} from (
          select ${later.join(', ')} from (${browsers(pages, known)}) browser
          window same as (partition by contact)) each`),
  ])
  return {
    visitors: new Map(pages.map((page, i) => [page, all?.[`came_${i}`] ?? 0])),
    passages: steps.map((_, i) => ({
      here: all?.[`here_${i}`] ?? 0,
      there: (all?.[`there_${i}`] ?? 0) + (people?.[`also_${i}`] ?? 0),
    })),
  }
}
