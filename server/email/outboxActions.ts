import { causeOf } from '../../core/email/causes.ts'
import type { OutboxGroup, OutboxMoment } from '../../contract/email.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { personNow } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'

/** So many messages that did not go out are looked at: more would tell no more of why. */
const mostLookedAt = 20_000

interface Reason {
  problem: string
  people: number
  ids: number[]
}

const loadReasons = (q: Queries): Promise<Reason[]> =>
  q.rows<Reason>(
    `select coalesce(problem, '') problem, count(*)::int people, to_json(array_agg(id)) ids
     from (select id, problem from message where state in ('held', 'failed')
       order by queued_at desc limit ${mostLookedAt}) few
     group by 1`,
  )

/** What did not go out, by its cause, the most first. */
export async function problemsByCause(q: Queries): Promise<OutboxGroup[]> {
  const reasons = await loadReasons(q)
  const groups = new Map<string, OutboxGroup>()
  for (const { problem, people } of reasons) {
    const cause = causeOf(problem)
    const before = groups.get(cause.title)?.people ?? 0
    groups.set(cause.title, { ...cause, people: before + people })
  }
  return [...groups.values()].sort((a, b) => b.people - a.people || a.title.localeCompare(b.title))
}

/** What waits, by when it goes and where it comes from, soonest first. */
export async function queueByMoment(q: Queries): Promise<OutboxMoment[]> {
  const rows = await q.rows<Omit<OutboxMoment, 'at'> & { at: Date | null }>(
    `select case when message.due_at > '-infinity' then date_trunc('minute', message.due_at) end at, email.name email,
       case when broadcast_id is not null then 'broadcast' when followup.id is not null then followup.name else 'form' end "from",
       count(*)::int people, message.state = 'waiting' waiting
     from (select * from message where state in ('queued', 'waiting') order by due_at limit ${mostLookedAt}) message
     join email on email.id = email_id left join enrolment on enrolment.id = enrolment_id
     left join followup on followup.id = enrolment.followup_id
     group by 1, 2, 3, 5 order by 1 nulls first, 2 limit 12`,
  )
  return rows.map((row) => ({ ...row, at: row.at?.toISOString() ?? null }))
}

/** Puts messages into the queue anew, as if they had never been tried. */
async function queueAgain(q: Queries, ids: readonly number[], now: Date): Promise<number> {
  const queued = await q.rows(
    `update message set state = 'queued', due_at = $2, problem = null, attempts = 0, first_tried_at = null
     where id = any($1) and state in ('held', 'failed') returning id`,
    [ids, now],
  )
  await announce(q, 'email')
  return queued.length
}

/** Sends one message again that did not go out. @throws Problem 404, 409 */
export async function sendMessageAgain({ database, clock }: Platform, id: number): Promise<void> {
  if (!(await database.row('select from message where id = $1', [id]))) throw notFound('This message')
  if ((await queueAgain(database, [id], new Date(clock.now()))) === 0)
    throw new Problem(
      409,
      'This message has gone or waits already',
      'Look at it in the queue or among what was sent.',
    )
}

/** Sends everything again that did not go out for a cause. @returns how many messages wait now */
export async function sendCauseAgain({ database, clock }: Platform, title: string): Promise<number> {
  const reasons = await loadReasons(database)
  const ids = reasons.filter(({ problem }) => causeOf(problem).title === title).flatMap((each) => each.ids)
  return queueAgain(database, ids, new Date(clock.now()))
}

/** Sends at once what waits for a later moment or another try. @throws Problem 404, 409 */
export async function hurryMessage({ database, clock }: Platform, id: number): Promise<void> {
  const hurried = await database.row(
    `update message set due_at = $2 where id = $1 and state = 'queued' returning id`,
    [id, new Date(clock.now())],
  )
  if (!hurried)
    throw new Problem(409, 'This message does not wait any more', 'It has gone, or was held back.')
  await announce(database, 'email')
}

/** Keeps a message that waits from going out; the person's journal says by whom. @throws Problem 409 */
export async function cancelMessage(platform: Platform, id: number, by: string): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const reason = `${by} cancelled it`
    const held = await tx.row<{ contact: number; email: number; clockAhead: number }>(
      `update message set state = 'held', problem = $2 from contact
       where message.id = $1 and message.state in ('queued', 'waiting') and contact.id = contact_id
       returning contact.id contact, email_id email, clock_ahead "clockAhead"`,
      [id, reason],
    )
    if (!held) throw new Problem(409, 'This message does not wait any more', 'It has gone, or was held back.')
    const { contact, email } = held
    const at = personNow(platform.clock, held)
    await recordActivities(tx, [{ contact, kind: 'emailHeld', at, details: { email, message: id, reason } }])
    await announce(tx, 'email', 'audience')
  })
}
