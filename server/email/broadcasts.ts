import { z } from 'zod'
import {
  broadcastRequest,
  type BroadcastForecast,
  type BroadcastRequest,
  type BroadcastState,
  type BroadcastView,
} from '../../contract/broadcasts.ts'
import type { Departure } from '../../contract/today.ts'
import type { WorkView } from '../../contract/work.ts'
import { describeCondition } from '../../core/audience/segments/describe.ts'
import { loadContext } from '../audience/segments/evaluationContext.ts'
import type { Queries } from '../database/connect.ts'
import { behindOthers, queueJobs } from '../work/jobs.ts'
import { announce } from '../http/live.ts'
import { startWork, type Progress } from '../work/longWork.ts'
import type { Platform } from '../platform.ts'
import { notFound, Problem } from '../http/problems.ts'
import { forecastBroadcast, recipientsOf } from './recipients.ts'

/** Messages queued in one round of statements. */
const batch = 5_000

const payload = broadcastRequest.extend({ broadcast: z.number().int().positive() })

const people = (count: number): string => `${count} ${count === 1 ? 'person' : 'people'}`

/** Who is meant, as one reads it aloud after "to". */
async function sentenceOf(
  q: Queries,
  { search, tree, only, rehearsal }: BroadcastRequest['who'],
): Promise<string> {
  if (only) return `${people(only.length)} selected manually`
  const context = await loadContext(q, tree ? [tree] : [])
  const parts = [
    search === '' ? '' : `name or address contains “${search}”`,
    tree ? describeCondition(tree, context.names, context.scorecards) : '',
  ].filter((part) => part !== '' && part !== 'everybody')
  const all = rehearsal === 'only' ? 'everybody in rehearsal' : 'everybody'
  return parts.length === 0 ? all : `${all}, narrowed down to: ${parts.join(', and ')}`
}

/**
 * Begins to send an email to everybody who is meant and may get it.
 * @returns the id of the broadcast
 * @throws Problem 404, 409
 */
export async function startBroadcast(
  platform: Platform,
  request: BroadcastRequest,
  by: string,
): Promise<number> {
  return platform.database.inTransaction(async (tx) => {
    const email = await tx.row<{ name: string; live: boolean }>(
      'select name, published_version is not null and archived_at is null live from email where id = $1',
      [request.email],
    )
    if (!email) throw notFound('This email')
    if (!email.live)
      throw new Problem(409, 'This email is not live', 'Publish it in the Library first, then send it.')
    if (request.topic !== null) {
      const topic = await tx.row('select id from topic where id = $1 and archived_at is null', [
        request.topic,
      ])
      if (!topic) throw notFound('This topic')
    }
    const { gets } = await forecastBroadcast(tx, request, platform.clock.now())
    if (gets === 0)
      throw new Problem(
        409,
        'Nobody would get this email',
        'None of them may receive it, or all have already got it. Choose other people or another email.',
      )
    const now = new Date(platform.clock.now())
    const made = await tx.row<{ id: number }>(
      `insert into broadcast (email_id, topic_id, sentence, by, created_at)
       values ($1, $2, $3, $4, $5) returning id`,
      [request.email, request.topic, await sentenceOf(tx, request.who), by, now],
    )
    if (!made) throw new Error('an insert returned no row')
    const title = `Send “${email.name}” to ${people(gets)}`
    const work = await startWork(tx, 'broadcast', title, { ...request, broadcast: made.id }, now)
    await tx.rows('update broadcast set work_id = $2 where id = $1', [made.id, work])
    await announce(tx, 'email')
    return made.id
  })
}

function describeQueued({ gets, leftOut }: BroadcastForecast): string {
  const left = leftOut.reduce((sum, each) => sum + each.people, 0)
  return `Queued for ${people(gets)}${left > 0 ? `; ${people(left)} left out` : ''}.`
}

/**
 * Puts a broadcast's messages into the queue, in one transaction: all of them or none.
 * @returns what to tell
 */
