import { hash, randomBytes } from 'node:crypto'
import type { Source } from '../../core/audience/people/activity.ts'
import type { Clock } from '../clock.ts'
import type { Database } from '../database/connect.ts'
import type { Logger } from 'pino'
import type { Platform } from '../platform.ts'
import { recordKnownVisits } from './knownVisits.ts'

export type Device = 'phone' | 'tablet' | 'computer'

/** A look at a page, as it is counted. */
export interface Visit {
  page: number
  /** Network address and browser: only a hash of them is kept, for a day. */
  ip: string
  userAgent: string
  contact: number | null
  /** Visits of somebody made up count in no numbers. */
  rehearsal: boolean
  device: Device
  source: Source
}

/** So many visits, or after so long, are written in one statement. */
const batch = 500
const writeAfter = 500

/** Visits that wait while the database is away; more are given up, and said. */
const mostWaiting = 100_000

const oneDay = 86_400_000

/** The class of a device by what its browser says of itself: a hint, no more (common practice). */
export function deviceOf(userAgent: string): Device {
  if (/iPad|Tablet|Android(?!.*Mobile)/i.test(userAgent)) return 'tablet'
  return /Mobi|iPhone/i.test(userAgent) ? 'phone' : 'computer'
}

/** Counts visits without standing in the way of a request. */
export interface Visits {
  record(visit: Visit): void
  /** Writes what is not written yet, for a graceful end. */
  close(): Promise<void>
}

interface Waiting extends Visit {
  at: number
}

/** The salt of a day: made by whichever process needs it first, and forgotten when the day is over. */
async function saltOf(database: Database, day: string): Promise<Buffer> {
  await database.rows('delete from visit_salt where day < $1::date - 1', [day])
  await database.rows('insert into visit_salt (day, salt) values ($1, $2) on conflict do nothing', [
    day,
    randomBytes(16),
  ])
  const row = await database.row<{ salt: Buffer }>('select salt from visit_salt where day = $1', [day])
  if (!row) throw new Error('the day has no salt')
  return row.salt
}

export function openVisits(database: Database, clock: Clock, log: Logger): Visits {
  let waiting: Waiting[] = []
  let timer: NodeJS.Timeout | undefined
  let writing: Promise<void> = Promise.resolve()
  const asked = new Map<string, Promise<Buffer>>()

  const salt = (day: string): Promise<Buffer> => {
    const known = asked.get(day)
    if (known) return known
    asked.clear()
    const mine = saltOf(database, day)
    asked.set(day, mine)
    mine.catch(() => asked.delete(day))
    return mine
  }

  async function write(visits: readonly Waiting[]): Promise<void> {
    const days = new Set(visits.map(({ at }) => Math.floor(at / oneDay)))
    const salts = new Map<number, string>()
    for (const day of days) {
      const date = new Date(day * oneDay).toISOString().slice(0, 10)
      salts.set(day, (await salt(date)).toString('hex'))
    }
    const rows = visits
      .filter(({ rehearsal }) => !rehearsal)
      .map(({ page, ip, userAgent, at, contact, device, source }) => {
        const visitor = hash('sha256', `${salts.get(Math.floor(at / oneDay))}${ip}\n${userAgent}`).slice(
          0,
          32,
        )
        return { page, at: at / 1_000, visitor, contact, device, source }
      })
    await database.inTransaction(async (tx) => {
      await tx.rows(
        `insert into visit (page_id, at, visitor, contact_id, device, source)
       select page, to_timestamp(at), decode(visitor, 'hex'), (select contact.id from contact where contact.id = each.contact), device,
         coalesce(source, '{}')
       from jsonb_to_recordset($1) as each
         (page bigint, at float8, visitor text, contact bigint, device text, source jsonb)
       where exists (select from page where id = each.page)`,
        [JSON.stringify(rows)],
      )
      await recordKnownVisits(
        tx,
        visits.flatMap(({ contact, page, at }) => (contact === null ? [] : [{ contact, page, at }])),
      )
    })
  }

  function flush(): Promise<void> {
    clearTimeout(timer)
    timer = undefined
    writing = writing.then(async () => {
      const taken = waiting
      if (taken.length === 0) return
      waiting = []
      try {
        await write(taken)
      } catch (error) {
        // The database is away: they wait, and are tried again with the next ones.
        log.warn({ err: error }, 'visits wait for the database')
        const kept = [...taken, ...waiting].slice(-mostWaiting)
        if (taken.length + waiting.length > kept.length) log.error('visits were given up: too many wait')
        waiting = kept
        timer ??= setTimeout(() => void flush(), writeAfter * 4)
      }
    })
    return writing
  }

  return {
    record(visit) {
      waiting.push({ ...visit, at: clock.now() })
      if (waiting.length === batch) void flush()
      else timer ??= setTimeout(() => void flush(), writeAfter)
    },
    close: flush,
  }
}

/** Visits are looked at over a year at most, a little more for the same month of the year before. */
const visitsLast = 400 * oneDay

/** Forgets visits that nobody looks at any more. A part of `maintenance`. */
export async function forgetOldVisits({
  database,
  clock,
}: Pick<Platform, 'database' | 'clock'>): Promise<void> {
  await database.rows('delete from visit where at < $1', [new Date(clock.now() - visitsLast)])
}
