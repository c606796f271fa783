import type { ThingState } from '../../contract/drafts.ts'
import type { Station } from '../../core/funnels/funnel.ts'
import type { Queries } from '../database/connect.ts'

/** What sorts people at the door: a quiz or a junction, as a station of a line. */
export type SorterKind = 'quiz' | 'junction'

/** A quiz or a junction on a line. */
export interface SorterOnLine {
  kind: SorterKind
  id: number
  name: string
  /** Its public path, with what it begins with. */
  path: string
  state: ThingState
  /** How often somebody passed it, or began it, since. */
  passed: number
}

/** The numbers of the quizzes or the junctions of a line. */
export const sorterIds = (line: readonly Station[], kind: SorterKind): number[] =>
  line.flatMap((each) => {
    if (each.kind === 'quiz') return kind === 'quiz' ? [each.quiz] : []
    return each.kind === 'junction' && kind === 'junction' ? [each.junction] : []
  })

const passedSql: Record<SorterKind, string> = {
  junction: `(select coalesce(sum(known + strangers), 0)::int from junction_pass where junction_id = id and day >= $2::date)`,
  quiz: `(select count(*)::int from quiz_take where quiz_id = id and began_at >= $2 and not rehearsal)`,
}

/** How they stand, each under its kind and number. */
export async function sortersOn(
  q: Queries,
  line: readonly Station[],
  since: Date,
): Promise<ReadonlyMap<string, SorterOnLine>> {
  const found: SorterOnLine[] = []
  for (const kind of ['quiz', 'junction'] as const) {
    const ids = sorterIds(line, kind)
    if (ids.length === 0) continue
    const rows = await q.rows<SorterOnLine>(
      `select '${kind}' kind, id, name, '/${kind === 'quiz' ? 'q' : 'j'}/' || path path,
         case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
         ${passedSql[kind]} passed
       from ${kind} where id = any($1)`,
      [ids, since],
    )
    found.push(...rows)
  }
  return new Map(found.map((row) => [`${row.kind} ${row.id}`, row]))
}

/** The forms by which the quizzes of a line ask for the address, as they are written now. */
export async function formsOfQuizzes(q: Queries, line: readonly Station[]): Promise<number[]> {
  const rows = await q.rows<{ form: number }>(
    `select distinct form::text::bigint form from quiz
     join lateral (select content from quiz_version where quiz_id = quiz.id order by number desc limit 1) newest on true
     cross join jsonb_path_query(content, '$.address.form ? (@.type() == "number")') form
     where quiz.id = any($1)`,
    [sorterIds(line, 'quiz')],
  )
  return rows.map(({ form }) => form)
}
