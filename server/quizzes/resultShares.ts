import type { Clock } from '../clock.ts'
import type { Queries } from '../database/connect.ts'

/** Who just got a result need not see that of the last minute (ms). */
const goodFor = 60_000

/** How many got each result, of 1, by its id: of takes that were finished. */
export type ResultShares = Readonly<Record<string, number>>

async function readShares(q: Queries, quiz: number): Promise<ResultShares> {
  const rows = await q.rows<{ result: string; takes: number }>(
    `select result, count(*)::int takes from quiz_take
     where quiz_id = $1 and result is not null and not rehearsal group by result`,
    [quiz],
  )
  const all = rows.reduce((sum, { takes }) => sum + takes, 0)
  return Object.fromEntries(rows.map(({ result, takes }) => [result, takes / all]))
}

/** Counts the results of a quiz once a minute, however many look at them. */
export function openResultShares(q: Queries, clock: Clock): (quiz: number) => Promise<ResultShares> {
  const known = new Map<number, { at: number; shares: Promise<ResultShares> }>()
  return (quiz) => {
    const now = clock.now()
    const last = known.get(quiz)
    if (last && now - last.at < goodFor) return last.shares
    const shares = readShares(q, quiz)
    known.set(quiz, { at: now, shares })
    // One that failed is asked for anew.
    shares.catch(() => known.delete(quiz))
    return shares
  }
}
