import type { ThingState } from '../../contract/drafts.ts'
import type { Station } from '../../core/funnels/funnel.ts'
import type { Queries } from '../database/connect.ts'

/** A junction on a line. */
export interface JunctionOnLine {
  id: number
  name: string
  path: string
  state: ThingState
  /** How often somebody passed it since. */
  passed: number
}

/** The junctions of a line, by number. */
export async function junctionsOn(
  q: Queries,
  line: readonly Station[],
  since: Date,
): Promise<ReadonlyMap<number, JunctionOnLine>> {
  const ids = line.flatMap((each) => (each.kind === 'junction' ? [each.junction] : []))
  if (ids.length === 0) return new Map()
  const rows = await q.rows<JunctionOnLine>(
    `select id, name, path,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       (select coalesce(sum(known + strangers), 0)::int from junction_pass
         where junction_id = id and day >= $2::date) passed
     from junction where id = any($1)`,
    [ids, since],
  )
  return new Map(rows.map((row) => [row.id, row]))
}
