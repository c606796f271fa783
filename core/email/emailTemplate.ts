import { mergeParts, type MergeField } from '../blocks/mergeText.ts'
import { Html, html } from '../html.ts'

/** The name of each merge field in the templates that are kept of an email. */
const valueOf: Record<MergeField, string> = {
  firstName: 'person.first_name',
  lastName: 'person.last_name',
  address: 'person.address',
}

/** Words that stand in a template as they are: a brace of somebody's own begins nothing. */
export const literalHtml = (words: string): Html =>
  new Html(html`${words}`.markup.replaceAll('{', '&#123;').replaceAll('}', '&#125;'))

const literalText = (words: string): string => words.replace(/[{}]/g, (brace) => `{{ "${brace}" }}`)

/** A merge field of a template with what stands in for an empty value. */
function field(name: MergeField, fallback: string): string {
  const value = valueOf[name]
  return `{% if ${value} == "" %}${fallback}{% else %}{{ ${value} }}{% endif %}`
}

/** A merge field of an HTML template. */
export const fieldHtml = (name: MergeField, fallback: string): Html =>
  new Html(field(name, literalHtml(fallback).markup))

/** A merge field of a text template. */
export const fieldText = (name: MergeField, fallback: string): string => field(name, literalText(fallback))

/** A line or a few sentences as a template of HTML. */
export const wordsHtml = (words: string): Html =>
  html`${mergeParts(words).map((part) => {
    if ('text' in part) return literalHtml(part.text)
    return 'field' in part ? fieldHtml(part.field, part.fallback) : literalHtml(part.unknown)
  })}`

/** The same as a template of plain text. */
export const wordsText = (words: string): string =>
  mergeParts(words)
    .map((part) => {
      if ('text' in part) return literalText(part.text)
      return 'field' in part ? fieldText(part.field, part.fallback) : literalText(part.unknown)
    })
    .join('')
