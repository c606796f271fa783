import type { SiteSettings } from '../../core/pages/site.ts'
import type { Queries } from '../database/connect.ts'
import { getBusiness } from '../workspace/business.ts'

/** Where a document names things of a kind, as SQL/JSON paths (ISO/IEC 9075-2): each page is looked through once. */
const mentions = {
  page: ['$.** ? (@.to == "page").page', '$.** ? (@.get == "page").page'],
  file: ['$.** ? (@.to == "file").file', '$.** ? (@.from == "file").file', '$.**.captions'],
  picture: ['$.**.picture', '$.**.poster', '$.**.logo', '$.icon'],
} as const
export type UsedKind = keyof typeof mentions

/** What else names a thing besides pages and the site. */
const alsoNaming: Record<UsedKind, string> = {
  page: `union all select 'follow-up ' || name, jsonb_path_query(program, '$.startsWhen[*].page') from followup`,
  file: `union all select 'email ' || name, target->'file' from email join email_link on email.id = email_id`,
  picture: '',
}

/** The things of a kind that the site settings name. */
const ofTheSite: Record<UsedKind, (site: Partial<SiteSettings>) => (number | null | undefined)[]> = {
  page: ({ notFoundPage, privacyPage }) => [notFoundPage, privacyPage],
  picture: ({ favicon, sharingPicture }) => [favicon, sharingPicture],
  file: () => [],
}

/**
 * Where each of these things is used, in words, by id.
 * @param ids of things of that kind
 */
export async function usesOf(
  q: Queries,
  kind: UsedKind,
  ids: readonly number[],
): Promise<Map<number, string[]>> {
  const { site } = await getBusiness(q)
  const rows = await q.rows<{ id: number; usedIn: string[] }>(
    `with current as (
       select distinct on (page.id, is_live) page.name, content, number = published_version is_live
       from page join page_version on page_id = page.id and number >= coalesce(published_version, 0)
       order by page.id, is_live, number desc
     ),
     document as (
       select 'page ' || name place, content from current
       union all select 'brand', brand from business where brand is not null
     ),
     used (place, thing) as (
       select place, jsonb_path_query(content, path::jsonpath) from document, unnest($2::text[]) path
       union all select 'site settings', to_jsonb(id) from unnest($3::bigint[]) id
       ${alsoNaming[kind]}
     )
     select thing::bigint id, to_json(array_agg(distinct place order by place)) "usedIn" from used
     where jsonb_typeof(thing) = 'number' and thing = any(select to_jsonb(id) from unnest($1::bigint[]) id)
     group by thing`,
    [ids, mentions[kind], ofTheSite[kind](site)],
  )
  return new Map(rows.map(({ id, usedIn }) => [id, usedIn]))
}
