import { z } from 'zod'
import type {
  BroadcastQuery,
  BroadcastState,
  BroadcastView,
  VariantView,
} from '../../../contract/broadcasts.ts'
import type { Departure } from '../../../contract/today.ts'
import type { WorkView } from '../../../contract/work.ts'
import type { TestMeasure } from '../../../core/email/splitTest.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { Queries } from '../../database/connect.ts'
import { notFound } from '../../http/problems.ts'
import type { Platform } from '../../platform.ts'
import { variantResults } from './deciding.ts'

const minute = 60_000
const floored = (at: Instant): string => new Date(Math.floor(at / minute) * minute).toISOString()

/** Broadcasts that are going out at this moment. */
export async function leavingBroadcasts({ database, clock }: Platform): Promise<Departure[]> {
  const now = clock.now()
  const leaving = await database.rows<{
    id: number
    what: string
    people: number
    of: number | null
    at: Date
  }>(
    `select broadcast.id, '“' || email.name || '”' what, count(*)::int people, expected "of",
       greatest(broadcast.goes_at, $1) at
     from message join broadcast on broadcast.id = broadcast_id join email on email.id = broadcast.email_id
       join contact on contact.id = contact_id
     where message.state = 'queued' and stopped_by is null and not contact.rehearsal
     group by broadcast.id, email.id order by broadcast.id`,
    [new Date(now)],
  )
  return leaving.map(({ id, at, ...row }) => ({
    ...row,
    at: floored(at.getTime()),
    from: 'broadcast',
    to: `/outbox/broadcasts/${id}`,
    gone: false,
  }))
}

/** Planned broadcasts are on the board of departures so many days ahead. */
const daysAhead = 7

/** Broadcasts that are planned for the next days, soonest first. */
export async function plannedDepartures({ database, clock }: Platform): Promise<Departure[]> {
  const now = clock.now()
  const planned = await database.rows<{ id: number; what: string; people: number; at: Date }>(
    `select broadcast.id, '“' || email.name || '”' what, expected people, goes_at at
     from broadcast join email on email.id = email_id
     where work_id is null and called_back_by is null and goes_at < $1 order by goes_at`,
    [new Date(now + daysAhead * 24 * 60 * minute)],
  )
  return planned.map(({ id, at, ...row }) => ({
    ...row,
    at: floored(at.getTime()),
    from: 'planned broadcast',
    to: `/outbox/broadcasts/${id}`,
    gone: false,
  }))
}

/** Broadcasts that the list shows. */
const shown = 60

/** Those of a span of time, such as a month of the calendar. */
const mostInSpan = 400

interface Row {
  id: number
  email: string
  emailId: number
  topic: string | null
  sentence: string
  by: string
  createdAt: Date
  goesAt: Date
  readerZone: boolean
  leftOut: BroadcastView['leftOut'] | null
  stoppedBy: string | null
  pausedBy: string | null
  calledBackBy: string | null
  againOf: number | null
  wasSentAgain: boolean
  testShare: number | null
  testBy: TestMeasure | null
  decideAt: Date | null
  itself: boolean
  winner: number | null
  decidedBy: string | null
  work: WorkView['state'] | null
  result: unknown
  queued: number
  undecided: number
  sent: number
  opened: number
  clicked: number
  held: number
  failed: number
}

const workSaid = z.object({ said: z.string() }).catch({ said: '' })

function stateOf(row: Row, now: Instant): BroadcastState {
  if (row.calledBackBy !== null) return 'calledBack'
  if (row.work === null) return 'planned'
  if (row.work === 'waiting' || row.work === 'running') return 'preparing'
  if (row.work !== 'done') return 'notSent'
  if (row.stoppedBy !== null) return 'stopped'
  if (row.pausedBy !== null) return 'paused'
  if (row.sent + row.failed + row.held === 0 && now < row.goesAt.getTime()) return 'calling'
  if (row.queued > row.undecided) return 'goingOut'
  return row.undecided > 0 ? 'testing' : 'out'
}

function said(row: Row, state: BroadcastState): string {
  switch (state) {
    case 'notSent':
      return workSaid.parse(row.result).said
    case 'stopped':
      return `Stopped by ${row.stoppedBy}.`
    case 'paused':
      return `Paused by ${row.pausedBy}.`
    case 'calledBack':
      return `Called back by ${row.calledBackBy}.`
    case 'planned':
    case 'preparing':
    case 'calling':
    case 'goingOut':
    case 'testing':
    case 'out':
      return ''
  }
}

interface VariantRow {
  broadcast: number
  number: number
  email: string
  subject: string
  senderName: string
}

