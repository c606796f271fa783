import type { Instant } from '../../core/audience/people/activity.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { Problem } from '../http/problems.ts'

const second = 1_000
const hour = 3_600_000

/** Tries count for an hour. */
const countFor = hour

/** A try whose turn is near waits for it; one further away is told when to come back, and takes nobody's place. */
const longestWait = 5 * second

/** How many tries come at once, and how far apart the next ones may be. */
interface Spacing {
  free: number
  longest: number
}

/** From one source, whatever accounts it tries. */
const bySource: Spacing = { free: 5, longest: 60 * second }

/** For one account, wherever the tries come from: short enough that its owner only waits. */
const byAccount: Spacing = { free: 20, longest: 10 * second }

/** How long after the last of so many tries the next one has its turn: a second, doubling. @returns milliseconds */
export function pauseAfter(tries: number, { free, longest }: Spacing = bySource): number {
  return tries < free ? 0 : Math.min(second * 2 ** (tries - free), longest)
}

async function earliestTurn(
  q: Queries,
  column: 'account_key' | 'source',
  value: string,
  spacing: Spacing,
  now: Instant,
): Promise<Instant> {
  await q.rows('select pg_advisory_xact_lock(hashtextextended($1, 0))', [`sign-in ${column} ${value}`])
  const tries = await q.row<{ count: number; last: Date | null }>(
    `select count(*) count, max(turn_at) last from sign_in_try where ${column} = $1 and turn_at > $2`,
    [value, new Date(now - countFor)],
  )
  return Math.max(now, (tries?.last?.getTime() ?? 0) + pauseAfter(tries?.count ?? 0, spacing))
}

/**
 * Takes a turn for a try to sign in. It is written down before the password is looked at, so that fifty tries at once
 * are not taken for the first one each.
 * @param isKnownDevice this browser has signed in to the account before: strangers' guesses do not slow it down
 * @returns how long to wait, in milliseconds
 * @throws Problem 429 with the time after which to try again
 */
export async function takeTurn(
  platform: Platform,
  { account, source, isKnownDevice }: { account: string; source: string; isKnownDevice: boolean },
): Promise<number> {
  const now = platform.clock.now()
  return platform.database.inTransaction(async (tx) => {
    const forAccount = isKnownDevice ? now : await earliestTurn(tx, 'account_key', account, byAccount, now)
    const turn = Math.max(forAccount, await earliestTurn(tx, 'source', source, bySource, now))
    if (turn - now > longestWait) {
      const seconds = Math.ceil((turn - now) / second)
      throw new Problem(
        429,
        'Too many attempts',
        `Try again in ${seconds} seconds, with the right password.`,
        undefined,
        seconds,
      )
    }
    await tx.rows('insert into sign_in_try (account_key, source, turn_at) values ($1, $2, $3)', [
      account,
      source,
      new Date(turn),
    ])
    return turn - now
  })
}

/** Who has shown that they know the password begins anew. */
export async function forgiveTries(q: Queries, account: string, source: string): Promise<void> {
  await q.rows('delete from sign_in_try where account_key = $1 and source = $2', [account, source])
}

/** Forgets tries that count no more. A part of `maintenance`. */
export async function forgetSignInTries({ database, clock }: Platform): Promise<void> {
  await database.rows('delete from sign_in_try where turn_at < $1', [new Date(clock.now() - countFor)])
}
