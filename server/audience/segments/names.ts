import { namedKinds, noNames, type NamedKind, type Names } from '../../../core/audience/segments/names.ts'
import type { Reference } from '../../../core/audience/segments/references.ts'
import type { Queries } from '../../database/connect.ts'

const tables: Record<NamedKind, string> = {
  emails: 'email',
  links: '(select id, label as name from email_link) link',
  tags: 'tag',
  pages: 'page',
  forms: 'form',
  files: 'file',
  topics: 'topic',
  fields: 'field',
  segments: 'segment',
  scorecards: 'scorecard',
  followups: 'followup',
  products: 'product',
  quizzes: 'quiz',
  sessions: 'live_session',
  junctions: 'junction',
  courses: 'course',
  wordings: `(select id, name || case when number > 1 then ' (wording ' || number || ')' else '' end as name
    from consent_wording) wording`,
}

interface Named {
  kind: NamedKind
  id: number
  name: string
}

async function choicesOf(q: Queries, fields: readonly number[]): Promise<Record<string, string>> {
  const choices = await q.rows<{ key: string; label: string }>(
    `select field.id || ' ' || (option->>'id') key, option->>'label' label
     from field, jsonb_array_elements(options) option where field.id = any($1)`,
    [fields],
  )
  return Object.fromEntries(choices.map(({ key, label }) => [key, label]))
}

/** What the bands of scorecards are called. */
async function bandsOf(q: Queries, scorecards: readonly number[]): Promise<Record<string, string>> {
  const bands = await q.rows<{ key: string; name: string }>(
    `select 'band ' || scorecard.id || ' ' || (band->>'id') key, band->>'name' "name"
     from scorecard, jsonb_array_elements(card->'bands') band where scorecard.id = any($1)`,
    [scorecards],
  )
  return Object.fromEntries(bands.map(({ key, name }) => [key, name]))
}

/** What the results and answers of quizzes are called, by the newest version that has them. */
async function quizPartsOf(q: Queries, quizzes: readonly number[]): Promise<Record<string, string>> {
  const parts = await q.rows<{ key: string; name: string }>(
    `select 'result ' || quiz_id || ' ' || (result->>'id') key, result->>'name' "name"
     from quiz_version, jsonb_array_elements(content->'results') result where quiz_id = any($1)
     union all
     select 'answer ' || quiz_id || ' ' || (answer->>'id'), coalesce(nullif(answer->>'words', ''), 'without words')
     from quiz_version, jsonb_path_query(content, '$.questions[*].answers[*]') answer where quiz_id = any($1)`,
    [quizzes],
  )
  return Object.fromEntries(parts.map(({ key, name }) => [key, name]))
}

/** What the rules of junctions are called: by their place where they have no name. */
async function rulesOf(q: Queries, junctions: readonly number[]): Promise<Record<string, string>> {
  const rules = await q.rows<{ key: string; name: string }>(
    `select 'rule ' || junction_id || ' ' || (rule->>'id') key, coalesce(nullif(rule->>'name', ''), 'rule ' || n) "name"
     from junction_version, jsonb_array_elements(content->'rules') with ordinality t (rule, n)
     where junction_id = any($1) order by number`,
    [junctions],
  )
  return Object.fromEntries<string>([
    ...junctions.map((id): [string, string] => [`rule ${id} -`, 'otherwise']),
    ...rules.map(({ key, name }): [string, string] => [key, name]),
  ])
}

/** A price without a name is told from others by its place. */
const priceNamed = `coalesce(nullif(part->>'name', ''), 'price ' || n)`

/** What the prices of products are called, by the newest version that has them. */
async function pricesOf(q: Queries, products: readonly number[]): Promise<Record<string, string>> {
  const prices = await q.rows<{ key: string; name: string }>(
    `select 'price ' || product_id || ' ' || (part->>'id') key, ${priceNamed} "name"
     from (
       select product_id, number, part, n
       from product_version, jsonb_array_elements(content->'prices') with ordinality t (part, n)
       union all
       select other::bigint, number, part, n
       from product_version, jsonb_array_elements(content->'prices') with ordinality t (part, n),
         jsonb_array_elements(part->'products') other
     ) named where product_id = any($1) order by number`,
    [products],
  )
  return Object.fromEntries(prices.map(({ key, name }) => [key, name]))
}

