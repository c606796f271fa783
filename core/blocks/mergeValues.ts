import { IANAZone } from 'luxon'
import { formatFieldValue, type Field, type FieldValue } from '../audience/describing/field.ts'
import { fieldKey, mergeParts, type MergeField, type MergeFormat } from './mergeText.ts'
import type { SharedDetail } from './sharedDetail.ts'

/** What stands for a merge field. A moment is told in its own zone to whoever's zone nobody knows. */
export type MergeValue = string | { number: number } | { date: string } | { moment: number; zone: string }

/** What texts can say to a reader. */
export interface ReaderValues {
  /** By the key of each name that there is; null where this reader has no value. */
  values: ReadonlyMap<string, MergeValue | null>
  /** Where the reader is, when that is known. */
  zone: string | null
}

/** What texts can name besides what everybody has. */
export interface MergeFields {
  own: readonly (Field & { formerNames: readonly string[] })[]
  details: readonly SharedDetail[]
  /** Junctions, to which each reader gets a link of their own. */
  junctions: readonly { path: string; formerPaths: readonly string[] }[]
  /** Personal deadlines, which end for each reader by themselves. */
  deadlines: readonly { id: number; name: string }[]
  /** Of the business: moments are told in it to whoever's zone nobody knows. */
  zone: string
}
export const noMergeFields: MergeFields = { own: [], details: [], junctions: [], deadlines: [], zone: 'UTC' }

/** What a text calls the link to a junction: by its path, which no other has or had. */
export const mergeNameOfJunction = (path: string): string => `link to ${path}`

/** What is known of a reader. */
export interface MergedPerson {
  builtIn: { firstName?: string; lastName?: string; address?: string; zone?: string }
  own: Readonly<Record<number, FieldValue>>
  /** What they were about to buy, in words. */
  cart?: string
  /** A coupon code that was made for them. */
  coupon?: string
  /** When their personal deadlines are over, by name. */
  deadlines?: Readonly<Record<string, number>>
}

/** What texts call that which somebody was about to buy. */
export const cartName = 'what is in the cart'

/** What texts call a coupon code that was made for the reader. */
export const couponName = 'coupon code'

/** What texts call the end of a personal deadline, and the address of its picture. */
export const mergeNameOfDeadline = (deadline: string): string => `end of ${deadline}`
export const mergeNameOfCountdown = (deadline: string): string => `countdown of ${deadline}`

/** Where the picture of a personal deadline lies. @param id of the deadline */
const countdownPathOf = (id: number): string => `/countdown/own/${id}.gif`

/** What everybody has, as texts name it. */
export const builtInNames = {
  firstName: 'first name',
  lastName: 'last name',
  address: 'email address',
} as const

const dates: Readonly<Record<'date' | 'weekday' | 'time' | 'dateAndTime', Intl.DateTimeFormatOptions>> = {
  date: { day: 'numeric', month: 'long', year: 'numeric' },
  weekday: { weekday: 'long', day: 'numeric', month: 'long' },
  time: { hour: '2-digit', minute: '2-digit', timeZoneName: 'short' },
  dateAndTime: {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    hour: '2-digit',
    minute: '2-digit',
    timeZoneName: 'short',
  },
}

const isDateFormat = (format: MergeFormat | null): format is keyof typeof dates =>
  format !== null && format in dates

const writers = new Map<string, Intl.DateTimeFormat>()
function dateWords(at: number, format: keyof typeof dates, timeZone: string): string {
  const key = `${format} ${timeZone}`
  const writer = writers.get(key) ?? new Intl.DateTimeFormat('en-GB', { ...dates[format], timeZone })
  writers.set(key, writer)
  return writer.format(at)
}

/** A name that was typed in one case has a capital at the start of each of its parts. */
const tidyName = (name: string): string =>
  name === name.toLowerCase() || name === name.toUpperCase()
    ? name
        .toLowerCase()
        .replace(/(^|[\s-])(\p{L})/gu, (_, before: string, letter: string) => before + letter.toUpperCase())
    : name

/**
 * A value in words.
 * @param format as the text asks for it; one that does not fit the value is left aside
 * @param zone of the reader
 */
