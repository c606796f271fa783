import type { FunnelRow } from '../../contract/funnels.ts'
import { moneyOfFunnels } from '../commerce/moneyIn.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { getBusiness } from '../workspace/business.ts'
import { funnelColumns, type Funnel } from './funnels.ts'

const day = 86_400_000
const month = 30 * day
const trendDays = 14

type Row = Funnel & { visitors: number; contacts: number; trend: number[] }

/** Every funnel with its last 30 days, the one changed last first. */
export async function listFunnels({ database, clock }: Platform): Promise<FunnelRow[]> {
  const now = clock.now()
  const rows = await database.rows<Row>(
    // Visits and forms are gone through once, however many funnels they belong to. A visitor is of one day: what tells
    // a browser again is forgotten with it.
    `with line as (
       select id, greatest($1::timestamptz, coalesce(counted_since, $1)) since,
         array(select (each->>'page')::bigint from jsonb_array_elements(stations) each where each->>'kind' = 'page') || array(select (each->'other'->>'page')::bigint from jsonb_array_elements(stations) each where each ? 'other') pages
       from funnel),
     came as (
       select page_id, visitor, max(at) at from visit
       where at >= $1 and page_id in (select pages[1] from line) group by 1, 2),
     sent as (
       select (details->>'page')::bigint page_id, contact_id, max(at) at from activity
       join contact on contact.id = contact_id and not rehearsal
       where kind = 'formSent' and at >= $1 group by 1, 2)
     select ${funnelColumns}, line.visitors, line.contacts, line.trend
     from funnel join (
       select line.id,
         (select count(*)::int from came where page_id = pages[1] and at >= since) visitors,
         (select count(distinct contact_id)::int from sent where page_id = any(pages) and at >= since) contacts,
         array(select (select count(*)::int from came where page_id = pages[1] and at >= since
             and at > $2::timestamptz - (back + 1) * interval '1 day' and at <= $2::timestamptz - back * interval '1 day')
           from generate_series($3::int - 1, 0, -1) back) trend
       from line) line on line.id = funnel.id
     order by changed_at desc, funnel.id`,
    [new Date(now - month), new Date(now), trendDays],
  )
  const sold = await moneyOfFunnels(database, new Date(now - month))
  const { currency } = await getBusiness(database)
  const moneyOf = (id: number): FunnelRow['money'] => {
    const sum = sold.get(id)
    return sum ? { currency, ...sum } : null
  }
  return rows.map(({ id, name, goal, labels, line, state, visitors, contacts, trend, changedAt }) => ({
    id,
    name,
    goal,
    labels,
    state,
    stations: line.length,
    visitors,
    contacts,
    money: moneyOf(id),
    trend,
    changedAt: changedAt.toISOString(),
  }))
}

/** A live funnel in which the last look found errors. */
export interface FaultyFunnel {
  id: number
  name: string
  faults: number
}

export const listFaultyFunnels = (q: Queries): Promise<FaultyFunnel[]> =>
  q.rows<FaultyFunnel>(
    `select id, name, faults from funnel
     where faults > 0 and live_at is not null and archived_at is null order by lower(name), id`,
  )
