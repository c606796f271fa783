import type { PersonView } from '../../contract/audience.ts'
import type { Platform } from '../platform.ts'
import { notFound } from '../problems.ts'
import { personNow } from './contacts.ts'
import { journalOf } from './journal.ts'
import { loadNames } from './names.ts'
import { contactRowColumns, viewContactRow, type Row } from './people.ts'

/** Who one person is, and what happened. @throws Problem 404 */
export async function viewPerson(platform: Platform, id: number): Promise<PersonView> {
  const q = platform.database
  const row = await q.row<Row & { zone: string | null; clock_ahead: number }>(
    `select ${contactRowColumns}, c.zone, c.clock_ahead from contact c where id = $1`,
    [id],
  )
  if (!row) throw notFound('This person')
  const names = await loadNames(q)
  const [consents, journal] = await Promise.all([
    q.rows<{ at: Date; given: boolean; wording: string; source: string }>(
      'select at, given, wording, source from consent where contact_id = $1 order by at desc, id desc',
      [id],
    ),
    journalOf(q, id, names),
  ])
  return {
    ...viewContactRow(row),
    firstName: row.first_name,
    lastName: row.last_name,
    zone: row.zone,
    now: new Date(personNow(platform.clock, { clockAhead: row.clock_ahead })).toISOString(),
    consents: consents.map((entry) => ({ ...entry, at: entry.at.toISOString() })),
    journal,
  }
}
