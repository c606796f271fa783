import { Liquid } from 'liquidjs'

/** What merge fields can name. */
export interface MergeValues {
  person: { first_name: string; last_name: string; address: string }
  business: { name: string; postal_address: string }
  /** Where pictures lie. */
  base_url: string
  links: string[]
  /** Whether the reader sees each of the parts that not everybody sees. */
  shows: boolean[]
  unsubscribe_url: string
  preferences_url: string
  open_url: string
}

/** Longest template and most work one merge may cost: a template is input like any other. */
const limits = { parseLimit: 500_000, renderLimit: 500, memoryLimit: 10_000_000 }

const options = { strictFilters: true, ownPropertyOnly: true, relativeReference: false, ...limits }
const plain = new Liquid({ ...options })
const escaping = new Liquid({ ...options, outputEscape: 'escape' })

/** Fills the merge fields of HTML; every value is escaped. @throws when the template cannot be read */
export function mergeHtml(template: string, values: MergeValues): string {
  return String(escaping.parseAndRenderSync(template, values))
}

/** Fills the merge fields of plain text. @throws when the template cannot be read */
export function mergeText(template: string, values: MergeValues): string {
  // What is left out for somebody leaves no hole behind.
  return String(plain.parseAndRenderSync(template, values)).replace(/\n{3,}/g, '\n\n')
}

/** Fills the merge fields of a header line: no value can begin another header. */
export function mergeLine(template: string, values: MergeValues): string {
  return mergeText(template, values).replace(/\s+/g, ' ').trim()
}
