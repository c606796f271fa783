import { gatewayEvent, type GatewayEvent } from '../../contract/gateway.ts'
import type { Platform } from '../platform.ts'
import { noteDispute } from './disputes.ts'
import { nextLook, paymentOfCharge, settle } from './taking.ts'

/** Events that one look does. */
const mostAtOnce = 200

/** Keeps what the gateway tells, once and durably: what it means is done soon after, so that it has its answer at once. */
export async function keepEvent(
  { database, clock }: Platform,
  id: string,
  event: GatewayEvent,
): Promise<void> {
  await database.prepared.rows(
    `insert into gateway_event (id, received_at, look_at, content) values ($1, $2, $2, $3) on conflict do nothing`,
    [id, new Date(clock.now()), JSON.stringify(event)],
  )
}

async function takeEvent(platform: Platform, payment: number, { type, data }: GatewayEvent): Promise<void> {
  if (type === 'charge.disputed') await noteDispute(platform, payment)
  else await settle(platform, payment, data)
}

/**
 * Does what the gateway has told of charges: mostly their answers have told it before. What is not ours is passed over;
 * what fails is tried again.
 */
export async function takeEvents(platform: Platform): Promise<void> {
  const { database: q, clock, log } = platform
  const now = clock.now()
  const kept = await q.rows<{ id: string; content: unknown }>(
    `update gateway_event set look_at = $2 where id in (
       select id from gateway_event where look_at <= $1 order by look_at limit $3 for update skip locked)
     returning id, content`,
    [new Date(now), new Date(now + nextLook), mostAtOnce],
  )
  if (kept.length === 0) return
  const events = kept.flatMap(({ id, content }) => {
    const { data: event, error } = gatewayEvent.safeParse(content)
    if (error) log.warn({ err: error, event: id }, 'an event of the gateway cannot be read')
    return event ? [{ id, event, payment: paymentOfCharge(event.data) }] : []
  })
  const found = await q.rows<{ id: number; state: string }>(
    'select id, state from payment where id = any($1::bigint[])',
    [events.map(({ payment }) => payment)],
  )
  const states = new Map(found.map(({ id, state }) => [id, state]))
  const done: string[] = []
  for (const { id, event, payment } of events) {
    const state = payment === null ? undefined : states.get(payment)
    const isKnown = event.type === 'charge.changed' && event.data.state === 'paid' && state === 'paid'
    try {
      if (payment !== null && state !== undefined && !isKnown) await takeEvent(platform, payment, event)
      done.push(id)
    } catch (error) {
      log.warn({ err: error, event: id }, 'an event of the gateway will be looked at again')
    }
  }
  await q.rows('update gateway_event set look_at = null, content = null where id = any($1)', [done])
}
