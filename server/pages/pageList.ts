import type { PageRow } from '../../contract/pages.ts'
import type { PagePurpose } from '../../core/pages/page.ts'
import type { Platform } from '../platform.ts'
import { previewPath } from './previews.ts'
import { usesOf } from './usage.ts'

const month = 30 * 86_400_000

interface Row {
  id: number
  name: string
  path: string
  purpose: PagePurpose
  state: PageRow['state']
  hasDraft: boolean
  changedAt: Date
  visitors: number
  sent: number | null
  course: string | null
}

/** Every page with its numbers of the last 30 days, the one changed last first. */
export async function listPages(platform: Platform): Promise<PageRow[]> {
  const q = platform.database
  const since = new Date(platform.clock.now() - month)
  const rows = await q.rows<Row>(
    `with visitors as (
       select page_id, count(distinct visitor) count from visit where at > $1 group by page_id
     ),
     sent as (
       select (details->>'page')::bigint page_id, count(distinct contact_id) count
       from activity join contact on contact.id = contact_id and not rehearsal
       where kind = 'formSent' and at > $1 group by 1
     )
     select page.id, page.name, path, purpose,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       published_version is not null and newest.number > published_version "hasDraft", newest.made_at "changedAt",
       coalesce(visitors.count, 0) visitors, course.name course,
       case when jsonb_path_exists(newest.content, '$.document.sections[*].columns[*].blocks[*] ? (@.kind == "form")')
         then coalesce(sent.count, 0) end sent
     from page
     join lateral (select number, content, made_at from page_version where page_id = page.id
       order by number desc limit 1) newest on true
     left join visitors on visitors.page_id = page.id left join sent on sent.page_id = page.id
     left join course on course.id = course_id
     order by newest.made_at desc, page.id`,
    [since],
  )
  const uses = await usesOf(
    q,
    'page',
    rows.map(({ id }) => id),
  )
  return rows.map(({ changedAt, ...row }) => ({
    ...row,
    changedAt: changedAt.toISOString(),
    usedIn: uses.get(row.id) ?? [],
    preview: previewPath(platform, row.id),
  }))
}
