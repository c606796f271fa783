import { noNames, type NamedKind, type Names } from '../../core/audience/names.ts'
import type { Queries } from '../database/connect.ts'

const tables: Record<NamedKind, string> = {
  emails: 'email',
  links: '(select id, label as name from email_link) link',
  tags: 'tag',
  pages: 'page',
  files: 'file',
  topics: 'topic',
  fields: 'field',
  segments: 'segment',
  scorecards: 'scorecard',
  followups: 'followup',
  products: 'product',
  quizzes: 'quiz',
  sessions: 'live_session',
}

const allNames = Object.entries(tables)
  .map(([kind, table]) => `select '${kind}' kind, id, name from ${table}`)
  .join(' union all ')

/** Names of everything that conditions and decisions may speak of. */
export async function loadNames(q: Queries): Promise<Names> {
  const names = noNames()
  for (const { kind, id, name } of await q.rows<{ kind: NamedKind; id: number; name: string }>(allNames))
    names[kind][id] = name
  const choices = await q.rows<{ key: string; label: string }>(
    `select field.id || ' ' || (option->>'id') key, option->>'label' label
     from field, jsonb_array_elements(options) option`,
  )
  return { ...names, choices: Object.fromEntries(choices.map(({ key, label }) => [key, label])) }
}
