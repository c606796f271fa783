import type { MessageState, OutboxList, OutboxQuery, OutboxRow } from '../../contract/email.ts'
import { containing } from '../audience/people.ts'
import type { Queries } from '../database/connect.ts'

const statesOf: Record<OutboxQuery['show'], MessageState[]> = {
  queue: ['queued'],
  sent: ['sent'],
  problems: ['failed', 'held'],
}

type Row = Omit<OutboxRow, 'queuedAt' | 'sentAt'> & { queuedAt: Date; sentAt: Date | null }

/** One page of what goes out, newest first, and how much there is of each. */
export async function listOutbox(q: Queries, query: OutboxQuery): Promise<OutboxList> {
  const found = `from message join contact on contact.id = contact_id join email on email.id = email_id
    where message.state = any($1) and ($2 = '%%' or address_key like lower($2) or email.name ilike $2
      or (first_name || ' ' || last_name) ilike $2)`
  const bind = [statesOf[query.show], containing(query.search)]
  const [states, total, rows] = await Promise.all([
    q.rows<{ state: MessageState; count: number }>('select state, count(*) count from message group by 1'),
    q.row<{ count: number }>(`select count(*) count ${found}`, bind),
    q.rows<Row>(
      `select message.id, message.state, message.attempts, message.problem, contact.rehearsal, email.name email,
         queued_at "queuedAt", sent_at "sentAt",
         json_build_object('id', contact.id, 'name', trim(first_name || ' ' || last_name),
           'address', contact.address) contact
       ${found} order by queued_at desc, message.id desc limit $3 offset $4`,
      [...bind, query.size, (query.page - 1) * query.size],
    ),
  ])
  const countOf = (show: OutboxQuery['show']): number =>
    states.filter(({ state }) => statesOf[show].includes(state)).reduce((sum, { count }) => sum + count, 0)
  return {
    total: total?.count ?? 0,
    counts: { queue: countOf('queue'), sent: countOf('sent'), problems: countOf('problems') },
    rows: rows.map((row) => ({
      ...row,
      queuedAt: row.queuedAt.toISOString(),
      sentAt: row.sentAt?.toISOString() ?? null,
    })),
  }
}
