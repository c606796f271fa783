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

async function namesOf(q: Queries, rows: readonly Named[]): Promise<Names> {
  const names = noNames()
  for (const { kind, id, name } of rows) names[kind][id] = name
  const [fields, scorecards] = [names.fields, names.scorecards].map((of) => Object.keys(of).map(Number))
  if (!fields?.length && !scorecards?.length) return names
  return {
    ...names,
    choices: { ...(await choicesOf(q, fields ?? [])), ...(await bandsOf(q, scorecards ?? [])) },
  }
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
