import { z } from 'zod'
import { formSubmission, type FormSubmission } from '../../contract/capture.ts'
import { source, type Source } from '../../core/audience/people/activity.ts'
import { isStorable } from '../../core/text.ts'

/** Why a form comes back, with what was typed still in it. */
export interface FormFault {
  notice: string
  status: number
  faults: Record<string, string>
}

const fault = (notice: string, status: number, faults: Record<string, string> = {}): FormFault => ({
  notice,
  status,
  faults,
})

const late = fault('This page was open for a long time. Please press the button again.', 409)
const used = fault(
  'This form has already been sent. To send it again as it is now, please press the button again.',
  409,
)
const robot = fault(
  'A hidden field was filled in, as robots do. If you are a person, please press the button again.',
  422,
)

/** The fields of a posted body or a query, whatever they hold. */
const fieldsOf = (values: unknown): Record<string, unknown> =>
  z.record(z.string(), z.unknown()).catch({}).parse(values)

/** The UTM values of a request, those left out that are no usable text. */
export function sourceOf(values: unknown): Source {
  const kept = Object.entries(fieldsOf(values)).filter(
    ([name, value]) => Object.hasOwn(source.shape, name) && typeof value === 'string' && isStorable(value),
  )
  const read = source.safeParse(Object.fromEntries(kept.filter(([, value]) => value !== '')))
  return read.success ? read.data : {}
}

/** What was typed, as far as it is text: shown again when something is wrong with it. */
export function typedIn(body: unknown): Record<string, string> {
  const raw = fieldsOf(body)
  const fields = ['firstName', 'address', 'consent'].flatMap((name) => {
    const value = raw[name]
    return typeof value === 'string' ? [[name, value.slice(0, 300)] as const] : []
  })
  return { ...Object.fromEntries(fields), ...sourceOf(body) }
}

/** A form as it was sent: what it says, or what is wrong with it. */
export type ReadForm = { form: string; late: FormFault; used: FormFault } & (
  { submission: FormSubmission } | { fault: FormFault }
)

/** Reads what a visitor's form posted, whatever that is. */
export function readForm(body: unknown): ReadForm {
  const fields = fieldsOf(body)
  const form = typeof fields.form === 'string' ? fields.form : ''
  const read = formSubmission.safeParse({ ...fields, source: sourceOf(body) })
  const common = { form, late, used }
  if (!read.success) {
    const faults = Object.fromEntries(
      read.error.issues.map((issue) => [String(issue.path[0]), issue.message]),
    )
    return { ...common, fault: fault('Almost there: please check the marked fields.', 422, faults) }
  }
  if (read.data.website !== '') return { ...common, fault: robot }
  return { ...common, submission: read.data }
}