/** The kinds of things whose parts have names of their own. */
const partsOf = {
  fields: choicesOf,
  scorecards: bandsOf,
  quizzes: quizPartsOf,
  junctions: rulesOf,
  products: pricesOf,
} as const satisfies Partial<
  Record<NamedKind, (q: Queries, ids: readonly number[]) => Promise<Record<string, string>>>
>

async function namesOf(q: Queries, rows: readonly Named[]): Promise<Names> {
  const names = noNames()
  for (const { kind, id, name } of rows) names[kind][id] = name
  let choices: Record<string, string> = {}
  for (const kind of Object.keys(partsOf) as (keyof typeof partsOf)[]) {
    const ids = Object.keys(names[kind]).map(Number)
    if (ids.length > 0) choices = { ...choices, ...(await partsOf[kind](q, ids)) }
  }
  return Object.keys(choices).length > 0 ? { ...names, choices } : names
}

/** The names of what is mentioned: one statement, over the tables of its kinds alone. */
export async function loadNames(q: Queries, mentioned: readonly Reference[]): Promise<Names> {
  const ids = new Map<NamedKind, Set<number>>()
  for (const { kind, id } of mentioned) ids.set(kind, (ids.get(kind) ?? new Set()).add(id))
  if (ids.size === 0) return noNames()
  const parts = [...ids.keys()].map(
    (kind, i) => `select '${kind}' kind, id, name from ${tables[kind]} where id = any($${i + 1})`,
  )
  const rows = await q.rows<Named>(
    parts.join(' union all '),
    [...ids.values()].map((each) => [...each]),
  )
  return namesOf(q, rows)
}

/** The names of all things there are, to choose from. */
export async function loadAllNames(q: Queries): Promise<Names> {
  const parts = namedKinds.map((kind) => `select '${kind}' kind, id, name from ${tables[kind]}`)
  return namesOf(q, await q.rows<Named>(parts.join(' union all ')))
}

interface NamedPart {
  of: number
  id: string
  name: string
}

const byThing = (parts: readonly NamedPart[]): Record<string, { id: string; name: string }[]> =>
  Object.fromEntries(
    [...new Set(parts.map(({ of }) => of))].map((of) => [
      of,
      parts.filter((each) => each.of === of).map(({ id, name }) => ({ id, name })),
    ]),
  )

/** What is within quizzes, junctions and products now, to choose from: of what visitors get, or of the draft. */
export async function loadNamedParts(q: Queries) {
  const current = (table: 'quiz' | 'junction' | 'product'): string =>
    `(select distinct on (${table}_id) ${table}_id of, content from ${table}_version join ${table} on ${table}.id = ${table}_id
      where archived_at is null order by ${table}_id, number = published_version desc nulls last, number desc) current`
  const read = (table: 'quiz' | 'junction' | 'product', name: string, path: string): Promise<NamedPart[]> =>
    q.rows<NamedPart>(
      `select of, part->>'id' id, ${name} "name" from ${current(table)},
         lateral (select * from jsonb_path_query(content, $1::jsonpath) with ordinality t (part, n)) parts order by of, n`,
      [path],
    )
  return {
    results: byThing(await read('quiz', `part->>'name'`, '$.results[*]')),
    answers: byThing(
      await read('quiz', `coalesce(nullif(part->>'words', ''), 'answer ' || n)`, '$.questions[*].answers[*]'),
    ),
    rules: byThing(await read('junction', `coalesce(nullif(part->>'name', ''), 'rule ' || n)`, '$.rules[*]')),
    prices: byThing(await read('product', priceNamed, '$.prices[*]')),
  }
}
