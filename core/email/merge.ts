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

/** A template that has been read, to be filled for many. @throws when it cannot be filled for somebody */
export type ParsedTemplate = (values: MergeValues) => string

function parse(liquid: Liquid, template: string): ParsedTemplate {
  const parsed = liquid.parse(template)
  return (values) => String(liquid.renderSync(parsed, values))
}

/** Reads a template of HTML; every value is escaped. @throws when the template cannot be read */
export const parseHtml = (template: string): ParsedTemplate => parse(escaping, template)

/** Reads a template of plain text. @throws when the template cannot be read */
export function parseText(template: string): ParsedTemplate {
  const fill = parse(plain, template)
  // What is left out for somebody leaves no hole behind.
  return (values) => fill(values).replace(/\n{3,}/g, '\n\n')
}

/** Reads a template of a header line: no value can begin another header. @throws when it cannot be read */
export function parseLine(template: string): ParsedTemplate {
  const fill = parseText(template)
  return (values) => fill(values).replace(/\s+/g, ' ').trim()
}

/**
 * Reads a template whose literal parts are encoded for the wire already, and leaves them as they are.
 * @param encode for the values, as they come from the template
 * @throws when the template cannot be read
 */
export const parseEncoded = (template: string, encode: (value: string) => string): ParsedTemplate =>
  parse(
    new Liquid({
      ...options,
      outputEscape: (value: unknown) => encode(typeof value === 'string' ? value : ''),
    }),
    template,
  )