export function formatMerged(value: MergeValue, format: MergeFormat | null, zone: string | null): string {
  if (typeof value === 'string') return format === 'name' ? tidyName(value) : value
  if ('number' in value)
    return new Intl.NumberFormat('en-GB', {
      maximumFractionDigits: format === 'wholeNumber' ? 0 : 6,
    }).format(value.number)
  if ('date' in value) {
    const day = format === 'weekday' ? 'weekday' : 'date'
    return dateWords(Date.parse(`${value.date}T12:00:00Z`), day, 'UTC')
  }
  // What somebody typed as their zone may be none.
  const where = zone !== null && IANAZone.isValidZone(zone) ? zone : value.zone
  return dateWords(value.moment, isDateFormat(format) ? format : 'dateAndTime', where)
}

function ownValue(field: Field, value: FieldValue | undefined): MergeValue | null {
  if (value === undefined) return null
  if (typeof value === 'number') return { number: value }
  if (field.kind === 'date' && typeof value === 'string') return { date: value }
  return formatFieldValue(field, value).trim() || null
}

function detailValue(detail: SharedDetail): MergeValue | null {
  switch (detail.kind) {
    case 'text':
    case 'address':
      return detail.text.trim() || null
    case 'moment':
      return { moment: detail.at, zone: detail.zone }
    case 'picture':
      return null
  }
}

/** The picture that a shared detail is; null when it is gone. */
export function pictureOfDetail({ details }: MergeFields, id: number): number | null {
  const detail = details.find((each) => each.id === id)
  return detail?.kind === 'picture' ? detail.picture : null
}

/** The keys of the names that say the same to everybody: moments are told on each reader's clock. */
export const sharedNames = ({ details }: MergeFields): Set<string> =>
  new Set(
    details
      .filter(({ kind }) => kind === 'text' || kind === 'address')
      .flatMap(({ name, formerNames }) => [name, ...formerNames].map(fieldKey)),
  )

/**
 * Every name that texts can use, with what it stands for to this reader; a stranger when null.
 * @param linkTo the address of a path of this install for this reader; without it such links have no value
 */
export function readerValues(
  { own, details, junctions, deadlines, zone }: MergeFields,
  person: MergedPerson | null,
  linkTo: (path: string) => string | null = () => null,
): ReaderValues {
  const values = new Map<string, MergeValue | null>()
  const name = (names: readonly string[], value: MergeValue | null): void => {
    for (const each of names) values.set(fieldKey(each), value)
  }
  // Names of today come last: they win over what something else was called once.
  for (const { path, formerPaths } of junctions)
    name([...formerPaths, path].map(mergeNameOfJunction), linkTo(`/j/${path}`))
  for (const { id, name: deadline } of deadlines) {
    const ends = person?.deadlines?.[deadline]
    name([mergeNameOfDeadline(deadline)], ends === undefined ? null : { moment: ends, zone })
    name([mergeNameOfCountdown(deadline)], linkTo(countdownPathOf(id)))
  }
  for (const field of own) name(field.formerNames, ownValue(field, person?.own[field.id]))
  for (const detail of details) if (detail.kind !== 'picture') name(detail.formerNames, detailValue(detail))
  for (const field of own) name([field.name], ownValue(field, person?.own[field.id]))
  for (const detail of details) if (detail.kind !== 'picture') name([detail.name], detailValue(detail))
  for (const key of ['firstName', 'lastName', 'address'] as const)
    name([builtInNames[key]], person?.builtIn[key]?.trim() || null)
  name([cartName], person?.cart ?? null)
  name([couponName], person?.coupon ?? null)
  return { values, zone: person?.builtIn.zone ?? null }
}

/** A field as its reader sees it: its value, or its fall-back; undefined when there is no such field. */
export function mergedValue({ values, zone }: ReaderValues, field: MergeField): string | undefined {
  const value = values.get(fieldKey(field.name))
  if (value === undefined) return undefined
  return value === null ? field.fallback : formatMerged(value, field.format, zone)
}

/** A text as its reader sees it. What names no field stays as it was written. */
export function mergeWords(text: string, reader: ReaderValues): string {
  if (!text.includes('{')) return text
  return mergeParts(text)
    .map((part) => ('text' in part ? part.text : (mergedValue(reader, part.field) ?? part.written)))
    .join('')
}
