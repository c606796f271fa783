import { randomUUID } from 'node:crypto'
import { DateTime } from 'luxon'
import { Router, urlencoded, type Request, type Response } from 'express'
import { html, type Html } from '../../core/html.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import { dayWords } from '../../core/commerce/payments.ts'
import { gatewayOf, GatewayAway, GatewayRefuses, GatewaySilent } from '../../server/commerce/gateway.ts'
import { endSubscription, useCard } from '../../server/commerce/laterPayments.ts'
import { orderPath, readOrder } from '../../server/commerce/orderLinks.ts'
import { pauseSubscription, resumeSubscription } from '../../server/commerce/subscriptions.ts'
import { notFound, Problem } from '../../server/http/problems.ts'
import type { Platform } from '../../server/platform.ts'
import { getBusiness } from '../../server/workspace/business.ts'
import type { Limits } from '../limits.ts'
import { sendNotice, sendPage } from '../respond.ts'
import { failureWords } from './failureWords.ts'
import { orderScript } from './orderScript.ts'

/** An order of which something is still to be paid. */
interface Running {
  order: number
  currency: string
  titles: string
  /** What is due next; null when nothing is. */
  next: { total: number; at: Date } | null
  /** It goes on until somebody ends it. */
  renews: boolean
  ended: boolean
  pausedUntil: Date | null
  /** Of the business. */
  zone: string
}

async function runningOf({ database: q, signer, clock }: Platform, token: string): Promise<Running> {
  const order = readOrder({ signer }, token)
  const row =
    order === null
      ? undefined
      : await q.row<Omit<Running, 'order' | 'next' | 'zone'> & { total: number | null; at: Date | null }>(
          `select currency, (select string_agg(title, ', ' order by n) from order_line where order_id = $1) titles,
             exists (select from order_line where order_id = $1 and renews is not null) renews,
             ended_at is not null ended, case when paused_until > $2 then paused_until end "pausedUntil", due.total, due.due_at at
           from customer_order left join lateral (select total, due_at from payment
             where order_id = $1 and n > 0 and state in ('due', 'failed') order by due_at limit 1) due on true
           where id = $1 and customer_order.state = 'paid'`,
          [order, new Date(clock.now())],
        )
  if (!row || order === null) throw notFound('This order')
  const { total, at, ...rest } = row
  const { zone } = await getBusiness(q)
  return { ...rest, order, zone, next: total === null || at === null ? null : { total, at } }
}

/** So many months a buyer can let a subscription rest. */
const rests = [1, 2, 3] as const

const restHtml = ({ pausedUntil, zone }: Running): Html =>
  pausedUntil === null
    ? html`<h2>Let it rest</h2>
        <p>Nothing is taken meanwhile; afterwards it goes on by itself.</p>
        <form method="post" data-rest>
          <label for="months">For</label>
          <select id="months" name="months">
            ${rests.map((months) => html`<option value="${months}">${months === 1 ? 'one month' : `${months} months`}</option>`)}
          </select>
          <button name="do" value="pause">Let it rest</button>
        </form>`
    : html`<h2>It rests</h2>
        <p>Until ${dayWords(pausedUntil, zone)}.</p>
        <form method="post" data-rest>
          <button name="do" value="resume">Go on now</button>
        </form>`

const endsHtml = (running: Running): Html | false =>
  !running.ended &&
  html`${restHtml(running)}
    <h2>Stop it</h2>
    <p>Nothing more is taken from then on. What you have paid for stays yours.</p>
    <form method="post" data-end>
      <button name="do" value="end">End the subscription</button>
    </form>`

