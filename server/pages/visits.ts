import { hash, randomBytes } from 'node:crypto'
import type { Source } from '../../core/audience/people/activity.ts'
import type { Clock } from '../clock.ts'
import type { Database } from '../database/connect.ts'
import type { Logger } from 'pino'
import type { Platform } from '../platform.ts'
import { gather } from '../work/gatheredWrites.ts'
import { recordHappenings } from '../audience/people/happenings.ts'

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
const atOnce = 500
const after = 500

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
      await recordHappenings(
        tx,
        visits.flatMap(({ contact, page, at }) =>
          contact === null ? [] : [{ contact, kind: 'pageVisited' as const, details: { page }, at }],
        ),
      )
    })
  }

  const gathered = gather<Waiting>({ called: 'visits', write, atOnce, after, mostWaiting }, log)
  return {
    record: (visit) => gathered.add({ ...visit, at: clock.now() }),
    close: () => gathered.close(),
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
