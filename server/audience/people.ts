import type { ContactList, ContactQuery, ContactRow, ContactSort, TagCount } from '../../contract/audience.ts'
import type { MarketingState } from '../../core/audience/permission.ts'
import type { Queries } from '../database/connect.ts'

const orders: Record<ContactSort, string> = {
  newest: 'created_at desc, id desc',
  oldest: 'created_at, id',
  name: "nullif(concat_ws(' ', first_name, last_name), '') nulls last, id",
  address: 'address_key, id',
}

/** A contact as lists read it. */
export interface Row {
  id: number
  first_name: string
  last_name: string
  address: string
  marketing_state: MarketingState
  country: string | null
  rehearsal: boolean
  created_at: Date
  tags: { id: number; name: string }[]
}

/** What `Row` is read from; `c` is the contact. */
export const contactRowColumns = `c.id, c.first_name, c.last_name, c.address, c.marketing_state, c.country,
  c.rehearsal, c.created_at,
  coalesce((select json_agg(json_build_object('id', tag.id, 'name', tag.name) order by added_at, tag.id)
    from contact_tag join tag on tag.id = tag_id where contact_id = c.id), '[]') tags`

export function viewContactRow(row: Row): ContactRow {
  return {
    id: row.id,
    name: `${row.first_name} ${row.last_name}`.trim(),
    address: row.address,
    marketingState: row.marketing_state,
    country: row.country,
    tags: row.tags,
    rehearsal: row.rehearsal,
    createdAt: row.created_at.toISOString(),
  }
}

/** `%` and `_` in what people type are letters, not wildcards. */
export function containing(typed: string): string {
  return `%${typed.replace(/[\\%_]/g, '\\$&')}%`
}

const found = `($1 = '%%' or address_key like lower($1) or (first_name || ' ' || last_name) ilike $1)
  and ($2::text is null or marketing_state = $2)
  and ($3::bigint is null or exists (select from contact_tag where contact_id = contact.id and tag_id = $3))
  and rehearsal = $4`

/** One page of the people who match, and how many match in all. */
export async function listContacts(q: Queries, query: ContactQuery): Promise<ContactList> {
  const bind = [containing(query.search), query.state ?? null, query.tag ?? null, query.rehearsal === 'only']
  const [total, rows] = await Promise.all([
    q.row<{ count: number }>(`select count(*) count from contact where ${found}`, bind),
    q.rows<Row>(
      // Tags are looked up for the page alone, not for everybody who matches.
      `select ${contactRowColumns} from (
         select * from contact where ${found} order by ${orders[query.sort]} limit $5 offset $6) c
       order by ${orders[query.sort]}`,
      [...bind, query.size, (query.page - 1) * query.size],
    ),
  ])
  return { total: total?.count ?? 0, rows: rows.map(viewContactRow) }
}

export function listTags(q: Queries): Promise<TagCount[]> {
  return q.rows<TagCount>(
    `select tag.id, tag.name, count(contact.id) people
     from tag left join contact_tag on tag_id = tag.id
     left join contact on contact.id = contact_id and not contact.rehearsal
     group by tag.id order by tag.name`,
  )
}