async function loadVariants(q: Queries, ids: readonly number[]): Promise<Map<number, VariantView[]>> {
  const rows = await q.rows<VariantRow>(
    `select broadcast_id broadcast, variant.number, email.name email,
       coalesce(variant.subject, version.content->>'subject', '') subject, coalesce(sender_name, '') "senderName"
     from broadcast_variant variant join email on email.id = variant.email_id
     left join email_version version on version.email_id = email.id and version.number = published_version
     where broadcast_id = any($1) order by broadcast_id, variant.number`,
    [ids],
  )
  const several = new Set(rows.filter(({ number }) => number > 1).map(({ broadcast }) => broadcast))
  const results = await variantResults(q, [...several])
  const found = new Map<number, VariantView[]>()
  for (const { broadcast, ...row } of rows) {
    const result = results.find((each) => each.broadcast === broadcast && each.number === row.number)
    const { sent = 0, opened = 0, clicked = 0, signedUp = 0 } = result ?? {}
    found.set(broadcast, [...(found.get(broadcast) ?? []), { ...row, sent, opened, clicked, signedUp }])
  }
  return found
}

/** Broadcasts, newest first, with what became of their messages: the last ones, those of a span of time, or one. */
export async function listBroadcasts(
  { database: q, clock }: Platform,
  { from, to, id: only }: BroadcastQuery & { id?: number } = {},
): Promise<BroadcastView[]> {
  const now = clock.now()
  const count = (test: string): string => `count(message.id) filter (where ${test})::int`
  const state = (name: string): string => count(`message.state = '${name}'`)
  const rows = await q.rows<Row>(
    `select b.id, email.name email, b.email_id "emailId", topic.name topic, b.sentence, b.by, b.created_at "createdAt",
       b.goes_at "goesAt", b.reader_zone "readerZone", b.left_out "leftOut", b.stopped_by "stoppedBy",
       b.paused_by "pausedBy", b.called_back_by "calledBackBy", b.again_of "againOf",
       exists (select from broadcast later where later.again_of = b.id and later.called_back_by is null) "wasSentAgain",
       b.test_share "testShare", b.test_by "testBy", b.decide_at "decideAt", b.decides_itself itself, b.winner,
       b.decided_by "decidedBy", long_work.state work, long_work.result,
       ${count(`message.state in ('queued', 'waiting')`)} queued,
       ${count(`message.state = 'waiting' and message.variant is null`)} undecided,
       ${state('sent')} sent, ${count('message.opened_at is not null')} opened,
       ${count('message.clicked_at is not null')} clicked, ${state('held')} held, ${state('failed')} failed
     from (select * from broadcast where ($1::bigint is null or id = $1)
         and ($2::timestamptz is null or goes_at >= $2) and ($3::timestamptz is null or goes_at < $3)
       order by goes_at desc, id desc limit ${from === undefined ? shown : mostInSpan}) b
     join email on email.id = b.email_id left join topic on topic.id = b.topic_id
     left join long_work on long_work.id = b.work_id left join message on message.broadcast_id = b.id
     group by b.id, b.email_id, b.sentence, b.by, b.created_at, b.goes_at, b.reader_zone, b.left_out, b.stopped_by,
       b.paused_by, b.called_back_by, b.again_of, b.test_share, b.test_by, b.decide_at, b.decides_itself, b.winner,
       b.decided_by, email.id, topic.id, long_work.id
     order by b.goes_at desc, b.id desc`,
    [only ?? null, from ?? null, to ?? null],
  )
  const variants = await loadVariants(
    q,
    rows.map(({ id }) => id),
  )
  return rows.map((row) => {
    const at = stateOf(row, now)
    const { id, email, emailId, topic, sentence, by, readerZone } = row
    const { queued, sent, opened, clicked, held, failed } = row
    return {
      ...{ id, email, emailId, topic, sentence, by, readerZone },
      ...{ queued, sent, opened, clicked, held, failed },
      createdAt: row.createdAt.toISOString(),
      goesAt: row.goesAt.toISOString(),
      state: at,
      said: said(row, at),
      leftOut: row.leftOut ?? [],
      variants: variants.get(id) ?? [],
      test:
        row.testShare === null || row.testBy === null
          ? null
          : {
              share: row.testShare,
              by: row.testBy,
              decideAt: row.decideAt?.toISOString() ?? null,
              itself: row.itself,
              winner: row.winner,
              decidedBy: row.decidedBy,
            },
      againOf: row.againOf,
      wasSentAgain: row.wasSentAgain,
    }
  })
}

/** A broadcast with what became of it. @throws Problem 404 */
export async function viewBroadcast(platform: Platform, id: number): Promise<BroadcastView> {
  const [found] = await listBroadcasts(platform, { id })
  if (!found) throw notFound('This broadcast')
  return found
}
