import { ensureActivityMonths } from '../../server/database/migrate.ts'
import type { Queries } from '../../server/database/connect.ts'

/** Days over which visits are spread: longer ago they are forgotten. */
const days = 400
/** Of a hundred visits so many are to the pages of the funnel. */
const ofFunnel = 10

/**
 * People, and visits of browsers that look at up to five pages one after the other on one day; one browser of ten is
 * that of a known person. In SQL, from hashes: the same size gives the same visits.
 */
export async function fillWithVisits(
  q: Queries,
  {
    people,
    visits,
    pages,
    others,
    now,
  }: { people: number; visits: number; pages: number[]; others: number[]; now: number },
): Promise<void> {
  await q.rows(
    `insert into contact (address, address_key, first_name, marketing_state, created_at, updated_at)
     select a, a, 'Ada', 'subscribed', $2::timestamptz, $2 from (
       select 'reader' || i || '@postbox.test' a from generate_series(1, $1::bigint) i) t`,
    [people, new Date(now - days * 86_400_000)],
  )
  // Half of those at a page go on to the next: 1.94 pages a browser.
  const browsers = Math.round(visits / 1.94)
  const batch = 1_000_000
  for (let from = 1; from <= browsers; from += batch)
    await q.rows(
      `insert into visit (page_id, at, visitor, contact_id, device, source)
       select route[1 + step], began + step * interval '1 minute', decode(lpad(to_hex(i), 16, '0'), 'hex'), contact, 'phone', '{}'
       from (select i, case when h % 100 < $6 then $1::bigint[]
             else (array(select unnest($2::bigint[]) offset (h / 100) % 30 limit 5)) end as route,
           $3::timestamptz - make_interval(secs => ($8::bigint - i) * (400.0 * 86400 / $8)) as began,
           case when i % 10 = 0 then (select min(id) from contact) + h % $7 end as contact,
           abs(hashint8(i * 31)::bigint) as coin
         from (select i, abs(hashint8(i)::bigint) * 2147 + abs(hashint8(i * 7)::bigint) % 2147 h
           from generate_series($4::bigint, $5::bigint) i) hashed) browser,
         generate_series(0, 4) step
       where step = 0 or coin % (1 << step) = 0`,
      [pages, others, new Date(now), from, Math.min(browsers, from + batch - 1), ofFunnel, people, browsers],
    )
  // Three of ten came by a form of its first page.
  await ensureActivityMonths(q, now, 15)
  await q.rows(
    `insert into activity (contact_id, kind, details, at)
     select id, 'formSent', jsonb_build_object('page', $1::bigint, 'form', 1),
       $2::timestamptz - make_interval(secs => abs(hashint8(id)::bigint) % 34560000)
     from contact where id % 10 < 3`,
    [pages[0], new Date(now)],
  )
  await q.rows('vacuum analyze')
  await q.rows('checkpoint')
}