export async function runBroadcast(platform: Platform, asked: unknown, progress: Progress): Promise<string> {
  const { broadcast, ...request } = payload.parse(asked)
  const now = platform.clock.now()
  return platform.database.inTransaction(async (tx) => {
    // One broadcast of an email after the other: the second one sees who gets it by the first.
    // Follow-ups go on sending it meanwhile: their messages need the row to stay, not to stay as it is.
    await tx.rows('select id from email where id = $1 for no key update', [request.email])
    const before = await tx.row<{ left_out: BroadcastForecast['leftOut'] | null; queued: number }>(
      `select left_out, (select count(*) from message where broadcast_id = broadcast.id) queued
       from broadcast where id = $1`,
      [broadcast],
    )
    // A worker was killed between this and striking the job off: what was counted then stands.
    if (before?.left_out) return describeQueued({ gets: before.queued, leftOut: before.left_out })
    const { recipients, gets, leftOut } = await recipientsOf(tx, request, now)
    for (let from = 0; from < recipients.length; from += batch) {
      await progress.report('queueing emails', from, recipients.length)
      const queued = await tx.rows<{ id: number }>(
        `insert into message (email_id, email_version, contact_id, broadcast_id, topic_id, purpose, queued_at)
         select $1, (select published_version from email where id = $1), contact.id, $2, $3, 'marketing', $4
         from contact where contact.id = any($5) order by contact.id
         returning id`,
        [request.email, broadcast, request.topic, new Date(now), recipients.slice(from, from + batch)],
      )
      await queueJobs(
        tx,
        'sendMessage',
        queued.map(({ id }) => ({ message: id })),
        behindOthers,
      )
    }
    await tx.rows('update broadcast set left_out = $2 where id = $1', [broadcast, JSON.stringify(leftOut)])
    await announce(tx, 'email')
    return describeQueued({ gets, leftOut })
  })
}

/** Stops a broadcast: what has not gone out yet is held back as its turn comes. @throws Problem 404, 409 */
export async function stopBroadcast(platform: Platform, id: number, by: string): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const found = await tx.row<{ stopped_by: string | null; waiting: boolean }>(
      `select stopped_by, exists (select from message where broadcast_id = broadcast.id and state = 'queued') waiting
       from broadcast where id = $1 for update`,
      [id],
    )
    if (!found) throw notFound('This broadcast')
    if (found.stopped_by !== null) return
    if (!found.waiting)
      throw new Problem(409, 'There is nothing left to stop', 'All of its emails have been sent.')
    await tx.rows('update broadcast set stopped_by = $2 where id = $1', [id, by])
    await announce(tx, 'email')
  })
}

/** Broadcasts that are going out at this moment. */
export async function leavingBroadcasts({ database, clock }: Platform): Promise<Departure[]> {
  const rows = await database.rows<{ what: string; people: number }>(
    `select '“' || email.name || '”' what, count(*) people
     from message join broadcast on broadcast.id = broadcast_id join email on email.id = broadcast.email_id
       join contact on contact.id = contact_id
     where message.state = 'queued' and stopped_by is null and not contact.rehearsal
     group by broadcast.id, email.id order by broadcast.id`,
  )
  const at = new Date(Math.floor(clock.now() / 60_000) * 60_000).toISOString()
  return rows.map((row) => ({ ...row, at, from: 'broadcast', to: '/outbox/broadcasts', gone: false }))
}

/** Broadcasts that the list shows. */
const shown = 50

type Row = Omit<BroadcastView, 'state' | 'said' | 'createdAt' | 'leftOut'> & {
  createdAt: Date
  leftOut: BroadcastView['leftOut'] | null
  stoppedBy: string | null
  work: WorkView['state']
  result: unknown
}

const workSaid = z.object({ said: z.string() }).catch({ said: '' })

function stateOf({ work, stoppedBy, queued }: Row): BroadcastState {
  if (work === 'waiting' || work === 'running') return 'preparing'
  if (work !== 'done') return 'notSent'
  if (stoppedBy !== null) return 'stopped'
  return queued > 0 ? 'goingOut' : 'out'
}

/** The last broadcasts, newest first, with what became of their messages. */
export async function listBroadcasts(q: Queries): Promise<BroadcastView[]> {
  const count = (state: string): string => `count(message.id) filter (where message.state = '${state}')`
  const rows = await q.rows<Row>(
    `select b.id, email.name email, topic.name topic, b.sentence, b.by, b.created_at "createdAt",
       b.left_out "leftOut", b.stopped_by "stoppedBy", long_work.state work, long_work.result,
       ${count('queued')} queued, ${count('sent')} sent, ${count('held')} held, ${count('failed')} failed
     from (select * from broadcast order by id desc limit ${shown}) b
     join email on email.id = b.email_id left join topic on topic.id = b.topic_id
     join long_work on long_work.id = b.work_id left join message on message.broadcast_id = b.id
     group by b.id, b.sentence, b.by, b.created_at, b.left_out, b.stopped_by, email.id, topic.id, long_work.id
     order by b.id desc`,
  )
  return rows.map((row) => {
    const { stoppedBy, work: _work, result, ...view } = row
    const state = stateOf(row)
    return {
      ...view,
      state,
      createdAt: row.createdAt.toISOString(),
      leftOut: row.leftOut ?? [],
      said:
        state === 'notSent'
          ? workSaid.parse(result).said
          : state === 'stopped'
            ? `Stopped by ${stoppedBy}.`
            : '',
    }
  })
}
