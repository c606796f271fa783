import type { Instant } from '../../core/audience/people/activity.ts'
import { sendingRules, type SendingRules } from '../../core/email/sendingRules.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'

/** The rules of this install; none are set at first. */
export async function loadSendingRules(q: Queries): Promise<SendingRules> {
  const row = await q.row<{ sending: unknown }>('select sending from business')
  return sendingRules.parse(row?.sending ?? {})
}

/** What waits because of the rules of before is looked at again at once. */
export async function saveSendingRules(q: Queries, rules: SendingRules): Promise<void> {
  await q.rows('update business set sending = $1', [JSON.stringify(rules)])
  await q.rows(
    `update message set due_at = moved_from, moved_from = null, problem = null
     where state = 'queued' and moved_from is not null`,
  )
  await announce(q, 'email')
}

const minute = 60_000
const week = 7 * 86_400_000

/** How many more may be sent within this minute. */
export async function roomThisMinute(q: Queries, { perMinute }: SendingRules, now: Instant): Promise<number> {
  if (perMinute === null) return Infinity
  const sent = await q.row<{ count: number }>('select count(*)::int count from message where sent_at > $1', [
    new Date(now - minute),
  ])
  return perMinute - (sent?.count ?? 0)
}

/** When each of these people was sent marketing in the last week, on their own clocks. */
export async function recentMarketing(
  q: Queries,
  contacts: readonly number[],
  now: Instant,
): Promise<Map<number, Instant[]>> {
  // The history has their own clock; a message has that of the business.
  const rows = await q.rows<{ contact: number; sent: number[] }>(
    `select activity.contact_id contact, array_agg(floor(extract(epoch from activity.at) * 1000)) sent
     from activity join message on message.id = (details->>'message')::bigint and purpose = 'marketing'
     where activity.contact_id = any($1) and kind = 'emailSent' and activity.at > $2 group by 1`,
    [[...new Set(contacts)], new Date(now - week)],
  )
  return new Map(rows.map(({ contact, sent }) => [contact, sent.map(Number)]))
}

/**
 * Those of these people whom no other worker writes to just now: two at once would both see the same room.
 * Held until the transaction ends.
 */
export async function heldAlone(q: Queries, contacts: readonly number[]): Promise<Set<number>> {
  const rows = await q.rows<{ id: number }>(
    `select id from unnest($1::int[]) id where pg_try_advisory_xact_lock(${lockOfPeople}, id)`,
    [[...new Set(contacts)]],
  )
  return new Set(rows.map(({ id }) => id))
}

/** Names of locks that only this uses. */
const lockOfPeople = 7_101
const lockOfMinute = 7_102

/** Is nobody else counting this minute's messages? */
export async function countsAlone(q: Queries): Promise<boolean> {
  const row = await q.row<{ alone: boolean }>(`select pg_try_advisory_xact_lock(${lockOfMinute}, 0) alone`)
  return row?.alone ?? false
}
