import { z } from 'zod'

/** What a page can say of its reader. */
export const mergeField = z.enum(['firstName', 'lastName', 'address'])
export type MergeField = z.infer<typeof mergeField>

/** How a field is written in a text. */
export const mergeFieldWords: Record<MergeField, string> = {
  firstName: 'first name',
  lastName: 'last name',
  address: 'email address',
}

/** What is known of the reader; nothing of a stranger. */
export type ReaderValues = Partial<Record<MergeField, string>>

export type MergePart = { text: string } | { field: MergeField; fallback: string } | { unknown: string }

const written = /\{\s*([^{}'"]{1,60}?)\s*(?:or\s+(?:'([^'{}]{0,100})'|"([^"{}]{0,100})"))?\s*\}/g

const fieldOf = (words: string): MergeField | undefined =>
  mergeField.options.find((field) => mergeFieldWords[field] === words.trim().toLowerCase())

/**
 * Splits a text at its merge fields: `Thank you, {first name or 'dear reader'}`. A brace that begins none is text.
 */
export function mergeParts(text: string): MergePart[] {
  const parts: MergePart[] = []
  let from = 0
  for (const match of text.matchAll(written)) {
    if (match.index > from) parts.push({ text: text.slice(from, match.index) })
    const [whole, name = '', single, double] = match
    const field = fieldOf(name)
    parts.push(field ? { field, fallback: single ?? double ?? '' } : { unknown: whole })
    from = match.index + whole.length
  }
  if (from < text.length) parts.push({ text: text.slice(from) })
  return parts
}

/** The value of a merge field, or its fall-back. */
export const mergedValue = (values: ReaderValues, field: MergeField, fallback: string): string =>
  values[field]?.trim() || fallback

/** A text as its reader sees it. What names no field stays as it was written. */
export function mergeWords(text: string, values: ReaderValues): string {
  if (!text.includes('{')) return text
  return mergeParts(text)
    .map((part) => {
      if ('text' in part) return part.text
      return 'field' in part ? mergedValue(values, part.field, part.fallback) : part.unknown
    })
    .join('')
}

/** Does the text say something of its reader? */
export const isPersonal = (text: string): boolean =>
  text.includes('{') && mergeParts(text).some((part) => 'field' in part)

/** What stands in braces and names no field. */
export const unknownFields = (text: string): string[] =>
  text.includes('{') ? mergeParts(text).flatMap((part) => ('unknown' in part ? [part.unknown] : [])) : []
