import { stringify } from 'csv-stringify/sync'
import type { Selection } from '../../../contract/audience/people.ts'
import type { Instant } from '../../../core/audience/people/activity.ts'
import { formatFieldValue, type FieldValue } from '../../../core/audience/describing/field.ts'
import { marketingStateWords, type MarketingState } from '../../../core/audience/people/permission.ts'
import { createBinds } from '../../database/binds.ts'
import type { Queries } from '../../database/connect.ts'
import { openFields } from '../describing/fields.ts'
import { selectionSql } from './contactList.ts'

/** People read at a time: an export holds no more in memory, however long it is. */
const batch = 2_000

/** The longest that one batch may take to be read. */
const longestRead = '2min'

/**
 * What a spreadsheet may take for the beginning of a formula: at the beginning of a cell, and after anything at which
 * some spreadsheet begins a new cell, because it was told of another separator than ours (OWASP, "CSV Injection").
 */
const formulaBegins = /(^|[,;\t\r\n|"'])(\s*)(?=[=+\-@＝＋－＠])/g

/**
 * Lines of CSV as RFC 4180 has them, with CRLF. Every field that holds a separator of any usual spreadsheet is quoted,
 * and what would be a formula there gets an apostrophe before it, which makes it text.
 */
export function csvLines(rows: readonly (readonly (string | number)[])[]): string {
  const cells = rows.map((row) =>
    row.map((cell) => (typeof cell === 'string' ? cell.replace(formulaBegins, "$1$2'") : cell)),
  )
  return stringify(cells, { record_delimiter: '\r\n', quoted_match: /[,;\t|"'\r\n]/ })
}

interface ExportRow {
  address: string
  first_name: string
  last_name: string
  marketing_state: MarketingState
  phone: string | null
  country: string | null
  language: string | null
  zone: string | null
  created_at: Date
  fields: Record<string, FieldValue>
  source: Record<string, string>
  tags: string[]
}

/**
 * The people who are meant, in the order of their ids, batch after batch: who is meant is worked out once, however
 * many batches there are, and what changes meanwhile is not seen. Lasts as long as the transaction of `q`.
 * @throws Problem 409
 */
async function* batches(q: Queries, who: Selection, now: Instant): AsyncGenerator<ExportRow[]> {
  const binds = createBinds()
  const meant = await selectionSql(q, who, binds, now)
  // The planner takes a cursor for something of which the first tenth is read.
  await q.rows('set local cursor_tuple_fraction = 1')
  // A file that is saved may take longer than an answer on a screen.
  await q.rows(`set local statement_timeout = '${longestRead}'`)
  await q.rows(
    `declare exported no scroll cursor for ${binds.with}
     select c.address, c.first_name, c.last_name, c.marketing_state, c.phone, c.country, c.language, c.zone,
       c.created_at, c.fields, c.source,
       array(select tag.name from contact_tag join tag on tag.id = tag_id where contact_id = c.id order by tag.name) tags
     from contact c where ${meant} order by c.id`,
    binds.values,
  )
  for (;;) {
    const rows = await q.rows<ExportRow>(`fetch ${batch} from exported`)
    if (rows.length === 0) return
    yield rows
  }
}

/** The people who are meant as CSV, piece by piece. */
export async function* exportCsv(q: Queries, who: Selection, now: Instant): AsyncGenerator<string> {
  const fields = await openFields(q)
  const names = [
    'Email',
    'First name',
    'Last name',
    'Marketing',
    'Phone',
    'Country',
    'Language',
    'Time zone',
    'Joined',
    'Tags',
  ]
  let head = csvLines([[...names, ...fields.map(({ name }) => name)]])
  for await (const rows of batches(q, who, now)) {
    const lines = rows.map((row) => [
      row.address,
      row.first_name,
      row.last_name,
      marketingStateWords[row.marketing_state],
      row.phone ?? '',
      row.country ?? '',
      row.language ?? '',
      row.zone ?? '',
      row.created_at.toISOString(),
      row.tags.join('; '),
      ...fields.map((field) => formatFieldValue(field, row.fields[field.id])),
    ])
    yield head + csvLines(lines)
    head = ''
  }
  if (head !== '') yield head
}

/** The people who are meant as JSON, a line each, piece by piece. */
export async function* exportJsonLines(q: Queries, who: Selection, now: Instant): AsyncGenerator<string> {
  const fields = await openFields(q)
  for await (const rows of batches(q, who, now))
    yield rows
      .map((row) =>
        JSON.stringify({
          address: row.address,
          firstName: row.first_name,
          lastName: row.last_name,
          marketing: row.marketing_state,
          phone: row.phone,
          country: row.country,
          language: row.language,
          zone: row.zone,
          cameIn: row.created_at.toISOString(),
          source: row.source,
          tags: row.tags,
          fields: Object.fromEntries(
            fields
              .filter(({ id }) => row.fields[id] !== undefined)
              .map(({ id, name }) => [name, row.fields[id]]),
          ),
        }),
      )
      .map((line) => `${line}\n`)
      .join('')
}

/** Everything that is stored of one person, for themselves: data, consents, tags, topics and history. */
export async function dataOf(q: Queries, contact: number): Promise<Record<string, unknown> | undefined> {
  return q.row<Record<string, unknown>>(
    `select address, first_name "firstName", last_name "lastName", phone, country, language, zone, source,
       marketing_state marketing, created_at "cameIn",
       (select coalesce(json_object_agg(field.name, c.fields->field.id::text), '{}') from field
         where c.fields ? field.id::text) fields,
       array(select address from other_address where contact_id = c.id) "otherAddresses",
       (select coalesce(json_agg(json_build_object('tag', tag.name, 'since', added_at, 'by', added_by) order by added_at), '[]')
         from contact_tag join tag on tag.id = tag_id where contact_id = c.id) tags,
       (select coalesce(json_agg(json_build_object('topic', topic.name, 'agreed', agreed, 'since', at) order by at), '[]')
         from contact_topic join topic on topic.id = topic_id where contact_id = c.id) topics,
       (select coalesce(json_agg(json_build_object('at', at, 'given', given, 'wording', wording, 'source', source, 'site', site, 'formVersion', form_version,
           'networkAddress', host(sender_ip), 'confirmedAt', confirmed_at) order by at), '[]')
         from consent where contact_id = c.id) consents,
       (select coalesce(json_agg(json_build_object('at', at, 'kind', kind, 'details', details) order by at), '[]')
         from activity where contact_id = c.id) history
     from contact c where id = $1`,
    [contact],
  )
}
