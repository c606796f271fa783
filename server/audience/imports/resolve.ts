import type { ImportChoices, ImportCounts } from '../../../contract/audience/imports.ts'
import type { Queries } from '../../database/connect.ts'
import { stageOf } from './stage.ts'
import { addressHashSql } from '../people/suppression.ts'

/** The table of the people of an import: each once, with who of the list they are. */
export const peopleOf = (id: number): string => `import_people_${id}`

/** Columns that an import can fill in, of text that is never null and of text that may be. */
const blankable = ['first_name', 'last_name'] as const
const nullable = ['phone', 'country', 'language', 'zone'] as const

/** Who said no, and whose address bounced, stays so whatever a file says; who says no now is taken off. */
const nextState: Record<ImportChoices['permission'], string> = {
  agreed: `case when c.marketing_state = 'neverAsked' then 'subscribed' else c.marketing_state end`,
  notAsked: 'c.marketing_state',
  refused: `case when c.marketing_state in ('subscribed', 'waiting', 'neverAsked') then 'unsubscribed'
    else c.marketing_state end`,
}

/** What each column of a known person `c` becomes by a line `p`, as SQL. */
export function nextValues(choices: ImportChoices): Record<string, string> {
  const update = choices.existing === 'update'
  const values: Record<string, string> = {}
  for (const name of blankable)
    values[name] = update
      ? `coalesce(p.${name}, c.${name})`
      : `case when c.${name} = '' then coalesce(p.${name}, '') else c.${name} end`
  for (const name of nullable)
    values[name] = update ? `coalesce(p.${name}, c.${name})` : `coalesce(c.${name}, p.${name})`
  values.fields = update ? 'c.fields || p.fields' : 'p.fields || c.fields'
  values.marketing_state = nextState[choices.permission]
  return values
}

/** Would a line `p` change a known person `c`? */
export function changesSql(choices: ImportChoices): string {
  const values = nextValues(choices)
  const columns = Object.keys(values)
  return `(${columns.map((name) => `c.${name}`).join(', ')}) is distinct from (${Object.values(values).join(', ')})`
}

/**
 * Makes out who the lines are about: the last line of each address, whether they are on the list, and whether they
 * are suppressed. New people get their ids here, so that nothing has to be looked up again.
 */
export async function resolvePeople(q: Queries, id: number, secret: string): Promise<void> {
  await q.rows(`drop table if exists ${peopleOf(id)}`)
  await q.rows(
    `create unlogged table ${peopleOf(id)} (n bigint, line int, address text, address_key text, first_name text,
       last_name text, phone text, country text, language text, zone text, fields jsonb, tags jsonb,
       contact_id bigint, is_new boolean, suppressed boolean)`,
  )
  await q.rows(
    `insert into ${peopleOf(id)}
     select row_number() over (order by line), line, address, address_key, first_name, last_name, phone, country, language, zone, fields, tags,
       case when suppressed then null else coalesce(known, nextval(pg_get_serial_sequence('contact', 'id'))) end,
       known is null, suppressed
     from (
       select l.*, c.id known, exists (select from suppression
           where address_hash = ${addressHashSql('$1', 'l.address_key')}) suppressed
       from (select distinct on (address_key) * from ${stageOf(id)} where reason is null
         order by address_key, line desc) l
       left join (select other_address.address_key, contact.address_key contact_key
         from other_address join contact on contact.id = contact_id) o on o.address_key = l.address_key
       left join contact c on c.address_key = coalesce(o.contact_key, l.address_key)) t`,
    [secret],
  )
  // Two addresses of one merged person in one file: the later line counts.
  await q.rows(
    `delete from ${peopleOf(id)} p using ${peopleOf(id)} later
     where exists (select from other_address) and p.contact_id = later.contact_id and p.line < later.line`,
  )
  await q.rows(`create index on ${peopleOf(id)} (n)`)
  await q.rows(`analyze ${peopleOf(id)}`)
}

const reasonsShown = 12

/** What the import would do, once its people are made out. */
export async function countChanges(q: Queries, id: number, choices: ImportChoices): Promise<ImportCounts> {
  const lines = await q.row<{ lines: number; invalid: number }>(
    `select count(*) lines, count(reason) invalid from ${stageOf(id)}`,
  )
  const reasons = await q.rows<ImportCounts['reasons'][number]>(
    // Reasons differ by the value that they quote: alike without it, they are told as one.
    `select min(reason) reason, count(*) lines, min(line) example from ${stageOf(id)} where reason is not null
     group by regexp_replace(reason, '“[^”]*”', '“”') order by 2 desc limit ${reasonsShown}`,
  )
  const people = await q.row<{
    all: number
    suppressed: number
    added: number
    changed: number
    kept: number
  }>(
    `select count(*) "all", count(*) filter (where suppressed) suppressed,
       count(*) filter (where is_new and not suppressed) added,
       count(*) filter (where not is_new and not suppressed and ${changesSql(choices)}) changed,
       count(*) filter (where not is_new and c.marketing_state in ('unsubscribed', 'bounced', 'complained')) kept
     from ${peopleOf(id)} p left join contact c on c.id = p.contact_id and not is_new`,
  )
  if (!lines || !people) throw new Error('a count returned no row')
  const changed = choices.existing === 'skip' ? 0 : people.changed
  return {
    ...lines,
    reasons,
    repeated: lines.lines - lines.invalid - people.all,
    suppressed: people.suppressed,
    added: people.added,
    changed,
    same: people.all - people.suppressed - people.added - changed,
    keptUnsubscribed: people.kept,
  }
}
