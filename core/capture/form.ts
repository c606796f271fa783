import { z } from 'zod'
import { personActions } from '../audience/people/personAction.ts'
import { line, sentences } from '../blocks/kinds/blockKind.ts'
import { referenceId } from '../blocks/reference.ts'
import { partId } from '../blocks/richText.ts'
import { nowhere, target } from '../blocks/target.ts'

/** Names that a posted form uses for other things than answers. */
const takenNames = new Set(['website', 'version'])

/** A field's id is also its name when the form is posted. */
const fieldId = partId.refine((id) => !takenNames.has(id), 'This id is used by the form itself')

/** What every field that people see has. */
const shown = {
  id: fieldId,
  label: line,
  hint: line.default(''),
  required: z.boolean().default(false),
  /** What is said when the answer is missing or cannot be read; our own words when empty. */
  fault: line.default(''),
}
const typed = { ...shown, example: line.default('') }

/** Where a hidden value comes from: written here, or a name in the address of the page (`?size=a5`). */
const hiddenFrom = z.discriminatedUnion('from', [
  z.strictObject({ from: z.literal('fixed'), value: z.string().max(300) }),
  z.strictObject({ from: z.literal('address'), name: z.string().regex(/^[A-Za-z][\w-]{0,39}$/) }),
])

export const formField = z.discriminatedUnion('asks', [
  z.strictObject({ asks: z.literal('address'), ...typed }),
  z.strictObject({ asks: z.literal('firstName'), ...typed }),
  z.strictObject({ asks: z.literal('lastName'), ...typed }),
  z.strictObject({ asks: z.literal('phone'), ...typed }),
  z.strictObject({ asks: z.literal('country'), ...shown }),
  /** A field of the business's own, of whatever kind. */
  z.strictObject({ asks: z.literal('own'), ...typed, field: referenceId.nullable().default(null) }),
  /** A few words to the team. */
  z.strictObject({ asks: z.literal('message'), ...typed }),
  /** A box to tick; its label is the wording that is kept with each consent. */
  z.strictObject({
    asks: z.literal('consent'),
    id: fieldId,
    label: z.string().max(1_000),
    topics: z.array(referenceId).max(20).default([]),
    required: z.boolean().default(true),
    fault: line.default(''),
  }),
  z.strictObject({
    asks: z.literal('hidden'),
    id: fieldId,
    field: referenceId.nullable().default(null),
    value: hiddenFrom,
  }),
])
export type FormField = z.infer<typeof formField>
export type Asks = FormField['asks']
export type FieldThat<K extends Asks> = Extract<FormField, { asks: K }>
/** A field that people see and answer. */
export type ShownField = Exclude<FormField, { asks: 'hidden' }>

export const formStep = z.strictObject({
  id: partId,
  title: line.default(''),
  fields: z.array(formField).max(40),
})
export type FormStep = z.infer<typeof formStep>

/** What a form does with whoever sends it, besides what the fields say. */
export const formAction = z.discriminatedUnion('does', [
  ...personActions,
  z.strictObject({ does: z.literal('sendFile'), file: referenceId.nullable().default(null) }),
  z.strictObject({ does: z.literal('notifyTeam') }),
])
export type FormAction = z.infer<typeof formAction>

/** What the visitor sees once the form was sent. */
export const afterSending = z.discriminatedUnion('then', [
  z.strictObject({ then: z.literal('message'), title: line, words: sentences }),
  z.strictObject({ then: z.literal('go'), target: target.default(nowhere) }),
  /** The place of the form turns into an offer, closed as easily as taken. */
  z.strictObject({
    then: z.literal('offer'),
    title: line,
    words: sentences,
    picture: referenceId.nullable().default(null),
    label: z.string().max(80),
    target: target.default(nowhere),
    decline: z.string().max(80),
  }),
])
export type AfterSending = z.infer<typeof afterSending>

