import { isActionOpen, type KnownThings } from '../audience/people/personAction.ts'
import type { Finding } from '../pages/findings.ts'
import { consentsOf, fieldsOf, type FormAction, type FormContent, type FormField } from './form.ts'

/** What the rest of the install says about the things that a form speaks of. */
export interface FormSurroundings extends KnownThings {
  files: ReadonlySet<number>
  livePages: ReadonlySet<number>
  liveJunctions: ReadonlySet<number>
}

const advice = (words: string, part: string | null = null): Finding => ({ level: 'advice', words, part })
const error = (words: string, part: string | null = null): Finding => ({ level: 'error', words, part })

/** More fields than this cost sign-ups (common practice). */
const manyFields = 3

function findingsOfField(field: FormField, { fields, topics }: FormSurroundings): Finding[] {
  const unknownField = (id: number | null): Finding[] =>
    id !== null && fields.some((each) => each.id === id)
      ? []
      : [error('Choose which field of yours takes the answer', field.id)]
  switch (field.asks) {
    case 'own':
      return [
        ...unknownField(field.field),
        ...(field.label.trim() ? [] : [error('Write what you ask for', field.id)]),
      ]
    case 'hidden':
      return unknownField(field.field)
    case 'consent':
      return [
        ...(field.label.trim() ? [] : [error('Write what people agree to', field.id)]),
        ...(field.topics.every((id) => topics.has(id))
          ? []
          : [error('A topic of this consent was deleted', field.id)]),
      ]
    case 'address':
    case 'firstName':
    case 'lastName':
    case 'phone':
    case 'country':
    case 'message':
      return field.label.trim() ? [] : [error('Write what you ask for', field.id)]
  }
}

function isMissing(action: FormAction, around: FormSurroundings): boolean {
  if (action.does === 'sendFile') return action.file === null || !around.files.has(action.file)
  return action.does !== 'notifyTeam' && isActionOpen(action, around)
}

function findingsOfConfirming({ confirm }: FormContent, { tags }: FormSurroundings): Finding[] {
  if (confirm.when === 'never') return []
  const { subject, words, button } = confirm.letter
  return [
    ...(subject && words.trim() && button
      ? []
      : [error('Write subject, text and button of the confirmation email')]),
    ...(confirm.when === 'byCountry' && confirm.countries.length === 0
      ? [error('Choose the countries in which people confirm')]
      : []),
    ...([confirm.waitingTag, confirm.confirmedTag].every((tag) => tag === null || tags.has(tag))
      ? []
      : [error('A tag of the double opt-in was deleted')]),
  ]
}

function findingsOfAfter({ after }: FormContent, { livePages, liveJunctions }: FormSurroundings): Finding[] {
  const target = after.then === 'message' ? null : after.target
  const leads = target?.to === 'nowhere' ? [error('Choose where it leads after sending')] : []
  const dead = [
    ...(target?.to === 'page' && !livePages.has(target.page)
      ? [advice('After sending it leads to a page that is not live')]
      : []),
    ...(target?.to === 'junction' && !liveJunctions.has(target.junction)
      ? [advice('After sending it leads to a junction that is not live')]
      : []),
  ]
  if (after.then === 'go') return [...leads, ...dead]
  const words = after.words.trim() ? [] : [error('Write what is said after sending')]
  if (after.then === 'message') return words
  return [
    ...words,
    ...leads,
    ...dead,
    ...(after.label.trim() && after.decline.trim()
      ? []
      : [error('Write both buttons of the offer: yes and no')]),
  ]
}

/** Everything about a form that would go wrong or could be better, errors first. */
export function findingsOfForm(content: FormContent, around: FormSurroundings): Finding[] {
  const fields = fieldsOf(content)
  const addresses = fields.filter(({ asks }) => asks === 'address')
  const typed = fields.filter(({ asks }) => asks !== 'consent' && asks !== 'hidden')
  const empty = content.steps.findIndex((step) => step.fields.every(({ asks }) => asks === 'hidden'))
  const found = [
    ...fields.flatMap((field) => findingsOfField(field, around)),
    ...(addresses.length === 1
      ? []
      : [
          error(
            addresses.length === 0
              ? 'Ask for the email address: it is how a person is known'
              : 'Ask for the email address once',
            addresses[1]?.id,
          ),
        ]),
    ...(content.button.trim() ? [] : [error('Write what the button says')]),
    ...(empty < 0 || fields.length === 0
      ? []
      : [error(`Step ${empty + 1} asks for nothing`, content.steps[empty]?.id)]),
    ...content.actions.flatMap((action) =>
      isMissing(action, around) ? [error('Choose what is still open under “What it does”')] : [],
    ),
    ...findingsOfConfirming(content, around),
    ...findingsOfAfter(content, around),
    ...(typed.length > manyFields
      ? [advice(`${typed.length} fields: each one beyond two or three costs sign-ups`)]
      : []),
    ...(consentsOf(content).length === 0
      ? [advice('Nobody agrees to anything here: people get what they ask for, and no news')]
      : []),
  ]
  return found.sort((a, b) => Number(b.level === 'error') - Number(a.level === 'error'))
}
