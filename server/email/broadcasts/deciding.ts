import { leading, type TestMeasure, type VariantCount } from '../../../core/email/splitTest.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import type { Queries } from '../../database/connect.ts'
import { announce } from '../../http/live.ts'
import { notFound, Problem } from '../../http/problems.ts'
import type { Platform } from '../../platform.ts'

/** What became of a variant of a broadcast. */
export interface VariantResult {
  broadcast: number
  number: number
  sent: number
  opened: number
  clicked: number
  /** Of those who got it, who has sent a form since. */
  signedUp: number
}

/** What became of each variant of these broadcasts with those whom it was tried on. */
export const variantResults = (q: Queries, broadcasts: readonly number[]): Promise<VariantResult[]> =>
  q.rows<VariantResult>(
    `select variant.broadcast_id broadcast, variant.number, count(message.id)::int sent,
       count(message.opened_at)::int opened, count(message.clicked_at)::int clicked,
       count(message.id) filter (where exists (select from activity where activity.contact_id = message.contact_id
         and kind = 'formSent' and at >= message.sent_at and at < message.sent_at + interval '7 days'))::int "signedUp"
     from broadcast_variant variant
     left join message on message.broadcast_id = variant.broadcast_id and message.variant = variant.number
       and message.state = 'sent' and message.tested
     where variant.broadcast_id = any($1)
     group by variant.broadcast_id, variant.number order by 1, 2`,
    [broadcasts],
  )

const hitsOf: Record<TestMeasure, (result: VariantResult) => number> = {
  opens: ({ opened }) => opened,
  clicks: ({ clicked }) => clicked,
  signUps: ({ signedUp }) => signedUp,
}

/** Sends the rest of a broadcast what has won. */
async function sendRest(
  q: Queries,
  broadcast: number,
  winner: number,
  by: string,
  now: Instant,
): Promise<void> {
  await q.rows('update broadcast set winner = $2, decided_by = $3 where id = $1', [broadcast, winner, by])
  await q.rows(
    `update message set variant = $2, email_id = variant.email_id, email_version = email.published_version,
       state = case when broadcast.paused_by is null then 'queued' else 'waiting' end,
       due_at = greatest(due_at, $3)
     from broadcast_variant variant join email on email.id = variant.email_id
       join broadcast on broadcast.id = variant.broadcast_id
     where message.broadcast_id = $1 and message.variant is null and message.state = 'waiting'
       and variant.broadcast_id = $1 and variant.number = $2`,
    [broadcast, winner, new Date(now)],
  )
  await announce(q, 'email')
}

/** Says which variant of a test the rest gets. @throws Problem 404, 409 when that has been said already */
export async function decideTest(platform: Platform, id: number, winner: number, by: string): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const found = await tx.row<{ winner: number | null; ready: boolean; ended: boolean; variants: number }>(
      `select winner, left_out is not null ready, stopped_by is not null or called_back_by is not null ended,
         (select count(*)::int from broadcast_variant where broadcast_id = broadcast.id) variants
       from broadcast where id = $1 for update`,
      [id],
    )
    if (!found || winner > found.variants) throw notFound('This variant')
    if (found.winner !== null || found.ended || !found.ready || found.variants < 2)
      throw new Problem(
        409,
        'There is nothing to decide',
        'The rest has what it gets, or nothing has gone yet.',
      )
    await sendRest(tx, id, winner, by, platform.clock.now())
  })
}

/**
 * Ends the tests whose time is over and that decide by themselves, once each of their readers has had it (some are
 * paused, or in zones where it is early still): the highest rate wins, of equal ones the first.
 */
export async function decideDueTests({ database, clock }: Platform): Promise<void> {
  const now = clock.now()
  const due = `decides_itself and winner is null and called_back_by is null and stopped_by is null
    and left_out is not null and decide_at <= $1
    and not exists (select from message where broadcast_id = broadcast.id and tested
      and message.state in ('queued', 'waiting') and attempts = 0)`
  if (!(await database.row(`select from broadcast where ${due} limit 1`, [new Date(now)]))) return
  await database.inTransaction(async (tx) => {
    const tests = await tx.rows<{ id: number; by: TestMeasure }>(
      `select id, test_by "by" from broadcast where ${due} for update skip locked`,
      [new Date(now)],
    )
    const results = await variantResults(
      tx,
      tests.map(({ id }) => id),
    )
    for (const { id, by } of tests) {
      const counts: VariantCount[] = results
        .filter(({ broadcast }) => broadcast === id)
        .map((each) => ({ number: each.number, sent: each.sent, hits: hitsOf[by](each) }))
      const best = leading(counts)
      if (best) await sendRest(tx, id, best.number, 'Nurtel', now)
    }
  })
}