/** Whether an address has to be confirmed by a click in an email. */
export const confirmWhen = z.enum(['never', 'whenUnsure', 'byCountry', 'always'])
export type ConfirmWhen = z.infer<typeof confirmWhen>

export const confirming = z.strictObject({
  when: confirmWhen.default('never'),
  /** ISO 3166-1 codes, for `byCountry`. */
  countries: z
    .array(z.string().regex(/^[A-Z]{2}$/))
    .max(250)
    .default([]),
  waitingTag: referenceId.nullable().default(null),
  confirmedTag: referenceId.nullable().default(null),
  /** A button on the page that the link opens, since scanners of mail open links too; or the click itself. */
  click: z.enum(['button', 'atOnce']).default('button'),
  /** One more email after a day. */
  remind: z.boolean().default(false),
  letter: z
    .strictObject({
      subject: z.string().trim().max(150),
      words: sentences,
      button: z.string().trim().max(80),
    })
    .default({
      subject: 'Please confirm your address',
      words: 'One click, and you get what you asked for.',
      button: 'Yes, that was me',
    }),
  /** What is said until they have confirmed. */
  waiting: z.strictObject({ title: line, words: sentences }).default({
    title: 'One more step: look in your mailbox',
    words: 'We have sent you an email with a button. Press it, and what you asked for comes to you.',
  }),
  /** Where the click leads; the same as after sending when nowhere. */
  next: target.default(nowhere),
})
export type Confirming = z.infer<typeof confirming>

/** What a version of a form holds. */
export const formContent = z
  .strictObject({
    title: line.default(''),
    steps: z.array(formStep).min(1, 'A form has at least one step').max(10, 'A form has ten steps at most'),
    /** On the button that leads to the next step. */
    next: z.string().max(80).default('Next'),
    button: z.string().max(80),
    privacy: line.default(''),
    /** What people see who are known by the link of an email: an empty form, one filled in, or its button alone. */
    known: z.enum(['ask', 'fill', 'skip']).default('fill'),
    /** Ask about typing slips in the domains of mailboxes; these besides those that are known everywhere. */
    slips: z.boolean().default(true),
    domains: z
      .array(
        z
          .string()
          .trim()
          .toLowerCase()
          .regex(/^[a-z0-9-]+(\.[a-z0-9-]+)+$/),
      )
      .max(50)
      .default([]),
    throwaway: z.enum(['take', 'warn', 'refuse']).default('warn'),
    confirm: confirming.default(() => confirming.parse({})),
    after: afterSending,
    actions: z.array(formAction).max(20).default([]),
  })
  .refine(({ steps }) => {
    const ids = steps.flatMap((step) => [step.id, ...step.fields.map(({ id }) => id)])
    return new Set(ids).size === ids.length
  }, 'Each part needs an id of its own')
export type FormContent = z.infer<typeof formContent>

/** Every field, in the order in which people see them. */
export const fieldsOf = ({ steps }: Pick<FormContent, 'steps'>): FormField[] =>
  steps.flatMap(({ fields }) => fields)

export const consentsOf = (content: Pick<FormContent, 'steps'>): FieldThat<'consent'>[] =>
  fieldsOf(content).flatMap((field) => (field.asks === 'consent' ? [field] : []))

/** A form that asks for the first name, the address and consent: what most need. @param wording of the consent */
export const simpleForm = (
  given: Partial<z.input<typeof formContent>> = {},
  wording = 'Yes, you may write to me. I can stop it at any time.',
): FormContent =>
  formContent.parse({
    steps: [
      {
        id: 'firststep',
        fields: [
          { asks: 'firstName', id: 'firstname', label: 'First name' },
          { asks: 'address', id: 'address', label: 'Email address', required: true },
          { asks: 'consent', id: 'consent', label: wording },
        ],
      },
    ],
    button: 'Send it to me',
    after: {
      then: 'message',
      title: 'Thank you',
      words: 'Look into your mailbox: we have written to you.',
    },
    ...given,
  })
