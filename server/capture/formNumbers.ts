import type { FormNumbers, FormRow } from '../../contract/forms.ts'
import { describeAsked } from '../../core/capture/describeForm.ts'
import { formContent, type FormContent } from '../../core/capture/form.ts'
import { openFields } from '../audience/describing/fields.ts'
import type { Queries } from '../database/connect.ts'
import { usesOf } from '../pages/usage.ts'
import type { ThingState } from '../../contract/drafts.ts'

const month = 30 * 86_400_000

/**
 * Where each form was seen, begun and sent since $1. A page that shows a form is seen when it is visited; pop-ups and
 * other sites tell by themselves. `$2` is one form, or null for all.
 */
const placesSql = `
  with shown as (
    select distinct page.id page_id, page.name, (block->>'form')::bigint form_id
    from page join page_version on page_id = page.id and number = published_version
    cross join lateral jsonb_path_query(content, '$.document.sections[*].columns[*].blocks[*] ? (@.kind == "form")') block
    where jsonb_typeof(block->'form') = 'number'
  ),
  seen as (
    select form_id, 'page ' || page_id place, (select count(distinct visitor) from visit
      where visit.page_id = shown.page_id and at > $1) seen, 0::bigint begun, 0::bigint sent from shown
    union all
    select form_id, place, sum(seen), sum(begun), 0 from form_count where day >= $1::date group by 1, 2
    union all
    select (details->>'form')::bigint, coalesce('page ' || (details->>'page'), 'pop-up ' || (details->>'popUp'), details->>'site', ''), 0, 0,
      count(distinct contact_id)
    from activity join contact on contact.id = contact_id and not rehearsal
    where kind = 'formSent' and at > $1 and details ? 'form' group by 1, 2
  )
  select form_id form, coalesce(page.name, 'pop-up ' || pop_up.name, nullif(place, ''), 'elsewhere') place, sum(seen)::int seen, sum(begun)::int begun,
    sum(sent)::int sent
  from seen left join page on place = 'page ' || page.id left join pop_up on place = 'pop-up ' || pop_up.id
  where form_id = coalesce($2::bigint, form_id) group by 1, 2 order by 1, seen desc, 2`

interface PlaceRow {
  form: number
  place: string
  seen: number
  begun: number
  sent: number
}

interface Row {
  id: number
  name: string
  state: ThingState
  hasDraft: boolean
  content: FormContent
  changedAt: Date
  waiting: number
}

/** Every form with its numbers of the last 30 days, the one changed last first. */
export async function listForms(q: Queries, now: number): Promise<FormRow[]> {
  const rows = await q.rows<Row>(
    `select form.id, name,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       published_version is not null and newest.number > published_version "hasDraft", newest.content,
       newest.made_at "changedAt",
       (select count(distinct contact_id) from confirmation where form_id = form.id and confirmed_at is null) waiting
     from form join lateral (select number, content, made_at from form_version where form_id = form.id
       order by number desc limit 1) newest on true
     order by newest.made_at desc, form.id`,
  )
  const places = await q.rows<PlaceRow>(placesSql, [new Date(now - month), null])
  const fields = await openFields(q)
  const uses = await usesOf(
    q,
    'form',
    rows.map(({ id }) => id),
  )
  return rows.map(({ changedAt, content: stored, ...row }) => {
    const content = formContent.parse(stored)
    const of = places.filter(({ form }) => form === row.id)
    return {
      ...row,
      asks: describeAsked(content, fields),
      confirm: content.confirm.when,
      seen: of.reduce((sum, { seen }) => sum + seen, 0),
      sent: of.reduce((sum, { sent }) => sum + sent, 0),
      usedIn: uses.get(row.id) ?? [],
      changedAt: changedAt.toISOString(),
    }
  })
}

/** How a form does by place, and how its double opt-in does by where people came from. */
export async function formNumbers(q: Queries, form: number, now: number): Promise<FormNumbers> {
  const places = await q.rows<PlaceRow>(placesSql, [new Date(now - month), form])
  const confirmations = await q.rows<FormNumbers['confirmations'][number]>(
    `with asked as (
       select coalesce(confirmation.site, confirmation.source->>'utm_source', '') source, confirmed_at, asked_at, clicks
       from confirmation join contact on contact.id = contact_id and not rehearsal where form_id = $1
     ),
     forgotten as (select source, sum(people) people from confirmation_forgotten where form_id = $1 group by 1)
     select source, coalesce(count(asked.asked_at), 0)::int + coalesce(max(people), 0)::int asked,
       count(confirmed_at)::int confirmed, coalesce(sum(clicks), 0)::int clicks, coalesce(max(people), 0)::int forgotten,
       (extract(epoch from percentile_cont(0.5) within group (order by confirmed_at - asked_at)) * 1000)::float8 median
     from asked full join forgotten using (source) group by source order by 2 desc, 1`,
    [form],
  )
  return { places: places.map(({ form: _form, ...place }) => place), confirmations }
}
