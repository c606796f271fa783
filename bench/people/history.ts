import { ensureActivityMonths } from '../../server/database/migrate.ts'
import type { TestInstall } from '../../testing/install.ts'

/**
 * Fills an install with people, three tags and ten activities a person over 14 months. In SQL, from hashes: the same
 * size gives the same people, and ten million rows are there in minutes.
 */
export async function fillWithHistory({ platform }: TestInstall, people: number): Promise<void> {
  const q = platform.database
  const now = new Date(platform.clock.now())
  await ensureActivityMonths(q, platform.clock.now(), 15)
  await q.rows('truncate contact, contact_tag cascade')
  await q.rows(`insert into tag (name, created_at) select 'Tag ' || i, now() from generate_series(1, 40) i`)
  await q.rows(
    `insert into contact (address, address_key, first_name, last_name, country, marketing_state, created_at, updated_at)
     select a, a, f, l, c, s, at, at from (
       select f, l, lower(f || '.' || l || '.' || i || '@postbox.test') a,
         (array['IE', 'GB', 'US', 'DE', 'FR'])[1 + i % 5] c,
         case when i % 20 = 0 then 'unsubscribed' else 'subscribed' end s,
         $2::timestamptz - make_interval(secs => abs(hashint8(i)::bigint) % 36000000) as at
       from (select i, (array['Ada', 'Aoife', 'Bram', 'Clio', 'Dov', 'Elif', 'Femi', 'Greta', 'Hugo', 'Imre', 'Juno'])[1 + abs(hashint8(i)::bigint) % 11] f,
         (array['Alder', 'Barrow', 'Copperleaf', 'Dunmore', 'Fairburn', 'Greyling', 'Hawkmoor', 'Larkhill', 'Marlowe', 'Oakhurst', 'Rookwood', 'Wolder', 'Yarrowby'])[1 + abs(hashint8(i * 7)::bigint) % 13] l
         from generate_series(1, $1::bigint) i) names) t`,
    [people, now],
  )
  await q.rows(
    `insert into contact_tag (contact_id, tag_id, added_at, added_by)
     select id, (select min(id) from tag) + (abs(hashint8(id * 3 + k)::bigint) % 13) + 13 * k, created_at, 'bench'
     from contact, generate_series(0, 2) k on conflict do nothing`,
  )
  const kinds = `(array['emailSent', 'emailSent', 'emailSent', 'emailSent', 'emailOpened', 'emailOpened', 'emailOpened', 'emailClicked', 'pageVisited', 'formSent'])`
  await q.rows(
    `insert into activity (contact_id, kind, details, at)
     select id, ${kinds}[1 + k], case when k >= 8 then jsonb_build_object('page', $1::bigint)
         else jsonb_build_object('email', (select min(id) from email) + abs(hashint8(id + k)::bigint) % 4, 'message', id, 'link', 1) end,
       $2::timestamptz - make_interval(secs => abs(hashint8(id * 11 + k)::bigint) % 36000000)
     from contact, generate_series(0, 9) k`,
    [1, now],
  )
  await q.rows('vacuum analyze')
  // What was filled in is on the disk before anything is measured; else its writing is measured too.
  await q.rows('checkpoint')
}
