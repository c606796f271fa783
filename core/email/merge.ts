import { Liquid, type FilterImplOptions, type LiquidOptions } from 'liquidjs'
import { templateName } from './emailTemplate.ts'
import { mergeFormat, type MergeFormat } from '../blocks/mergeText.ts'
import {
  formatMerged,
  noMergeFields,
  readerValues,
  type MergedPerson,
  type MergeFields,
  type MergeValue,
} from '../blocks/mergeValues.ts'

/** What merge fields can name. */
export interface MergeValues {
  person: { first_name: string; last_name: string; address: string }
  business: { name: string; postal_address: string; zone: string }
  /** Own fields and shared details by the name that templates have for them, when the template names any; false without a value. */
  fields: Readonly<Record<string, MergeValue | false>>
  /** Where the reader is, when that is known. */
  zone: string | null
  /** Where pictures lie. */
  base_url: string
  links: string[]
  /** Whether the reader sees each of the parts that not everybody sees. */
  shows: boolean[]
  unsubscribe_url: string
  preferences_url: string
  open_url: string
}

/** Own fields and shared details as templates have them. */
export function templateFields(
  fields: MergeFields,
  person: MergedPerson | null,
  linkTo?: (path: string) => string,
): Pick<MergeValues, 'fields' | 'zone'> {
  if (fields === noMergeFields) return { fields: {}, zone: person?.builtIn.zone ?? null }
  const { values, zone } = readerValues(fields, person, linkTo)
  return {
    fields: Object.fromEntries([...values].map(([key, value]) => [templateName(key), value ?? false])),
    zone,
  }
}

/** Longest template and most work one merge may cost: a template is input like any other. */
const limits = { parseLimit: 500_000, renderLimit: 500, memoryLimit: 10_000_000 }

const options = { strictFilters: true, ownPropertyOnly: true, relativeReference: false, ...limits }

/** A reader of templates that knows how values are said. */
function liquid(more: LiquidOptions = {}): Liquid {
  const made = new Liquid({ ...options, ...more })
  const saying = (format: MergeFormat | null): FilterImplOptions =>
    function (value: MergeValue) {
      return formatMerged(value, format, this.context.getSync(['zone']) as string | null)
    }
  made.registerFilter('as_it_is', saying(null))
  for (const format of mergeFormat.options) {
    made.registerFilter(`as_${format}`, saying(format))
    // Moments that stand in the email itself.
    made.registerFilter(`at_${format}`, function (moment: number) {
      const zone = this.context.getSync(['zone']) as string | null
      const business = this.context.getSync(['business', 'zone']) as string | undefined
      return formatMerged({ moment, zone: business ?? 'UTC' }, format, zone)
    })
  }
  return made
}

const plain = liquid()
const escaping = liquid({ outputEscape: 'escape' })

/** A template that has been read, to be filled for many. @throws when it cannot be filled for somebody */
export type ParsedTemplate = (values: MergeValues) => string

function parse(reader: Liquid, template: string): ParsedTemplate {
  const parsed = reader.parse(template)
  return (values) => String(reader.renderSync(parsed, values))
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
    liquid({ outputEscape: (value: unknown) => encode(typeof value === 'string' ? value : '') }),
    template,
  )
