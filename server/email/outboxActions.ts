import { causeOf } from '../../core/email/causes.ts'
import type { OutboxGroup, OutboxMoment } from '../../contract/email.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { personNow } from '../audience/people/contacts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import type { Platform } from '../platform.ts'

/** So many messages that did not go out are looked at, the last ones: more would tell no more of why. */
const mostLookedAt = 20_000

const lastProblems = `select id, coalesce(problem, '') problem from message where state in ('held', 'failed')
  order by queued_at desc limit ${mostLookedAt}`

/** What did not go out, by its cause, the most first. */
export async function problemsByCause(q: Queries): Promise<OutboxGroup[]> {
  const reasons = await q.rows<{ problem: string; people: number }>(
    `select problem, count(*)::int people from (${lastProblems}) last group by 1`,
  )
  const groups = new Map<string, OutboxGroup>()
  for (const { problem, people } of reasons) {
    const cause = causeOf(problem)
    groups.set(cause.title, { ...cause, people: (groups.get(cause.title)?.people ?? 0) + people })
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

/** Puts a message into the queue anew, as if it had never been tried. */
const anew = `state = 'queued', due_at = $1, problem = null, attempts = 0, first_tried_at = null`

/** Sends one message again that did not go out. @throws Problem 404, 409 */
export async function sendMessageAgain({ database, clock }: Platform, id: number): Promise<void> {
  if (!(await database.row('select from message where id = $1', [id]))) throw notFound('This message')
  const queued = await database.row(
    `update message set ${anew} where id = $2 and state in ('held', 'failed') returning id`,
    [new Date(clock.now()), id],
  )
  if (!queued)
    throw new Problem(
      409,
      'This message has gone or waits already',
      'Look at it in the queue or among what was sent.',
    )
  await announce(database, 'email')
}

/** Sends everything again that did not go out for a cause. @returns how many messages wait now */
export async function sendCauseAgain({ database, clock }: Platform, title: string): Promise<number> {
  const reasons = await database.rows<{ problem: string }>(
    `select distinct problem from (${lastProblems}) last`,
  )
  const meant = reasons.map(({ problem }) => problem).filter((problem) => causeOf(problem).title === title)
  const queued = await database.row<{ count: number }>(
    `with queued as (update message set ${anew}
       where id in (select id from (${lastProblems}) last where problem = any($2)) and state in ('held', 'failed')
       returning id)
     select count(*)::int count from queued`,
    [new Date(clock.now()), meant],
  )
  await announce(database, 'email')
  return queued?.count ?? 0
}

/** Sends at once what waits for a later moment or another try. @throws Problem 404, 409 */
export async function hurryMessage({ database, clock }: Platform, id: number): Promise<void> {
  const hurried = await database.row(
    `update message set due_at = $2, hurried = true where id = $1 and state = 'queued' returning id`,
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
    // People come before what is theirs, see `contactById`.
    await tx.rows(
      'select id from contact where id = (select contact_id from message where id = $1) for key share',
      [id],
    )
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
