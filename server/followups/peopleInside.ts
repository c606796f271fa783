import { z } from 'zod'
import type { InsideList, InsideQuery, JournalList } from '../../contract/followups.ts'
import type { Outcome } from '../../core/followups/enrolment.ts'
import { containing } from '../audience/people/contactList.ts'
import type { Queries } from '../database/connect.ts'

/** The last row of a page: its moment in microseconds, and its id. What is no place begins anew. */
const cursor = z.tuple([z.coerce.number().int().min(0).max(8.64e18), z.coerce.number().int().positive()])

/** Who is due now stands before all that wait. */
const dueAt = `coalesce((extract(epoch from due_at) * 1000000)::bigint, 0)`

/** Who is inside, soonest due first, from where the page before ended. */
export async function listInside(q: Queries, followup: number, query: InsideQuery): Promise<InsideList> {
  const { data: from } = cursor.safeParse(query.after?.split('-'))
  const bind: unknown[] = [followup, query.size + 1]
  const add = (value: unknown): string => `$${bind.push(value)}`
  const tests = [
    query.step && `step = ${add(query.step)}`,
    query.search && `contact.search_key like ${add(containing(query.search.toLowerCase()))}`,
    from && `(${dueAt}, enrolment.id) > (${add(from[0])}::bigint, ${add(from[1])}::bigint)`,
  ].filter(Boolean)
  const rows = await q.rows<
    Omit<InsideList['rows'][number], 'startedAt' | 'dueAt'> & {
      startedAt: Date
      dueAt: Date | null
      place: string
    }
  >(
    `select enrolment.id enrolment, contact.id contact, trim(first_name || ' ' || last_name) name, address, rehearsal,
       step, started_at "startedAt", due_at "dueAt", problem "setAside", ${dueAt} || '-' || enrolment.id place
     from enrolment join contact on contact.id = contact_id
     where followup_id = $1 and ended_at is null ${tests.map((test) => `and ${test}`).join(' ')}
     order by ${dueAt}, enrolment.id limit $2`,
    bind,
  )
  const page = rows.slice(0, query.size)
  return {
    rows: page.map(({ place: _place, ...row }) => ({
      ...row,
      startedAt: row.startedAt.toISOString(),
      dueAt: row.dueAt?.toISOString() ?? null,
    })),
    next: rows.length > page.length ? (page.at(-1)?.place ?? null) : null,
  }
}

/** What was decided in a follow-up, newest first: the same rows as those of each person's journal. */
export async function journalOf(
  q: Queries,
  followup: number,
  after: number | undefined,
): Promise<JournalList> {
  const size = 100
  const rows = await q.rows<{
    id: number
    at: Date
    contact: number
    name: string
    step: string | null
    outcome: Outcome
    reason: string
  }>(
    `select decision.id, decision.at, decision.contact_id contact,
       coalesce(nullif(trim(first_name || ' ' || last_name), ''), address) name, decision.step, outcome, reason
     from decision join enrolment on enrolment.id = enrolment_id join contact on contact.id = decision.contact_id
     where enrolment.followup_id = $1 and ($2::bigint is null or decision.id < $2)
     order by decision.id desc limit ${size + 1}`,
    [followup, after ?? null],
  )
  return {
    rows: rows.slice(0, size).map(({ at, ...row }) => ({ ...row, at: at.toISOString() })),
    next: rows.length > size ? String(rows[size - 1]?.id) : null,
  }
}
