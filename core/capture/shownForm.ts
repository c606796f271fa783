import type { Field, FieldValue } from '../audience/describing/field.ts'
import type { BuiltInField } from '../audience/segments/condition.ts'
import type { FormContent } from './form.ts'

/** A version of a form with all that drawing and reading it needs. */
export interface ShownForm {
  id: number
  version: number
  content: FormContent
  /** The fields of the business's own that it asks for. */
  fields: readonly Field[]
}

/** What is known of a reader who was recognised. */
export interface KnownReader {
  builtIn: Readonly<Partial<Record<BuiltInField, string>>>
  own: Readonly<Record<number, FieldValue>>
  /** Somebody made up, as whom a form is tried. */
  rehearsal: boolean
}

/** What stands in the place of a form that was sent. */
export type Done =
  { is: 'sent' } | { is: 'waiting'; /** With it the email can be asked for again. */ again: string | null }

/** What a form shows: what was typed so far, and what is wrong with it. */
export interface FormState {
  /** The block whose form was sent; others show nothing typed. */
  block: string | null
  values: Readonly<Record<string, string>>
  faults: Readonly<Record<string, string>>
  notice?: string
  /** The step that is shown, from 0. */
  step?: number
  /** An address that may be a slip or a mailbox to throw away: asked about once. */
  doubt?: { typed: string; meant: string | null }
  done?: Done
}
