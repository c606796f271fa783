import type { Logger } from 'pino'
import type { Target } from '../../core/blocks/target.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import { recordHappenings } from '../audience/people/happenings.ts'
import type { Clock } from '../clock.ts'
import type { Database, Queries } from '../database/connect.ts'
import { gather } from '../work/gatheredWrites.ts'
import { targetWords } from './targetWords.ts'

/** Somebody whom a junction has sent on. */
export interface Pass {
  junction: number
  /** The id of the rule that took them, or `otherwise`. */
  rule: string
  target: Target
  /** The values that decided. */
  why: string
  /** Null when nobody knows who it was. */
  contact: number | null
  /** Those of somebody made up count in no numbers. */
  rehearsal: boolean
  /** A visit that another site could have brought about is counted, and does nothing. */
  journalled: boolean
}

/** Writes down who was sent where, without standing in the way of a request. */
export interface Passes {
  record(pass: Pass): void
  /** Writes what is not written yet, for a graceful end. */
  close(): Promise<void>
}

type Passed = Pass & { at: number }

async function count(q: Queries, passes: readonly Passed[]): Promise<void> {
  const counting = passes.filter(({ rehearsal }) => !rehearsal)
  await q.rows(
    `insert into junction_pass (junction_id, day, rule, known, strangers)
     select junction, (to_timestamp(at) at time zone (select zone from business))::date, rule,
       count(*) filter (where known), count(*) filter (where not known)
     from unnest($1::bigint[], $2::float8[], $3::text[], $4::boolean[]) t (junction, at, rule, known)
     where exists (select from junction where id = t.junction)
     group by 1, 2, 3 order by 1, 2, 3
     on conflict (junction_id, day, rule) do update set known = junction_pass.known + excluded.known,
       strangers = junction_pass.strangers + excluded.strangers`,
    [
      counting.map(({ junction }) => junction),
      counting.map(({ at }) => at / 1_000),
      counting.map(({ rule }) => rule),
      counting.map(({ contact }) => contact !== null),
    ],
  )
}

async function journal(q: Queries, passes: readonly Passed[]): Promise<void> {
  const words = new Map<string, string>()
  const entries: NewActivity[] = []
  for (const { contact, journalled, junction, rule, target, why, at } of passes) {
    if (contact === null || !journalled) continue
    const key = JSON.stringify(target)
    const to = words.get(key) ?? (await targetWords(q, target))
    words.set(key, to)
    entries.push({ contact, kind: 'junctionPassed', details: { junction, rule, to, why }, at })
  }
  await recordHappenings(q, entries)
}

export function openPasses(database: Database, clock: Clock, log: Logger): Passes {
  const gathered = gather<Passed>(
    {
      called: 'passes of junctions',
      write: (passes) =>
        database.inTransaction(async (tx) => {
          // People are locked before all else.
          await journal(tx, passes)
          await count(tx, passes)
        }),
      atOnce: 500,
      after: 300,
      mostWaiting: 100_000,
    },
    log,
  )
  return {
    record: (pass) => gathered.add({ ...pass, at: clock.now() }),
    close: () => gathered.close(),
  }
}
