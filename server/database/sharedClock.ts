import type { Logger } from 'pino'
import { systemClock, type Clock } from '../clock.ts'
import type { Database } from './connect.ts'

/** Less is the way to the database and back, and no wrong clock. */
const tolerated = 1_000

/**
 * The time that all processes of an install go by, on however many machines: that of this machine, unless the
 * database's clock shows another. A worker whose own clock is an hour ahead would write to people an hour early.
 * @param local this machine's time
 */
export function sharedClock(
  database: Pick<Database, 'row'>,
  log: Logger,
  local: Clock = systemClock,
): Clock & { compare(): Promise<void> } {
  let offset = 0
  return {
    now: () => local.now() + offset,
    async compare() {
      const asked = local.now()
      const found = await database.row<{ at: number }>(
        'select (extract(epoch from clock_timestamp()) * 1000)::float8 at',
      )
      const answered = local.now()
      if (!found) return
      const difference = Math.round(found.at - (asked + answered) / 2)
      const next = Math.abs(difference) > tolerated ? difference : 0
      if (next !== 0 && offset === 0)
        log.error({ milliseconds: difference }, 'the clock of this machine is wrong: the database’s is used')
      offset = next
    },
  }
}
