import type { SiteSettings } from '../../core/pages/site.ts'
import type { Queries } from '../database/connect.ts'
import { getBusiness } from '../workspace/business.ts'

/**
 * Kinds of things that pages speak of, with the JSON path by which a content names one (SQL/JSON, ISO/IEC 9075-2).
 * `$$` is how the driver is given a dollar sign.
 */
const mentions = {
  page: '$.** ? (@.to == "page" && @.page == $$id || @.get == "page" && @.page == $$id)',
  file: '$.** ? (@.to == "file" && @.file == $$id || @.from == "file" && (@.file == $$id || @.captions == $$id))',
  picture:
    '$.** ? (@.picture == $$id || @.poster == $$id || @.logo == $$id || @.favicon == $$id || @.sharingPicture == $$id)',
} as const
export type UsedKind = keyof typeof mentions

/** What else names a thing besides pages: places of the site, emails, follow-ups. */
const alsoNaming: Record<UsedKind, string> = {
  page: `union all select thing.id, 'follow-up ' || followup.name from thing join followup
           on jsonb_path_exists(followup.program, '$.startsWhen[*] ? (@.page == $$id)', jsonb_build_object('id', thing.id))`,
  file: `union all select distinct thing.id, 'email ' || email.name from thing join email_link
           on (target->>'file')::bigint = thing.id join email on email.id = email_id`,
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
    `with thing as (select unnest($1::bigint[]) id),
     current as (
       select distinct on (page.id, is_live) page.id, page.name, content, number = published_version is_live
       from page join page_version on page_id = page.id and number >= coalesce(published_version, 0)
       order by page.id, is_live, number desc
     ),
     used as (
       select thing.id, 'page ' || current.name as place from thing join current
         on jsonb_path_exists(content, '${mentions[kind]}', jsonb_build_object('id', thing.id))
       union select thing.id, 'brand' from thing join business
         on jsonb_path_exists(coalesce(brand, '{}'), '${mentions[kind]}', jsonb_build_object('id', thing.id))
       union select thing.id, 'site settings' from thing join business on thing.id = any($2::bigint[])
       ${alsoNaming[kind]}
     )
     select id, to_json(array_agg(distinct place order by place)) "usedIn" from used group by id`,
    [ids, ofTheSite[kind](site)],
  )
  return new Map(rows.map(({ id, usedIn }) => [id, usedIn]))
}
