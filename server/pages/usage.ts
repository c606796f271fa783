import type { SiteSettings } from '../../core/pages/site.ts'
import type { Queries } from '../database/connect.ts'
import { getBusiness } from '../workspace/business.ts'

/** Where a document names things of a kind, as SQL/JSON paths (ISO/IEC 9075-2): each page is looked through once. */
const mentions = {
  page: [
    '$.** ? (@.to == "page").page',
    '$.** ? (@.get == "page").page',
    '$.** ? (@.does == "openPage").page',
    '$.document.**.termsPage',
  ],
  file: [
    '$.** ? (@.to == "file").file',
    '$.** ? (@.from == "file").file',
    '$.**.captions',
    '$.** ? (@.does == "sendFile").file',
  ],
  picture: ['$.**.picture', '$.**.poster', '$.**.logo', '$.icon', '$.pictures[*] ? (@.type() == "number")'],
  form: ['$.document.**.form', '$.address.form', '$.strangers.form'],
  popUp: ['$.** ? (@.to == "popUp").popUp'],
  namedLink: ['$.** ? (@.to == "link").link'],
  junction: ['$.** ? (@.to == "junction").junction'],
  quiz: ['$.** ? (@.to == "quiz").quiz', '$.document.** ? (@.kind == "quiz").quiz'],
  product: [
    '$.** ? (@.to == "product").product',
    '$.document.**.offers[*].product',
    '$.document.**.extra.product',
    '$.document.**.offer.product',
    '$.prices[*].products[*]',
  ],
} as const
export type UsedKind = keyof typeof mentions

/** What else names a thing besides pages and the site. */
const alsoNaming: Record<UsedKind, string> = {
  page: `union all select 'follow-up ' || name, jsonb_path_query(program, '$.startsWhen[*].page') from followup
    union all select 'funnel ' || name, jsonb_path_query(stations, '$.**.page') from funnel where archived_at is null
    union all select 'funnel ' || name, jsonb_path_query(settings, '$.**.page') from funnel where archived_at is null`,
  // Mail that was sent leads on, also by links that were taken out since.
  file: `union all select 'mail that was sent of ' || name, target->'file' from email join email_link on email.id = email_id and gone`,
  picture: `union all select 'shared detail ' || name, content->'picture' from shared_detail
    union all select 'funnel ' || name, settings->'icon' from funnel where archived_at is null`,
  form: `union all select 'follow-up ' || name, jsonb_path_query(program, '$.startsWhen[*].form') from followup`,
  popUp: '',
  namedLink: `union all select 'mail that was sent of ' || name, target->'link' from email join email_link on email.id = email_id and gone`,
  junction: `union all select 'named link ' || name, target->'junction' from named_link
    union all select 'mail that was sent of ' || name, target->'junction' from email join email_link on email.id = email_id and gone
    union all select 'funnel ' || name, jsonb_path_query(stations, '$.**.junction') from funnel where archived_at is null
    union all select 'funnel ' || name, jsonb_path_query(settings, '$.**.junction') from funnel where archived_at is null
    union all select 'follow-up ' || name, jsonb_path_query(program, '$.startsWhen[*].junction') from followup`,
  quiz: `union all select 'named link ' || name, target->'quiz' from named_link
    union all select 'mail that was sent of ' || name, target->'quiz' from email join email_link on email.id = email_id and gone
    union all select 'funnel ' || name, jsonb_path_query(stations, '$.**.quiz') from funnel where archived_at is null
    union all select 'funnel ' || name, jsonb_path_query(settings, '$.**.quiz') from funnel where archived_at is null
    union all select 'follow-up ' || name, jsonb_path_query(program, '$.startsWhen[*].quiz') from followup`,
  product: `union all select 'named link ' || name, target->'product' from named_link
    union all select 'mail that was sent of ' || name, target->'product' from email join email_link on email.id = email_id and gone
    union all select 'follow-up ' || name, jsonb_path_query(program, '$.startsWhen[*].product') from followup`,
}

/** The things of a kind that the site settings name. */
const ofTheSite: Record<UsedKind, (site: Partial<SiteSettings>) => (number | null | undefined)[]> = {
  page: ({ notFoundPage, privacyPage }) => [notFoundPage, privacyPage],
  picture: ({ favicon, sharingPicture }) => [favicon, sharingPicture],
  file: () => [],
  form: () => [],
  popUp: () => [],
  namedLink: () => [],
  junction: () => [],
  quiz: () => [],
  product: () => [],
}

/** What is live and what is being written of everything that has versions, as `document (place, content)`. */
export const currentDocuments = [
  ...(['page', 'form', 'pop_up', 'email', 'junction', 'quiz', 'product'] as const).map(
    (table) => `current_${table} as (
      select distinct on (${table}.id, is_live) ${table}.name, content, number = published_version is_live
      from ${table} join ${table}_version on ${table}_id = ${table}.id and number >= coalesce(published_version, 0)
      order by ${table}.id, is_live, number desc)`,
  ),
  `document as (
    select 'page ' || name place, content from current_page
    union all select 'form ' || name, content from current_form
    union all select 'pop-up ' || name, content from current_pop_up
    union all select 'email ' || name, content from current_email
    union all select 'junction ' || name, content from current_junction
    union all select 'quiz ' || name, content from current_quiz
    union all select 'product ' || name, content from current_product
    union all select 'brand', brand from business where brand is not null)`,
].join(',\n')

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
    `with ${currentDocuments},
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
