import type { z } from 'zod'
import type { refundOrder } from '../../contract/orders.ts'
import { moneyWords, shared } from '../../core/commerce/money.ts'
import { removeTags } from '../audience/describing/tags.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { personNow, type Contact } from '../audience/people/contacts.ts'
import type { NewActivity } from '../audience/people/newActivity.ts'
import type { Doing } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { takeFromCourses } from '../pages/courses.ts'
import type { Platform } from '../platform.ts'
import { queueJobs, type JobPayload } from '../work/jobs.ts'
import { linesOf, type OrderLine } from './orderLines.ts'
import { GatewayRefuses, gatewayOf } from './gateway.ts'
import { issueCredit } from './invoices.ts'
import { contactOfOrder } from './orderContact.ts'

interface Refundable {
  id: number
  left: number
}

/** Payments of an order from which something can be given back, the latest first; locked. */
async function refundable(q: Queries, order: number): Promise<Refundable[]> {
  // Locked by a statement of its own: the sums of the next one then see what others have asked for meanwhile.
  await q.rows('select id from payment where order_id = $1 order by id for update', [order])
  return q.rows<Refundable>(
    `select id, total - (select coalesce(sum(amount), 0) from refund where payment_id = payment.id and state <> 'failed')::bigint "left"
     from payment where order_id = $1 and state = 'paid' and charge is not null order by n desc`,
    [order],
  )
}

/**
 * Asks for a refund: the gateway gives it back by a job. It comes from the latest payments first.
 * @throws Problem 404, 422 when it is more than was paid and not given back yet
 */
export async function askRefund(
  q: Queries,
  order: number,
  { amount, reason, takesBack }: z.infer<typeof refundOrder>,
  { by, at }: Doing,
): Promise<void> {
  const row = await q.row<{ currency: string }>('select currency from customer_order where id = $1', [order])
  if (!row) throw notFound('This order')
  const payments = await refundable(q, order)
  const left = payments.reduce((all, payment) => all + payment.left, 0)
  if (amount > left) {
    const words =
      left === 0
        ? 'Nothing is left to give back.'
        : `${moneyWords({ amount: left, currency: row.currency })} at most can be given back.`
    throw new Problem(422, 'That is more than was paid', words, { amount: words })
  }
  let open = amount
  for (const payment of payments) {
    const part = Math.min(open, payment.left)
    if (part === 0) continue
    open -= part
    const made = await q.row<{ id: number }>(
      `insert into refund (payment_id, amount, state, reason, takes_back, asked_at, asked_by)
       values ($1, $2, 'asked', $3, $4, $5, $6) returning id`,
      [payment.id, part, reason, takesBack, at, by],
    )
    if (made) await queueJobs(q, 'makeRefund', [{ refund: made.id }])
  }
  await announce(q, 'orders')
}

/** What this order brought is taken back, tags and courses, but what another order of theirs brings too. */
async function takeBack(q: Queries, order: number, whose: Contact, at: number): Promise<void> {
  const others = await q.rows<{ id: number }>(
    `select id from customer_order where contact_id = $1 and id <> $2 and state = 'paid' and refunded < total`,
    [whose.id, order],
  )
  const kept = await linesOf(q, ...others.map(({ id }) => id))
  const mine = await linesOf(q, order)
  const tagsIn = (lines: readonly OrderLine[]): number[] =>
    lines.flatMap(({ brings }) =>
      brings.flatMap((each) => (each.does === 'addTag' && each.tag !== null ? [each.tag] : [])),
    )
  const coursesIn = (lines: readonly OrderLine[]): number[] =>
    lines.flatMap(({ brings }) =>
      brings.flatMap((each) => (each.does === 'openCourse' && each.course !== null ? [each.course] : [])),
    )
  const [otherTags, otherCourses] = [new Set(tagsIn(kept)), new Set(coursesIn(kept))]
  const tags = new Set(tagsIn(mine).filter((tag) => !otherTags.has(tag)))
  await takeFromCourses(
    q,
    coursesIn(mine).filter((course) => !otherCourses.has(course)),
    whose.id,
  )
  await removeTags(
    q,
    [...tags].map((tag) => ({ contact: whose.id, tag, at })),
    `refund of order ${order}`,
  )
}

interface Asked {
  id: number
  payment: number
  amount: number
  order: number
  charge: string
  state: string
  takesBack: boolean
  currency: string
}

/** Writes down that money was given back: once, with its credit note and the activity. */
async function finishRefund(
  platform: Platform,
  { id, payment, amount, order, takesBack, currency }: Asked,
): Promise<void> {
  const { database, clock } = platform
  await database.inTransaction(async (tx) => {
    const whose = await contactOfOrder(tx, order)
    const now = new Date(clock.now())
    const done = await tx.row(
      `update refund set state = 'done', done_at = $2 where id = $1 and state = 'asked' returning id`,
      [id, now],
    )
    if (!done) return
    await tx.rows('update customer_order set refunded = refunded + $2 where id = $1', [order, amount])
    if (whose) {
      const at = personNow(clock, whose)
      const lines = (await linesOf(tx, order)).filter(({ total }) => total > 0)
      const parts = shared(
        { amount, currency },
        lines.map(({ total }) => total),
      )
      await recordActivities(
        tx,
        lines.flatMap(({ product, price }, i): NewActivity[] => {
          const part = parts[i] ?? 0
          const details = { product, price, amount: part, currency, order }
          return part > 0 ? [{ contact: whose.id, kind: 'orderRefunded', at, details }] : []
        }),
      )
      if (takesBack) await takeBack(tx, order, whose, at)
    }
    await issueCredit(tx, { refund: id, payment, amount, at: now })
    await announce(tx, 'orders')
  })
}

/**
 * Has the gateway give money back: the work of the job `makeRefund`. It asks by the same key each time, so that
 * nothing is given back twice.
 * @throws Error while the gateway is away: the queue tries again, later and later
 */
export async function makeRefund(platform: Platform, { refund }: JobPayload<'makeRefund'>): Promise<void> {
  const { database: q, settings } = platform
  const asked = await q.row<Asked>(
    `select refund.id, payment_id payment, refund.amount, order_id "order", charge, refund.state, takes_back "takesBack", currency
     from refund join payment on payment.id = payment_id join customer_order on customer_order.id = order_id
     where refund.id = $1`,
    [refund],
  )
  if (asked?.state !== 'asked') return
  try {
    await gatewayOf(settings).refund(asked.charge, { key: `refund ${refund}`, amount: asked.amount })
  } catch (error) {
    if (!(error instanceof GatewayRefuses)) throw error
    await q.rows(`update refund set state = 'failed', failure = $2 where id = $1`, [
      refund,
      'The gateway refused it.',
    ])
    await announce(q, 'orders')
    return
  }
  await finishRefund(platform, asked)
}
