import type { BroadcastForecast } from '../../../contract/broadcasts.ts'
import type { Selection } from '../../../contract/audience/people.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { mayGetBroadcast, type Recipient } from '../../../core/email/broadcast.ts'
import { selectionSql } from '../../audience/people/contactList.ts'
import { createBinds, type Binds } from '../../database/binds.ts'
import type { Queries } from '../../database/connect.ts'

/** Who is meant by a broadcast, and what decides whether they get it. */
export interface Meant {
  who: Selection
  email: number
  topic: number | null
  /** The broadcast whose readers are meant, as far as they did not open it: they get the email again. */
  againOf: number | null
}

/** Who gets a broadcast, and who of those that are meant does not. */
type Tally = Pick<BroadcastForecast, 'gets' | 'leftOut'>

/** Everybody who is meant with what decides whether they get the broadcast: rows of `Recipient` with an id. */
async function meantSql(
  q: Queries,
  { who, email, topic, againOf }: Meant,
  binds: Binds,
  now: Instant,
): Promise<string> {
  const at = binds.add(new Date(now))
  const agreed =
    topic === null
      ? 'true'
      : `exists (select from contact_topic where contact_id = c.id and topic_id = ${binds.add(topic)} and agreed)`
  const meant =
    againOf === null
      ? await selectionSql(q, who, binds, now)
      : `not c.rehearsal and exists (select from message where broadcast_id = ${binds.add(againOf)}
          and contact_id = c.id and message.state = 'sent' and opened_at is null and clicked_at is null)`
  const had =
    againOf === null
      ? `exists (select from message where email_id = ${binds.add(email)} and contact_id = c.id
          and message.state in ('queued', 'waiting', 'sent'))`
      : 'false'
  return `${binds.with} select c.id, c.marketing_state state,
      coalesce(c.paused_until > ${at}::timestamptz + c.clock_ahead * interval '1 millisecond', false) paused,
      ${agreed} agreed,
      ${had} had,
      octet_length(split_part(c.address, '@', 1)) <> length(split_part(c.address, '@', 1))
        and exists (select from mail_server where not knows_utf8) unreachable
    from contact c where ${meant}`
}

type Group = Recipient & { people: number }

/**
 * How many people there are of each sort. The sorts are few, so that the one rule in core decides for each of them,
 * however many people there are.
 */
async function groupsOf(q: Queries, request: Meant, now: Instant): Promise<Group[]> {
  const binds = createBinds()
  const meant = await meantSql(q, request, binds, now)
  return q.rows<Group>(
    `select state, paused, agreed, had, unreachable, count(*) people
     from (${meant}) meant group by 1, 2, 3, 4, 5`,
    binds.values,
  )
}

function tally(groups: readonly Group[]): Tally {
  let gets = 0
  const left = new Map<string, number>()
  for (const group of groups) {
    const { allowed, reason } = mayGetBroadcast(group)
    if (allowed) gets += group.people
    else left.set(reason, (left.get(reason) ?? 0) + group.people)
  }
  return {
    gets,
    leftOut: [...left]
      .map(([reason, people]) => ({ reason, people }))
      .sort((a, b) => b.people - a.people || a.reason.localeCompare(b.reason)),
  }
}

/** Those who get a broadcast, counted. */
export interface Recipients extends Tally {
  /** A statement that gives their ids, so that many of them need not travel. */
  idsSql(binds: Binds): Promise<string>
}

/** Who would get a broadcast now, and who would not. @throws Problem 409 when nobody can tell who is meant */
export async function recipientsOf(q: Queries, request: Meant, now: Instant): Promise<Recipients> {
  const groups = await groupsOf(q, request, now)
  const allowed = groups.filter((group) => mayGetBroadcast(group).allowed)
  return {
    ...tally(groups),
    async idsSql(binds) {
      const meant = await meantSql(q, request, binds, now)
      const columns = [
        binds.add(allowed.map(({ state }) => state)),
        binds.add(allowed.map(({ paused }) => paused)),
        binds.add(allowed.map(({ agreed }) => agreed)),
        binds.add(allowed.map(({ had }) => had)),
        binds.add(allowed.map(({ unreachable }) => unreachable)),
      ]
      return `select id from (${meant}) meant
        join unnest(${columns[0]}::text[], ${columns[1]}::bool[], ${columns[2]}::bool[], ${columns[3]}::bool[], ${columns[4]}::bool[])
          allowed (state, paused, agreed, had, unreachable) using (state, paused, agreed, had, unreachable)`
    },
  }
}

/** The ids of those who get a broadcast, in order. */
export async function recipientIds(q: Queries, recipients: Recipients): Promise<number[]> {
  const binds = createBinds()
  const rows = await q.rows<{ id: number }>(`${await recipients.idsSql(binds)} order by id`, binds.values)
  return rows.map(({ id }) => id)
}
