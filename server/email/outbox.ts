import { z } from 'zod'
import {
  mostCounted,
  type MessageState,
  type OutboxCounts,
  type OutboxList,
  type OutboxQuery,
  type OutboxRow,
} from '../../contract/email.ts'
import { containing } from '../audience/people/contactList.ts'
import type { Queries } from '../database/connect.ts'

const statesOf: Record<OutboxQuery['show'], MessageState[]> = {
  queue: ['queued', 'waiting'],
  sent: ['sent'],
  problems: ['failed', 'held'],
}

/** People whose name or address is searched for, at most: more are no search. */
const mostFound = 1_000

type Row = Omit<OutboxRow, 'queuedAt' | 'sentAt'> & { queuedAt: Date; sentAt: Date | null }

const cursor = z.tuple([z.coerce.number().int().min(0).max(8.64e15), z.coerce.number().int().positive()])

/** The last row of a page: its moment in microseconds, and its id. What is no place begins anew. */
function readCursor(after: string | undefined): [number, number] | null {
  const read = cursor.safeParse(after?.split('-'))
  return read.success ? read.data : null
}

/** Whom and what a search means, so that their messages are found by an index. */
async function searched(q: Queries, search: string): Promise<{ contacts: number[]; emails: number[] }> {
  const like = containing(search.toLowerCase())
  const contacts = await q.rows<{ id: number }>(
    `select id from contact where search_key like $1 limit ${mostFound}`,
    [like],
  )
  const emails = await q.rows<{ id: number }>('select id from email where lower(name) like $1', [like])
  return { contacts: contacts.map(({ id }) => id), emails: emails.map(({ id }) => id) }
}

/**
 * One page of what goes out, newest first. Each state is read from its index, from where the page before ended: the
 * thousandth page is as quick as the first, and nothing is counted.
 */
export async function listOutbox(q: Queries, query: OutboxQuery): Promise<OutboxList> {
  const from = readCursor(query.after)
  const wanted = query.search === '' ? null : await searched(q, query.search)
  const bind: unknown[] = [statesOf[query.show], query.size + 1]
  const add = (value: unknown): string => `$${bind.push(value)}`
  const tests = [
    from &&
      `(queued_at, id) < (to_timestamp(${add(String(from[0]))}::numeric / 1000000), ${add(from[1])}::bigint)`,
    wanted &&
      `(contact_id = any(${add(wanted.contacts)}::bigint[]) or email_id = any(${add(wanted.emails)}::bigint[]))`,
  ].filter((test) => test !== null)
  const rows = await q.rows<Row & { at: number }>(
    `select message.id, message.state, message.attempts, message.problem, contact.rehearsal, email.name email,
       queued_at "queuedAt", sent_at "sentAt", (extract(epoch from queued_at) * 1000000)::bigint at,
       json_build_object('id', contact.id, 'name', trim(first_name || ' ' || last_name),
         'address', contact.address) contact
     from (
       select each.* from unnest($1::text[]) state
       cross join lateral (select * from message
         where message.state = state.state ${tests.map((test) => `and ${test}`).join(' ')}
         order by queued_at desc, id desc limit $2) each
       order by queued_at desc, id desc limit $2) message
     join contact on contact.id = contact_id join email on email.id = email_id
     order by queued_at desc, message.id desc`,
    bind,
  )
  const page = rows.slice(0, query.size)
  const last = page.at(-1)
  return {
    rows: page.map(({ at: _at, ...row }) => ({
      ...row,
      queuedAt: row.queuedAt.toISOString(),
      sentAt: row.sentAt?.toISOString() ?? null,
    })),
    next: rows.length > page.length && last ? `${last.at}-${last.id}` : null,
  }
}

/** How much waits and how much did not go out; counting ends where more is no news. */
export async function countOutbox(q: Queries): Promise<OutboxCounts> {
  const count = (show: 'queue' | 'problems'): string =>
    `(select count(*) from (select from message where state in (${statesOf[show].map((state) => `'${state}'`).join(', ')})
      limit ${mostCounted + 1}) few)`
  const counts = await q.row<OutboxCounts>(`select ${count('queue')} queue, ${count('problems')} problems`)
  return counts ?? { queue: 0, problems: 0 }
}
