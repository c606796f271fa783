import type { Asks, FormAction } from '../../core/capture/form.ts'
import { sharedActionKinds, type ActionKinds } from '../blocks/inspector/actionKinds.ts'
import type { Field } from '../blocks/inspector/fields.ts'

const label: Field = { path: 'label', label: 'Label', as: 'line' }
const hint: Field = { path: 'hint', label: 'Hint below', as: 'line' }
const example: Field = { path: 'example', label: 'Example in the field', as: 'line' }
const required: Field = { path: 'required', label: 'Has to be answered', as: 'yes' }
const fault: Field = {
  path: 'fault',
  label: 'What is said when something is wrong',
  as: 'line',
  hint: 'Leave it empty for our words.',
}
const typed = [label, hint, example, required, fault] as const
const ownField: Field = { path: 'field', label: 'Field of yours', as: 'thing', thing: 'ownField' }

/** What can be set about each field of a form, most used first. */
export const fieldInputs: Record<Asks, readonly Field[]> = {
  address: [label, hint, example, fault],
  firstName: typed,
  lastName: typed,
  phone: typed,
  country: [label, hint, required, fault],
  own: [ownField, ...typed],
  message: typed,
  consent: [
    {
      path: 'label',
      label: 'What people agree to',
      as: 'sentences',
      hint: 'Kept word for word with each consent. Other words are another wording.',
    },
    { path: 'topics', label: 'Topics that it signs up for', as: 'thing', thing: 'topic', several: true },
    { path: 'required', label: 'Has to be ticked', as: 'yes' },
    fault,
  ],
  hidden: [
    ownField,
    {
      path: 'value.from',
      label: 'Value',
      as: 'choice',
      items: [
        { title: 'Written here', value: 'fixed' },
        { title: 'From the address of the page', value: 'address' },
      ],
    },
  ],
}

/** What a form can do with whoever sends it. */
export const formActionKinds: ActionKinds<FormAction> = {
  ...sharedActionKinds,
  sendFile: {
    title: 'Send a file by email',
    inputs: [{ path: 'file', label: 'File', as: 'thing', thing: 'file' }],
    fresh: { does: 'sendFile', file: null },
  },
  notifyTeam: { title: 'Write to the team', inputs: [], fresh: { does: 'notifyTeam' } },
}
