import type { Reference } from './reference.ts'

/** Everything that contents name by its number; `links` are those of sent mail, `namedLinks` those of the Library. */
export type NumberedKind = Reference['kind'] | 'senders'

/**
 * What the number behind each name means, wherever it stands in a page, form, pop-up, email, follow-up or condition:
 * all of them write a reference under the name of its kind. A test holds this against the schemas.
 */
const kindOfName: Readonly<Record<string, NumberedKind>> = {
  page: 'pages',
  termsPage: 'pages',
  form: 'forms',
  email: 'emails',
  followup: 'followups',
  followups: 'followups',
  popUp: 'popUps',
  junction: 'junctions',
  product: 'products',
  products: 'products',
  quiz: 'quizzes',
  session: 'sessions',
  course: 'courses',
  picture: 'pictures',
  poster: 'pictures',
  icon: 'pictures',
  file: 'files',
  captions: 'files',
  detail: 'details',
  tag: 'tags',
  waitingTag: 'tags',
  confirmedTag: 'tags',
  topic: 'topics',
  topics: 'topics',
  field: 'fields',
  segment: 'segments',
  scorecard: 'scorecards',
  wording: 'wordings',
  sender: 'senders',
}

/** The names under which numbers mean things. */
export const referenceNames: ReadonlySet<string> = new Set([...Object.keys(kindOfName), 'link'])

function kindAt(name: string, owner: Readonly<Record<string, unknown>>): NumberedKind | undefined {
  if (name === 'link') return owner.to === 'link' ? 'namedLinks' : 'links'
  return Object.hasOwn(kindOfName, name) ? kindOfName[name] : undefined
}

/** No thing ever has this number (the largest that a reference can have): what names it names something deleted. */
export const nothing = 2_147_483_647

/** The number that a thing has elsewhere; null where a reference may be left open. */
export type Numbering = (kind: NumberedKind, id: number) => number | null

/**
 * The same content with other numbers for what it speaks of. What is within it keeps its own ids: they mean something
 * in one document only.
 */
export function renumber<Content>(content: Content, numbering: Numbering): Content {
  const renumbered = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(renumbered)
    if (typeof value !== 'object' || value === null) return value
    const owner = value as Record<string, unknown>
    return Object.fromEntries(
      Object.entries(owner).map(([name, each]) => {
        const kind = kindAt(name, owner)
        if (kind && typeof each === 'number') return [name, numbering(kind, each)]
        if (kind && Array.isArray(each) && each.every((one) => typeof one === 'number'))
          return [name, each.map((one) => numbering(kind, one))]
        return [name, renumbered(each)]
      }),
    )
  }
  return renumbered(content) as Content
}

/** Everything that a content names by a number, each once. */
export function numbersIn(content: unknown): { kind: NumberedKind; id: number }[] {
  const found = new Map<string, { kind: NumberedKind; id: number }>()
  renumber(content, (kind, id) => {
    found.set(`${kind} ${id}`, { kind, id })
    return id
  })
  return [...found.values()]
}
