import type { FunnelRow } from '../../contract/funnels.ts'
import type { Platform } from '../platform.ts'
import { funnelColumns, type Funnel } from './funnels.ts'

const day = 86_400_000
const month = 30 * day
const trendDays = 14

type Row = Funnel & { visitors: number; contacts: number; trend: number[] }

/** Every funnel with its last 30 days, the one changed last first. */
export async function listFunnels({ database, clock }: Platform): Promise<FunnelRow[]> {
  const now = clock.now()
  const rows = await database.rows<Row>(
    `select ${funnelColumns}, coalesce(came.visitors, 0) visitors, coalesce(took.contacts, 0) contacts, came.trend
     from funnel
     cross join lateral (select greatest($1, coalesce(counted_since, $1)) since,
       array(select (each->>'page')::bigint from jsonb_array_elements(stations) each where each->>'kind' = 'page') pages) of
     cross join lateral (
       select count(distinct visitor)::int visitors,
         array(select (select count(distinct visitor)::int from visit
             where page_id = of.pages[1] and at >= of.since
               and at > $2::timestamptz - (back + 1) * interval '1 day' and at <= $2::timestamptz - back * interval '1 day')
           from generate_series($3::int - 1, 0, -1) back) trend
       from visit where page_id = of.pages[1] and at >= of.since) came
     cross join lateral (
       select count(distinct contact_id)::int contacts from activity
       join contact on contact.id = contact_id and not rehearsal
       where kind = 'formSent' and at >= of.since and (details->>'page')::bigint = any(of.pages)) took
     order by changed_at desc, funnel.id`,
    [new Date(now - month), new Date(now), trendDays],
  )
  return rows.map(({ id, name, goal, labels, line, state, visitors, contacts, trend, changedAt }) => ({
    id,
    name,
    goal,
    labels,
    state,
    stations: line.length,
    visitors,
    contacts,
    trend,
    changedAt: changedAt.toISOString(),
  }))
}
