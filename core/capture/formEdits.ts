import { asksWords } from './describeForm.ts'
import type { Asks, FormContent, FormField, FormStep } from './form.ts'

/** Where a field stands: the step, and its place in it. */
export interface FieldPlace {
  step: number
  index: number
}

export const findField = ({ steps }: FormContent, id: string): FieldPlace | null => {
  for (const [step, { fields }] of steps.entries()) {
    const index = fields.findIndex((field) => field.id === id)
    if (index >= 0) return { step, index }
  }
  return null
}

const withFields = (content: FormContent, step: number, fields: FormField[]): FormContent => ({
  ...content,
  steps: content.steps.map((each, i) => (i === step ? { ...each, fields } : each)),
})

/** Takes out a field, or a step with all its fields; the only step stays. */
export function removePart(content: FormContent, id: string): FormContent {
  const at = findField(content, id)
  if (at)
    return withFields(
      content,
      at.step,
      (content.steps[at.step]?.fields ?? []).filter((field) => field.id !== id),
    )
  const steps = content.steps.filter((step) => step.id !== id)
  return steps.length > 0 ? { ...content, steps } : content
}

/** Puts a field before the nth of a step. */
export function insertField(
  content: FormContent,
  field: FormField,
  { step, index }: FieldPlace,
): FormContent {
  const fields = content.steps[step]?.fields ?? []
  return withFields(content, step, [...fields.slice(0, index), field, ...fields.slice(index)])
}

/** Puts a field that stands somewhere else before the nth of a step; the place counts without itself. */
export function moveField(content: FormContent, id: string, to: FieldPlace): FormContent {
  const at = findField(content, id)
  const field = at && content.steps[at.step]?.fields[at.index]
  return field ? insertField(removePart(content, id), field, to) : content
}

/** Moves a part one place up or down: a field over the end of its step into the next, a step past another. */
export function shiftPart(content: FormContent, id: string, by: -1 | 1): FormContent {
  const at = findField(content, id)
  if (!at) {
    const from = content.steps.findIndex((step) => step.id === id)
    const to = from + by
    const [step, other] = [content.steps[from], content.steps[to]]
    if (!step || !other) return content
    const steps = content.steps.map((each, i) => (i === from ? other : i === to ? step : each))
    return { ...content, steps }
  }
  const { length } = content.steps[at.step]?.fields ?? []
  const index = at.index + by
  if (index >= 0 && index < length) return moveField(content, id, { step: at.step, index })
  const step = at.step + by
  const beside = content.steps[step]
  return beside ? moveField(content, id, { step, index: by < 0 ? beside.fields.length : 0 }) : content
}

/** The same form with a field in another wording. */
export const changeField = (content: FormContent, field: FormField): FormContent => {
  const at = findField(content, field.id)
  return at
    ? withFields(
        content,
        at.step,
        (content.steps[at.step]?.fields ?? []).map((each) => (each.id === field.id ? field : each)),
      )
    : content
}

export const changeStep = (content: FormContent, step: FormStep): FormContent => ({
  ...content,
  steps: content.steps.map((each) => (each.id === step.id ? step : each)),
})

const labels: Record<Asks, string> = {
  ...asksWords,
  address: 'Email address',
  firstName: 'First name',
  lastName: 'Last name',
  phone: 'Phone number',
  country: 'Country',
  own: '',
  message: 'What would you like to know?',
  consent: 'Yes, you may write to me. I can stop it at any time.',
}

/** A new field, as most would ask it. */
export function freshField(asks: Asks, id: string): FormField {
  const shown = { id, label: labels[asks], hint: '', required: false, fault: '' }
  switch (asks) {
    case 'consent':
      return { asks, id, label: shown.label, topics: [], required: false, fault: '' }
    case 'hidden':
      return { asks, id, field: null, value: { from: 'fixed', value: '' } }
    case 'country':
      return { asks, ...shown }
    case 'own':
      return { asks, ...shown, example: '', field: null }
    case 'address':
      return { asks, ...shown, required: true, example: '' }
    case 'firstName':
    case 'lastName':
    case 'phone':
    case 'message':
      return { asks, ...shown, example: '' }
  }
}
