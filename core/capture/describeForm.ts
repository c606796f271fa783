import { canonical } from '../blocks/canonical.ts'
import type { Field } from '../audience/describing/field.ts'
import { nameOf, type Names } from '../audience/segments/names.ts'
import { countryName } from '../audience/people/country.ts'
import type { Target } from '../blocks/target.ts'
import { consentsOf, fieldsOf, type Asks, type FormAction, type FormContent, type FormField } from './form.ts'

/** What a field asks for, as the insert line lists it. */
export const asksWords: Record<Asks, string> = {
  address: 'email address',
  firstName: 'first name',
  lastName: 'last name',
  phone: 'phone number',
  country: 'country',
  own: 'field of your own',
  message: 'a few words to you',
  consent: 'consent',
  hidden: 'hidden value',
}

/** A field in short: its line in the outline. */
export function describeField(field: FormField, fields: readonly Pick<Field, 'id' | 'name'>[]): string {
  const own = (id: number | null): string => fields.find((each) => each.id === id)?.name ?? 'no field chosen'
  switch (field.asks) {
    case 'own':
      return field.label || own(field.field)
    case 'hidden':
      return `hidden: ${own(field.field)}`
    case 'consent':
      return `consent: ${field.label}`
    case 'address':
    case 'firstName':
    case 'lastName':
    case 'phone':
    case 'country':
    case 'message':
      return field.label || asksWords[field.asks]
  }
}

/** Everything that a form asks for, in a few words. */
export const describeAsked = (content: FormContent, fields: readonly Pick<Field, 'id' | 'name'>[]): string =>
  fieldsOf(content)
    .filter(({ asks }) => asks !== 'consent')
    .map((field) =>
      field.asks === 'own' || field.asks === 'hidden' ? describeField(field, fields) : asksWords[field.asks],
    )
    .join(', ')

function actionWords(action: FormAction, names: Names): string | null {
  switch (action.does) {
    case 'addTag':
      return action.tag === null ? null : `puts on the tag ${nameOf(names, 'tags', action.tag)}`
    case 'removeTag':
      return action.tag === null ? null : `takes off the tag ${nameOf(names, 'tags', action.tag)}`
    case 'setField':
      return action.field === null
        ? null
        : `sets ${nameOf(names, 'fields', action.field)} to “${action.value}”`
    case 'sendFile':
      return action.file === null ? null : `sends the file ${nameOf(names, 'files', action.file)} by email`
    case 'startFollowup':
      return action.followup === null
        ? null
        : `starts the follow-up ${nameOf(names, 'followups', action.followup)}`
    case 'notifyTeam':
      return 'writes to your team what was sent'
  }
}

function targetWords(target: Target, names: Names): string {
  switch (target.to) {
    case 'page':
      return `leads to the page ${nameOf(names, 'pages', target.page)}`
    case 'file':
      return `hands out the file ${nameOf(names, 'files', target.file)}`
    case 'web':
      return `leads to ${target.url}`
    case 'path':
      return `leads to ${target.path}`
    case 'nextStep':
      return 'leads to the next step of its funnel'
    case 'link':
      return 'leads on by a named link'
    case 'quiz':
      return `leads to the quiz ${nameOf(names, 'quizzes', target.quiz)}`
    case 'junction':
      return `sends on by the junction ${nameOf(names, 'junctions', target.junction)}`
    case 'nowhere':
    case 'popUp':
      return 'says thank you'
    case 'product':
      return `leads to where ${nameOf(names, 'products', target.product)} is sold`
    case 'cart':
      return 'leads back to their cart'
  }
}

function afterWords({ after }: FormContent, names: Names): string {
  switch (after.then) {
    case 'message':
      return `says “${after.title || after.words}”`
    case 'go':
      return targetWords(after.target, names)
    case 'offer':
      return `turns into the offer “${after.title || after.label}”`
  }
}

function confirmWords({ confirm }: FormContent): string | null {
  switch (confirm.when) {
    case 'never':
      return null
    case 'always':
      return 'everybody confirms their address by a click in an email'
    case 'byCountry':
      return `people in ${confirm.countries.map(countryName).join(', ') || 'no country yet'}, and those whose country is unknown, confirm their address`
    case 'whenUnsure':
      return 'who looks doubtful confirms their address'
  }
}

/**
 * What a form does, as one reads it aloud, a sentence each.
 * @param points what scorecards give for it, in words
 */
export function describeSending(content: FormContent, names: Names, points: readonly string[]): string[] {
  const { confirm } = content
  const topics = consentsOf(content).flatMap((field) => field.topics)
  const said = [
    confirmWords(content),
    confirm.when !== 'never' && confirm.waitingTag !== null
      ? `until they do, they have the tag ${nameOf(names, 'tags', confirm.waitingTag)}`
      : null,
    confirm.when !== 'never' && confirm.confirmedTag !== null
      ? `then it puts on the tag ${nameOf(names, 'tags', confirm.confirmedTag)}`
      : null,
    topics.length > 0
      ? `signs up who ticks the box for ${[...new Set(topics)].map((id) => nameOf(names, 'topics', id)).join(', ')}`
      : null,
    ...content.actions.map((action) => actionWords(action, names)),
    ...points,
    afterWords(content, names),
  ]
  return said.filter((each) => each !== null)
}

const quoted = (words: string): string => `“${words.length > 60 ? `${words.slice(0, 57)}…` : words}”`
const same = (a: unknown, b: unknown): boolean => canonical(a) === canonical(b)

const settings: Record<Exclude<keyof FormContent, 'steps'>, string> = {
  title: 'title',
  next: 'button to the next step',
  button: 'button',
  privacy: 'line under the button',
  known: 'what known people see',
  slips: 'question about typing slips',
  domains: 'list of mail domains',
  throwaway: 'what happens to throw-away addresses',
  confirm: 'double opt-in',
  after: 'what comes after sending',
  actions: 'what it does',
}

/** What is different between two versions of a form, in words. */
export function describeFormChanges(before: FormContent, after: FormContent): string[] {
  const [old, now] = [fieldsOf(before), fieldsOf(after)]
  const say = (field: FormField): string => quoted(describeField(field, []))
  const added = now.filter(({ id }) => !old.some((each) => each.id === id))
  const removed = old.filter(({ id }) => !now.some((each) => each.id === id))
  const changed = now.filter((field) => {
    const was = old.find(({ id }) => id === field.id)
    return was && !same(was, field)
  })
  const order = (fields: readonly FormField[], other: readonly FormField[]): string[] =>
    fields.map(({ id }) => id).filter((id) => other.some((each) => each.id === id))
  return [
    ...Object.entries(settings).flatMap(([key, words]) =>
      same(before[key as keyof FormContent], after[key as keyof FormContent]) ? [] : [`Changed ${words}`],
    ),
    ...added.map((field) => `Added ${say(field)}`),
    ...removed.map((field) => `Removed ${say(field)}`),
    ...changed.map((field) => `Changed ${say(field)}`),
    ...(same(order(old, now), order(now, old)) ? [] : ['Changed the order of fields']),
    ...(before.steps.length === after.steps.length
      ? []
      : [`Changed the number of steps from ${before.steps.length} to ${after.steps.length}`]),
  ]
}
