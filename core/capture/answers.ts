import { z } from 'zod'
import { fieldValue, readFieldValue, type Field } from '../audience/describing/field.ts'
import { parseAddress, type Address } from '../audience/people/address.ts'
import { countryFrom } from '../audience/people/country.ts'
import { readPhone } from '../audience/people/phone.ts'
import { typedName } from '../audience/people/typedName.ts'
import { isStorable } from '../text.ts'
import { fieldsOf, type FormContent, type FormField, type ShownField } from './form.ts'

/** The longest message to the team. */
export const longestMessage = 2_000

/** What somebody typed into a form, by field; several choices stand with semicolons between them. */
export type Typed = Readonly<Record<string, string>>

/** What a form says of whoever sends it, besides the address. What nobody asked for or answered is not there. */
export const storedAnswers = z.object({
  firstName: z.string().optional(),
  lastName: z.string().optional(),
  /** E.164. */
  phone: z.string().optional(),
  /** ISO 3166-1. */
  country: z.string().optional(),
  /** Own fields by id. */
  own: z.record(z.coerce.number(), fieldValue),
  message: z.string().optional(),
  /** Consent fields that were ticked. */
  agreed: z.array(z.string()),
})

export type Answers = z.infer<typeof storedAnswers> & { address: Address | null }

/** What an answer came to: a change of the answers, or a fault in words. */
type Read = { set: Partial<Answers> } | { fault: string } | null

interface Reading {
  own: ReadonlyMap<number, Field>
  /** For phone numbers that are written as at home. */
  country: string
}

const please = (label: string): string => `Please fill in “${label}”`

function readName(as: 'firstName' | 'lastName', typed: string): Read {
  const read = typedName.safeParse(typed)
  return read.success
    ? { set: { [as]: read.data } }
    : { fault: read.error.issues[0]?.message ?? 'Please check the name' }
}

function readOwn(field: Field | undefined, typed: string): Read {
  // A field that was deleted since is asked for in vain.
  if (!field) return null
  const read = readFieldValue(field, typed)
  if (!read.ok) return { fault: read.reason }
  return read.value === null ? null : { set: { own: { [field.id]: read.value } } }
}

/** Reads the answer to one field, which is not empty. */
function readAnswer(field: ShownField, typed: string, { own, country }: Reading): Read {
  switch (field.asks) {
    case 'address': {
      const address = parseAddress(typed)
      return address
        ? { set: { address } }
        : { fault: 'Please check the address: it should look like name@example.com' }
    }
    case 'firstName':
    case 'lastName':
      return readName(field.asks, typed)
    case 'phone': {
      const phone = readPhone(typed, country)
      return phone
        ? { set: { phone } }
        : { fault: 'Please check the number. Start with + and the country code, such as +353' }
    }
    case 'country': {
      const code = countryFrom(typed)
      return code ? { set: { country: code } } : { fault: 'Please choose a country' }
    }
    case 'own':
      return readOwn(own.get(field.field ?? 0), typed)
    case 'message':
      if (!isStorable(typed)) return { fault: 'Please take out the characters that cannot be shown' }
      return typed.length > longestMessage
        ? { fault: `Please shorten this to ${longestMessage.toLocaleString('en')} characters` }
        : { set: { message: typed } }
    case 'consent':
      return typed === 'yes' ? { set: { agreed: [field.id] } } : null
  }
}

/** What is said of a field that has to be answered and is not. */
function missingWords(field: ShownField): string {
  switch (field.asks) {
    case 'address':
      return 'Please write your email address'
    case 'consent':
      return 'Please tick the box, so that we may write to you'
    case 'firstName':
    case 'lastName':
    case 'phone':
    case 'country':
    case 'own':
    case 'message':
      return please(field.label)
  }
}

/** The value of a hidden field: a value that cannot be read is none, and nobody's fault. */
function hiddenAnswer(field: Extract<FormField, { asks: 'hidden' }>, typed: Typed, reading: Reading): Read {
  const value = field.value.from === 'fixed' ? field.value.value : (typed[field.id] ?? '')
  if (!isStorable(value)) return null
  const read = readOwn(reading.own.get(field.field ?? 0), value)
  return read && 'set' in read ? read : null
}

/** The country that other answers are read by, when the form asks for it. */
function countryTyped(content: FormContent, typed: Typed): string | null {
  const field = fieldsOf(content).find(({ asks }) => asks === 'country')
  return field ? countryFrom(typed[field.id] ?? '') : null
}

/**
 * Reads what was typed into a form, whatever that is.
 * @param own the fields of the business's own that the form asks for
 * @param country of the browser, for phone numbers that are written as at home
 * @returns the answers, and what is wrong by field, in the business's words where it has some
 */
export function readAnswers(
  content: FormContent,
  typed: Typed,
  own: readonly Field[],
  country: string | null,
): { answers: Answers; faults: Record<string, string> } {
  const reading: Reading = {
    own: new Map(own.map((field) => [field.id, field])),
    country: countryTyped(content, typed) ?? country ?? '',
  }
  const answers: Answers = { address: null, own: {}, agreed: [] }
  const faults: Record<string, string> = {}
  for (const field of fieldsOf(content)) {
    const words = (typed[field.id] ?? '').trim()
    let read: Read
    if (field.asks === 'hidden') read = hiddenAnswer(field, typed, reading)
    else if (words !== '') read = readAnswer(field, words, reading)
    // Nobody is taken in without an address.
    else read = field.required || field.asks === 'address' ? { fault: missingWords(field) } : null
    if (read && 'fault' in read) faults[field.id] = (field.asks !== 'hidden' && field.fault) || read.fault
    else if (read?.set.own) Object.assign(answers.own, read.set.own)
    else if (read?.set.agreed) answers.agreed.push(...read.set.agreed)
    else if (read) Object.assign(answers, read.set)
  }
  return { answers, faults }
}

/** The first step with a fault in it, counted from 0; past the last when there is none. */
export function firstFaultyStep({ steps }: FormContent, faults: Readonly<Record<string, string>>): number {
  const found = steps.findIndex(({ fields }) => fields.some(({ id }) => Object.hasOwn(faults, id)))
  return found < 0 ? steps.length : found
}
