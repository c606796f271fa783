import { setTimeout } from 'node:timers/promises'
import { z } from 'zod'
import type { BroadcastForecast } from '../../../contract/broadcasts.ts'
import { selection } from '../../../contract/audience/people.ts'
import { variantOf } from '../../../core/email/splitTest.ts'
import { firstInstantOf, isZone } from '../../../core/followups/waiting.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import type { Platform } from '../../platform.ts'
import { Cancelled, type Progress } from '../../work/longWork.ts'
import { getBusiness } from '../../workspace/business.ts'
import { recipientIds, recipientsOf, type Meant } from './recipients.ts'
import { people } from './starting.ts'

/** Messages queued in one statement, and the rest after it (milliseconds): forms are answered meanwhile. */
const batch = 2_000
const restFor = 40

const payload = z.object({ broadcast: z.number().int().positive() })

interface Planned {
  id: number
  email: number
  topic: number | null
  who: unknown
  goesAt: Instant
  readerZone: boolean
  againOf: number | null
  testShare: number | null
  variants: number
  calledBack: boolean
  leftOut: BroadcastForecast['leftOut'] | null
  queued: number
}

const plannedOf = (q: Queries, id: number): Promise<Planned | undefined> =>
  q.row<Planned>(
    `select id, email_id email, topic_id topic, who, floor(extract(epoch from goes_at) * 1000)::bigint "goesAt",
       reader_zone "readerZone", again_of "againOf", test_share "testShare",
       (select count(*)::int from broadcast_variant where broadcast_id = broadcast.id) variants,
       called_back_by is not null "calledBack", left_out "leftOut",
       (select count(*)::int from message where broadcast_id = broadcast.id) queued
     from broadcast where id = $1`,
    [id],
  )

function describeQueued(gets: number, leftOut: BroadcastForecast['leftOut']): string {
  const left = leftOut.reduce((sum, each) => sum + each.people, 0)
  return `Queued for ${people(gets)}${left > 0 ? `; ${people(left)} left out` : ''}.`
}

/** The zones of these people, and for each the moment at which its clocks show the local time of the business's. */
async function momentsIn(q: Queries, goesAt: Instant, zones: readonly string[]): Promise<Instant[]> {
  const { zone: own } = await getBusiness(q)
  const wall = await q.row<{ wall: number }>(
    `select (extract(epoch from ($1::timestamptz at time zone $2)) * 1000)::bigint wall`,
    [new Date(goesAt), own],
  )
  return zones.map((zone) => firstInstantOf(wall?.wall ?? goesAt, isZone(zone) ? zone : own))
}

/** People in an order that tells nothing of them, and is the same however often it is asked for. */
async function mixed(q: Queries, broadcast: number, contacts: readonly number[]): Promise<number[]> {
  const rows = await q.rows<{ id: number }>(
    `select id from unnest($2::bigint[]) id order by md5($1::text || ' ' || id::text)`,
    [broadcast, contacts],
  )
  return rows.map(({ id }) => id)
}

/**
 * Puts a broadcast's messages into the queue, in one transaction: all of them or none.
 * @returns what to tell
 */
export async function runBroadcast(platform: Platform, asked: unknown, progress: Progress): Promise<string> {
  const { broadcast } = payload.parse(asked)
  const now = platform.clock.now()
  return platform.database.inTransaction(async (tx) => {
    const planned = await plannedOf(tx, broadcast)
    if (!planned || planned.calledBack) return 'It was called back before it was ready.'
    // One broadcast of an email after the other: the second one sees who gets it by the first.
    // Follow-ups go on sending it meanwhile: their messages need the row to stay, not to stay as it is.
    await tx.rows('select id from email where id = $1 for no key update', [planned.email])
    // A worker was killed between this and striking the job off: what was counted then stands.
    if (planned.leftOut) return describeQueued(planned.queued, planned.leftOut)
    // One core of the database is enough for it: the others answer visitors.
    await tx.rows('set local max_parallel_workers_per_gather = 0')
    const meant: Meant = {
      who: selection.parse(planned.who),
      email: planned.email,
      topic: planned.topic,
      againOf: planned.againOf,
    }
    const found = await recipientsOf(tx, meant, now)
    const { gets, leftOut } = found
    const recipients = await recipientIds(tx, found)
    const testSize =
      planned.testShare === null
        ? gets
        : Math.max(planned.variants, Math.round((gets * planned.testShare) / 100))
    const order = planned.variants > 1 ? await mixed(tx, broadcast, recipients) : recipients
    const zones = planned.readerZone
      ? await tx.rows<{ zone: string }>(
          `select distinct coalesce(zone, '') zone from contact where id = any($1)`,
          [recipients],
        )
      : []
    const names = zones.map(({ zone }) => zone)
    const moments = await momentsIn(tx, planned.goesAt, names)
    for (let from = 0; from < order.length; from += batch) {
      await progress.report('queueing emails', from, order.length)
      const some = order.slice(from, from + batch)
      await tx.rows(
        `insert into message (email_id, email_version, contact_id, broadcast_id, variant, tested, topic_id, purpose, state,
           queued_at, due_at)
         select coalesce(variant.email_id, $1), email.published_version, contact.id, $2, asked.variant,
           $10 and asked.variant is not null, $3, 'marketing',
           case when asked.variant is null then 'waiting' else 'queued' end, $4, coalesce(zones.at, $5)
         from unnest($6::bigint[], $7::smallint[]) asked (contact, variant)
         join contact on contact.id = asked.contact
         left join broadcast_variant variant on broadcast_id = $2 and number = asked.variant
         join email on email.id = coalesce(variant.email_id, $1)
         left join unnest($8::text[], $9::timestamptz[]) zones (zone, at) on zones.zone = coalesce(contact.zone, '')
         order by contact.id`,
        [
          planned.email,
          broadcast,
          planned.topic,
          new Date(now),
          new Date(planned.goesAt),
          some,
          some.map((_, i) => variantOf(from + i, testSize, planned.variants)),
          names,
          moments.map((at) => new Date(at)),
          planned.variants > 1,
        ],
      )
      if (order.length > batch) await setTimeout(restFor)
    }
    const ready = await tx.row(
      'update broadcast set left_out = $2 where id = $1 and called_back_by is null returning id',
      [broadcast, JSON.stringify(leftOut)],
    )
    // Somebody has called it back meanwhile: what was made of it is taken back with this transaction.
    if (!ready) throw new Cancelled()
    await announce(tx, 'email')
    return describeQueued(gets, leftOut)
  })
}
