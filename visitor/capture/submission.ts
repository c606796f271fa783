import { z } from 'zod'
import { source, type Source } from '../../core/audience/people/activity.ts'
import { asKnown } from '../../core/capture/formHtml.ts'
import { fieldsOf, type FormContent } from '../../core/capture/form.ts'
import { isStorable } from '../../core/text.ts'

/** The longest text that is shown again when something is wrong with it. */
const longestKept = 2_000

const anyFields = z.record(z.string(), z.unknown()).catch({})

/** The fields of a posted body or a query, whatever they hold. */
const fieldsIn = (values: unknown): Record<string, unknown> => anyFields.parse(values)

/** A posted value as text; several of one name stand with semicolons between them. */
function textOf(value: unknown): string {
  if (typeof value === 'string') return value
  return Array.isArray(value) ? value.filter((each) => typeof each === 'string').join(';') : ''
}

/** The UTM values of a request, those left out that are no usable text. */
export function sourceOf(values: unknown): Source {
  const kept = Object.entries(fieldsIn(values)).filter(
    ([name, value]) => Object.hasOwn(source.shape, name) && typeof value === 'string' && isStorable(value),
  )
  if (kept.length === 0) return {}
  const read = source.safeParse(Object.fromEntries(kept.filter(([, value]) => value !== '')))
  return read.success ? read.data : {}
}

/** What a visitor's form posted, whatever that was. */
export interface Posted {
  /** The block that it stood in. */
  block: string
  version: number
  token: string
  /** The step that was filled in, from 0. */
  step: number
  back: boolean
  /** The address that was typed is right although it looks doubtful. */
  sure: string
  /** The address that was meant instead. */
  meant: string
  /** A known reader's own details are meant. */
  asKnown: boolean
  /** Something stands in the field that people do not see. */
  robot: boolean
  source: Source
  body: Record<string, unknown>
}

const naturalNumber = (value: unknown): number =>
  /^\d{1,9}$/.test(textOf(value)) ? Number(textOf(value)) : 0

export function readPosted(given: unknown): Posted {
  const body = fieldsIn(given)
  return {
    block: textOf(body.form),
    version: naturalNumber(body.version),
    token: textOf(body.token).slice(0, 500),
    step: naturalNumber(body.step),
    back: textOf(body.back) !== '',
    sure: textOf(body.sure),
    meant: textOf(body.meant),
    asKnown: textOf(body[asKnown]) === 'yes',
    robot: textOf(body.website) !== '',
    source: sourceOf(body),
    body,
  }
}

/** What was typed into the fields of a form, by field: what is no text is nothing. */
export function typedIn(content: FormContent, { body, meant }: Posted): Record<string, string> {
  return Object.fromEntries(
    fieldsOf(content).flatMap((field) => {
      const typed = field.asks === 'address' && meant !== '' ? meant : textOf(body[field.id])
      return typed === '' ? [] : [[field.id, typed.slice(0, longestKept)] as const]
    }),
  )
}

/** The values that an address gives to hidden fields, by field. */
export function hiddenIn(content: FormContent, query: unknown): Record<string, string> {
  const given = fieldsIn(query)
  return Object.fromEntries(
    fieldsOf(content).flatMap((field) => {
      if (field.asks !== 'hidden' || field.value.from !== 'address') return []
      const value = textOf(given[field.value.name])
      return value === '' || !isStorable(value) ? [] : [[field.id, value.slice(0, 300)] as const]
    }),
  )
}
