import { z } from 'zod'

export const fieldKind = z.enum(['text', 'number', 'date', 'yesNo', 'oneOf', 'manyOf'])
export type FieldKind = z.infer<typeof fieldKind>

/** A choice of a field. Its id stays when its words change, so no value is lost. */
export const fieldOption = z.object({
  id: z.string().regex(/^[a-z0-9-]{1,40}$/),
  label: z.string().trim().min(1).max(100),
})
export type FieldOption = z.infer<typeof fieldOption>

/** What the marketer wants to know of people beyond what everybody has. */
export interface Field {
  id: number
  name: string
  kind: FieldKind
  options: FieldOption[]
}

/** A value as it is stored: dates as "2026-11-24", choices as ids of options. */
export const fieldValue = z.union([z.string(), z.number(), z.boolean(), z.array(z.string())])
export type FieldValue = z.infer<typeof fieldValue>

export type FieldReading = { ok: true; value: FieldValue | null } | { ok: false; reason: string }

const yes = new Set(['yes', 'y', 'true', '1', 'on', 'x'])
const no = new Set(['no', 'n', 'false', '0', 'off'])

const isoDate = z.iso.date()

/** Day first or month first cannot be told apart in "03/04/2026", so only forms that have one meaning are read. */
function readDate(typed: string): string | null {
  const iso = typed.replaceAll('/', '-').replaceAll('.', '-')
  const yearFirst = /^(\d{4})-(\d{1,2})-(\d{1,2})/.exec(iso)
  const dayFirst = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/.exec(typed)
  const parts = yearFirst ? yearFirst.slice(1, 4) : dayFirst ? [dayFirst[3], dayFirst[2], dayFirst[1]] : null
  if (!parts) return null
  const [year = '', month = '', day = ''] = parts
  const date = `${year}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`
  return isoDate.safeParse(date).success ? date : null
}

/** A number with a point or a comma before its decimals; groups of thousands may be parted by spaces. */
function readNumber(typed: string): number | null {
  const plain = typed.replace(/[\s\u00a0\u202f]/g, '')
  const pointed = /^[-+]?\d{1,3}(,\d{3})+(\.\d+)?$/.test(plain)
    ? plain.replaceAll(',', '')
    : plain.replace(',', '.')
  return /^[-+]?\d+(\.\d+)?$/.test(pointed) ? Number(pointed) : null
}

function readOption(field: Field, typed: string): string | null {
  const wanted = typed.toLowerCase()
  return field.options.find(({ id, label }) => id === wanted || label.toLowerCase() === wanted)?.id ?? null
}

/**
 * Reads what a person typed, or what stands in a cell, as a value of a field. Nothing typed is no value.
 * @returns the value, or why it is none in words that say what would be
 */
export function readFieldValue(field: Field, typed: string): FieldReading {
  const text = typed.trim()
  if (text === '') return { ok: true, value: null }
  const labels = field.options.map(({ label }) => label).join(', ')
  switch (field.kind) {
    case 'text':
      return text.length <= 1000
        ? { ok: true, value: text }
        : { ok: false, reason: `${field.name}: at most 1,000 characters, not ${text.length}` }
    case 'number': {
      const value = readNumber(text)
      return value === null
        ? { ok: false, reason: `${field.name}: “${short(text)}” is not a number` }
        : { ok: true, value }
    }
    case 'date': {
      const value = readDate(text)
      return value === null
        ? {
            ok: false,
            reason: `${field.name}: “${short(text)}” is not a date such as 2026-11-24 or 24.11.2026`,
          }
        : { ok: true, value }
    }
    case 'yesNo': {
      const word = text.toLowerCase()
      if (yes.has(word)) return { ok: true, value: true }
      if (no.has(word)) return { ok: true, value: false }
      return { ok: false, reason: `${field.name}: “${short(text)}” is neither yes nor no` }
    }
    case 'oneOf': {
      const value = readOption(field, text)
      return value === null
        ? { ok: false, reason: `${field.name}: “${short(text)}” is not one of ${labels}` }
        : { ok: true, value }
    }
    case 'manyOf': {
      // A comma stands between two choices, or within the words of one.
      const words = text
        .split(/[;|]/)
        .flatMap((part) => (readOption(field, part.trim()) ? [part] : part.split(',')))
        .map((word) => word.trim())
        .filter(Boolean)
      const ids = words.map((word) => readOption(field, word))
      const unknown = words.find((_, i) => ids[i] === null)
      return unknown === undefined
        ? { ok: true, value: [...new Set(ids.filter((each) => each !== null))] }
        : { ok: false, reason: `${field.name}: “${short(unknown)}” is not one of ${labels}` }
    }
  }
}

/** The kinds that a column may be guessed to have, narrowest first. Choices cannot be told from some cells. */
const guessable: readonly FieldKind[] = ['yesNo', 'number', 'date']

/** What kind of field a column of such cells would be: the narrowest that reads them all, or text. */
export function guessFieldKind(cells: readonly string[]): FieldKind {
  const typed = cells.filter((cell) => cell.trim() !== '')
  if (typed.length === 0) return 'text'
  const reads = (kind: FieldKind): boolean =>
    typed.every((cell) => readFieldValue({ id: 0, name: '', kind, options: [] }, cell).ok)
  return guessable.find(reads) ?? 'text'
}

const short = (text: string): string => (text.length > 40 ? `${text.slice(0, 40)}…` : text)

/** A value as it can be typed back: choices by their ids, whatever signs their words have. */
export function typedFieldValue(field: Field, value: FieldValue | undefined): string {
  if (Array.isArray(value)) return value.join(';')
  return field.kind === 'oneOf' ? String(value ?? '') : formatFieldValue(field, value)
}

/** A value as people read it. */
export function formatFieldValue(field: Field, value: FieldValue | null | undefined): string {
  if (value === null || value === undefined) return ''
  const labelOf = (id: string): string => field.options.find((option) => option.id === id)?.label ?? id
  if (Array.isArray(value)) return value.map(labelOf).join('; ')
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return field.kind === 'oneOf' ? labelOf(String(value)) : String(value)
}