/** Where a buyer gives another card, or ends a subscription. */
export function cardRoutes(platform: Platform, limits: Limits): Router {
  const { database: q, clock, settings } = platform
  const routes = Router()
  const gateway = gatewayOf(settings)

  async function show(request: Request, response: Response, fault: string, status = 200): Promise<void> {
    const running = await runningOf(platform, String(request.params.token))
    const { name, postalAddress } = await getBusiness(q)
    const session = randomUUID()
    const fields = gateway.cardFields(session)
    const due = running.next && moneyWords({ amount: running.next.total, currency: running.currency })
    sendPage(
      response,
      {
        title: 'Your card',
        business: name,
        foot: `${name}, ${postalAddress}`,
        unlisted: true,
        card: { origin: new URL(fields).origin, scriptUrl: orderScript.path },
        body: html`<h1>Your card</h1>
          <p>It pays for ${running.titles}${due !== null && html`: next ${due}`}.</p>
          ${fault && html`<p class="fault" role="alert">${fault}</p>`}
          <form method="post" data-order>
            <iframe src="${fields}" title="Your card" data-card></iframe>
            <input type="hidden" name="session" value="${session}" />
            <button name="do" value="card" data-pay>Use this card</button>
          </form>
          ${running.renews && endsHtml(running)}`,
      },
      status,
    )
  }

  /** Takes the card that was typed: a charge of nothing proves it, and keeps it. */
  async function take(request: Request, response: Response, session: string): Promise<void> {
    const { order, currency } = await runningOf(platform, String(request.params.token))
    try {
      const charge = await gateway.charge({
        key: `card ${order} ${session}`,
        amount: 0,
        currency,
        session,
        method: null,
        returnUrl: `${settings.publicUrl}${orderPath(platform, order)}/card`,
      })
      const { method, failure } = charge
      if (method === null) {
        await show(request, response, failureWords(failure ?? 'noCard') ?? '', 422)
        return
      }
      await q.inTransaction((tx) => useCard(tx, order, method, new Date(clock.now())))
      sendNotice(
        response,
        200,
        'Thank you',
        'From now on this card pays. If something was due, it is taken now.',
      )
    } catch (error) {
      const isGateway =
        error instanceof GatewayAway || error instanceof GatewaySilent || error instanceof GatewayRefuses
      if (!isGateway) throw error
      await show(request, response, failureWords('away') ?? '', 503)
    }
  }

  /** Lets the subscription rest for some months from the next payment on, or has it go on. */
  async function rest(
    request: Request,
    response: Response,
    body: { do?: unknown; months?: unknown },
  ): Promise<void> {
    const { order, next, zone } = await runningOf(platform, String(request.params.token))
    const now = new Date(clock.now())
    try {
      if (body.do === 'resume') {
        await q.inTransaction((tx) => resumeSubscription(tx, order, now))
        sendNotice(response, 200, 'It goes on', 'The next payment is taken now.')
        return
      }
      const months = rests.find((each) => each === Number(body.months)) ?? 1
      const until = DateTime.fromJSDate(next?.at ?? now, { zone })
        .plus({ months })
        .toJSDate()
      await q.inTransaction((tx) => pauseSubscription(tx, order, until, now))
      sendNotice(
        response,
        200,
        'It rests',
        `Nothing is taken until ${dayWords(until, zone)}. Then it goes on by itself.`,
      )
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      await show(request, response, error.message, error.status)
    }
  }

  routes.get('/order/:token/card', limits.source, (request, response) => show(request, response, ''))
  routes.post(
    '/order/:token/card',
    limits.source,
    urlencoded({ extended: false, limit: '2kb' }),
    async (request, response) => {
      const body = (request.body ?? {}) as { do?: unknown; session?: unknown; months?: unknown }
      if (body.do === 'pause' || body.do === 'resume') await rest(request, response, body)
      else if (body.do === 'end') {
        const { order } = await runningOf(platform, String(request.params.token))
        await q.inTransaction((tx) => endSubscription(tx, order, 'buyer', new Date(clock.now())))
        sendNotice(response, 200, 'It has ended', 'Nothing more is taken from your card.')
      } else if (typeof body.session === 'string' && /^[0-9a-f-]{36}$/.test(body.session))
        await take(request, response, body.session)
      else await show(request, response, failureWords('noCard') ?? '', 422)
    },
  )
  return routes
}
