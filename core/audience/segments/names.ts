import { countryName } from '../people/country.ts'

/** The kinds of things that conditions, steps and activities refer to by id. */
export const namedKinds = [
  'emails',
  'links',
  'tags',
  'pages',
  'forms',
  'files',
  'topics',
  'fields',
  'segments',
  'scorecards',
  'followups',
  'products',
  'quizzes',
  'sessions',
  'junctions',
  'courses',
  'wordings',
] as const
export type NamedKind = (typeof namedKinds)[number]

/** What one of a kind is called. */
export const singularNames: Record<NamedKind, string> = {
  emails: 'email',
  links: 'link',
  tags: 'tag',
  pages: 'page',
  forms: 'form',
  files: 'file',
  topics: 'topic',
  fields: 'field',
  segments: 'segment',
  scorecards: 'scorecard',
  followups: 'follow-up',
  products: 'product',
  quizzes: 'quiz',
  sessions: 'session',
  junctions: 'junction',
  courses: 'course',
  wordings: 'consent wording',
}

/** Names of all things by kind and id, for sentences that people read. */
export type Names = Record<NamedKind, Record<number, string>> & {
  /** The words of own fields' choices, by the ids of both: "3 coptic"; the names of bands: "band 7 hot". */
  choices?: Record<string, string>
}

/** Names of nothing yet. */
export function noNames(): Names {
  return Object.fromEntries(namedKinds.map((kind) => [kind, {}])) as Names
}

/** What a choice of an own field or a country is called; anything else is called what it is. */
export const choiceName = (names: Names, field: number | string, value: string): string =>
  field === 'country' ? countryName(value) : (names.choices?.[`${field} ${value}`] ?? value)

/** The name in quotes, or what to say of a thing that is gone. */
export function nameOf(names: Names, kind: NamedKind, id: number): string {
  const name = names[kind][id]
  return name === undefined ? `something deleted (${id})` : `“${name}”`
}
