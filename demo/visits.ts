import { chanceFrom } from '../core/chance.ts'
import type { Queries } from '../server/database/connect.ts'
import type { Story } from './story.ts'

const day = 86_400_000
const seed = 20261126

/** Visits of the last 30 days: strangers come on all days, more of them on Sundays and in the evening. */
export async function storeVisits(
  q: Queries,
  { templatePack, paperGrain, newsletter, site }: Story,
  now: number,
): Promise<void> {
  const chance = chanceFrom(seed)
  const usual = [
    { page: templatePack.page.id, perDay: 17 },
    { page: paperGrain.page, perDay: 2 },
    { page: site.journal, perDay: 6 },
    { page: newsletter.page, perDay: 7 },
  ]
  const rows = usual.flatMap(({ page, perDay }) =>
    Array.from({ length: 30 }, (_, back) => {
      const count = Math.round(perDay * (0.5 + chance.next()))
      return Array.from({ length: count }, () => ({
        page,
        at: new Date(now - back * day - chance.below(day)).toISOString(),
        visitor: Array.from({ length: 4 }, () =>
          chance
            .below(2 ** 32)
            .toString(16)
            .padStart(8, '0'),
        ).join(''),
        device: chance.weighted([
          ['phone', 6],
          ['computer', 3],
          ['tablet', 1],
        ]),
      }))
    }).flat(),
  )
  await q.rows(
    `insert into visit (page_id, at, visitor, device)
     select page, at, decode(visitor, 'hex'), device
     from jsonb_to_recordset($1) as row (page bigint, at timestamptz, visitor text, device text)`,
    [JSON.stringify(rows)],
  )
  await followOn(q, templatePack.page.id, 'template-pack/thanks', now)
  await followOn(q, paperGrain.page, 'paper-grain/three-tests', now)
  await cameBy(q, 'template-pack/file', 'fileDownloaded', {}, now)
  await cameBy(q, 'first-journal', 'productBought', {}, now)
}

/** Who sends a form was on its page a minute before, and sees the page behind it a moment later. */
async function followOn(q: Queries, form: number, path: string, now: number): Promise<void> {
  await q.rows(
    `insert into visit (page_id, at, visitor, contact_id, device)
     select page.id, activity.at + seen.after * interval '1 second', decode(md5(contact_id::text), 'hex'),
       case when seen.after > 0 then contact_id end, case when contact_id % 3 = 0 then 'computer' else 'phone' end
     from activity
     cross join (values ($1::bigint, -75), ((select id from page where path = $2), 2)) seen (page, after)
     join page on page.id = seen.page
     where kind = 'formSent' and (details->>'page')::bigint = $1 and activity.at between $3 and $4`,
    [form, path, new Date(now - 30 * day), new Date(now - 2_000)],
  )
}

/** Who did something had opened this page just before, by a link of their mail. */
async function cameBy(
  q: Queries,
  path: string,
  kind: string,
  details: Record<string, unknown>,
  now: number,
): Promise<void> {
  await q.rows(
    `insert into visit (page_id, at, visitor, contact_id, device)
     select page.id, activity.at - interval '20 seconds', decode(md5(contact_id || activity.at::date::text), 'hex'),
       contact_id, case when contact_id % 3 = 0 then 'computer' else 'phone' end
     from activity join page on path = $1 where kind = $2 and details @> $3 and activity.at between $4 and $5`,
    [path, kind, JSON.stringify(details), new Date(now - 30 * day), new Date(now)],
  )
}
