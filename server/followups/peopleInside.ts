import type { InsideList, InsideQuery, JournalList } from '../../contract/followups.ts'
import type { Outcome } from '../../core/followups/enrolment.ts'
import { containing } from '../audience/people/contactList.ts'
import type { Queries } from '../database/connect.ts'

/** Who is inside, soonest due first, from where the page before ended. */
export async function listInside(q: Queries, followup: number, query: InsideQuery): Promise<InsideList> {
  const [at, id] = (query.after ?? '').split('_')
  const bind: unknown[] = [followup, query.size + 1]
  const add = (value: unknown): string => `$${bind.push(value)}`
  const tests = [
    query.step && `step = ${add(query.step)}`,
    query.search && `contact.search_key like ${add(containing(query.search.toLowerCase()))}`,
    at &&
      id &&
      `(coalesce(due_at, '-infinity'), enrolment.id) > (${add(at)}::timestamptz, ${add(Number(id))})`,
  ].filter(Boolean)
  const rows = await q.rows<{
    enrolment: number
    contact: number
    name: string
    address: string
    rehearsal: boolean
    step: string
    startedAt: Date
    dueAt: Date | null
    setAside: string | null
    cursor: string
  }>(
    `select enrolment.id enrolment, contact.id contact, trim(first_name || ' ' || last_name) name, address, rehearsal, step,
       started_at "startedAt", due_at "dueAt", problem "setAside", coalesce(due_at, '-infinity')::text || '_' || enrolment.id cursor
     from enrolment join contact on contact.id = contact_id
     where followup_id = $1 and ended_at is null ${tests.map((test) => `and ${test}`).join(' ')}
     order by coalesce(due_at, '-infinity'), enrolment.id limit $2`,
    bind,
  )
  const page = rows.slice(0, query.size)
  return {
    rows: page.map(({ cursor: _cursor, startedAt, dueAt, ...row }) => ({
      ...row,
      startedAt: startedAt.toISOString(),
      dueAt: dueAt?.toISOString() ?? null,
    })),
    next: rows.length > page.length ? (page.at(-1)?.cursor ?? null) : null,
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
    next: rows.length > size ? (rows[size - 1]?.id ?? null) : null,
  }
}
