import { fieldKey, mergeParts, type MergeField } from '../blocks/mergeText.ts'
import { builtInNames } from '../blocks/mergeValues.ts'
import { Html, html } from '../html.ts'

/** What everybody has, as the templates that are kept of an email have it. */
const builtIn = new Map<string, string>([
  [builtInNames.firstName, 'person.first_name'],
  [builtInNames.lastName, 'person.last_name'],
  [builtInNames.address, 'person.address'],
])

/** Words that stand in a template as they are: a brace of somebody's own begins nothing. */
export const literalHtml = (words: string): Html =>
  new Html(html`${words}`.markup.replaceAll('{', '&#123;').replaceAll('}', '&#125;'))

/** The same in a template of plain text. */
export const literalText = (words: string): string => words.replace(/[{}]/g, (brace) => `{{ "${brace}" }}`)

/** The name of a field in templates: of letters that stand anywhere in markup, also in an attribute. */
export const templateName = (key: string): string =>
  `f_${key.replace(/[^a-z0-9]/gu, (letter) => `_${letter.codePointAt(0)?.toString(16)}_`)}`

/** By this a template tells that it names more than what everybody has. */
export const namesFields = (template: string): boolean => template.includes(' fields.f_')

/**
 * A merge field of a template with what stands in for an empty value. A name that there is none of stays as it was
 * written, so that a test shows it at its place.
 */
function field(
  { name, format, fallback }: MergeField,
  literal: (words: string) => string,
  written: string,
): string {
  const key = fieldKey(name)
  const as = format === null ? '' : ` | as_${format}`
  const own = builtIn.get(key)
  const otherwise = literal(fallback)
  if (own) return `{% if ${own} == empty %}${otherwise}{% else %}{{ ${own}${as} }}{% endif %}`
  const value = `fields.${templateName(key)}`
  const said = `{{ ${value}${as || ' | as_it_is'} }}`
  return `{% if ${value} %}${said}{% elsif ${value} == false %}${otherwise}{% else %}${literal(written)}{% endif %}`
}

/** A merge field of an HTML template. @param written as it stands in the text */
export const fieldHtml = (named: MergeField, written: string): Html =>
  new Html(field(named, (words) => literalHtml(words).markup, written))

/** What stands for a name that readers have a value of, in an HTML template. */
export const valueHtml = (name: string): Html => fieldHtml({ name, format: null, fallback: '' }, '')

/** A merge field of a text template. @param written as it stands in the text */
export const fieldText = (named: MergeField, written: string): string => field(named, literalText, written)

/** A line or a few sentences as a template of HTML. */
export const wordsHtml = (words: string): Html =>
  html`${mergeParts(words).map((part) =>
    'text' in part ? literalHtml(part.text) : fieldHtml(part.field, part.written),
  )}`

/** The same as a template of plain text. */
export const wordsText = (words: string): string =>
  mergeParts(words)
    .map((part) => ('text' in part ? literalText(part.text) : fieldText(part.field, part.written)))
    .join('')
