import { z } from 'zod'

/** How a value is said; without one as its kind is said by itself. */
export const mergeFormat = z.enum(['name', 'number', 'wholeNumber', 'date', 'weekday', 'time', 'dateAndTime'])
export type MergeFormat = z.infer<typeof mergeFormat>

/** How a format is written in a text: `{workshop as weekday}`. */
export const mergeFormatWords: Record<MergeFormat, string> = {
  name: 'name',
  number: 'number',
  wholeNumber: 'whole number',
  date: 'date',
  weekday: 'weekday',
  time: 'time',
  dateAndTime: 'date and time',
}

/** A field as a text names it. */
export interface MergeField {
  name: string
  format: MergeFormat | null
  /** Said when there is no value. */
  fallback: string
}

export type MergePart = { text: string } | { field: MergeField; written: string }

/** By this a name is found, however its letters, spaces and quotation marks are written. */
export const fieldKey = (name: string): string =>
  name
    .toLowerCase()
    .replace(/["'’\\]/g, '')
    .replace(/\s+/g, ' ')
    .trim()

const formats = new Map(mergeFormat.options.map((format) => [mergeFormatWords[format], format]))

const written = new RegExp(
  String.raw`\{\s*([^{}]{1,100}?)` +
    String.raw`(?:\s+as\s+(${[...formats.keys()].sort((a, b) => b.length - a.length).join('|')}))?` +
    String.raw`(?:\s+or\s+(?:'([^'{}]{0,100})'|"([^"{}]{0,100})"))?\s*\}`,
  'gi',
)

/**
 * Splits a text at its merge fields: `Thank you, {first name or 'dear reader'}`. A brace that begins none is text.
 */
export function mergeParts(text: string): MergePart[] {
  if (!text.includes('{')) return text === '' ? [] : [{ text }]
  const parts: MergePart[] = []
  let from = 0
  for (const match of text.matchAll(written)) {
    const [whole, name = '', format = '', single, double] = match
    if (fieldKey(name) === '') continue
    if (match.index > from) parts.push({ text: text.slice(from, match.index) })
    parts.push({
      field: {
        name: name.trim(),
        format: formats.get(format.toLowerCase()) ?? null,
        fallback: single ?? double ?? '',
      },
      written: whole,
    })
    from = match.index + whole.length
  }
  if (from < text.length) parts.push({ text: text.slice(from) })
  return parts
}

/** A field as one types it. */
export function writtenField({ name, format, fallback }: MergeField): string {
  const mark = fallback.includes("'") ? '"' : "'"
  const as = format === null ? '' : ` as ${mergeFormatWords[format]}`
  return `{${name}${as}${fallback ? ` or ${mark}${fallback}${mark}` : ''}}`
}

/** The fields that a text names. */
export const fieldsIn = (text: string): MergeField[] =>
  text.includes('{') ? mergeParts(text).flatMap((part) => ('field' in part ? [part.field] : [])) : []
