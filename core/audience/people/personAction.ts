import { z } from 'zod'
import { referenceId } from '../../blocks/reference.ts'
import { readFieldValue, type Field, type FieldValue } from '../describing/field.ts'

const one = referenceId.nullable().default(null)

/** What forms and links alike can do with a person. Nothing is chosen yet where it says null. */
export const personActions = [
  z.strictObject({ does: z.literal('addTag'), tag: one }),
  z.strictObject({ does: z.literal('removeTag'), tag: one }),
  z.strictObject({ does: z.literal('setField'), field: one, value: z.string().max(300).default('') }),
  z.strictObject({ does: z.literal('startFollowup'), followup: one }),
] as const
export type PersonAction = z.infer<(typeof personActions)[number]>

/** What only somebody who surely is the one may do. */
export const topicActions = [
  z.strictObject({ does: z.literal('joinTopic'), topic: one }),
  z.strictObject({ does: z.literal('leaveTopic'), topic: one }),
] as const
export type TopicAction = z.infer<(typeof topicActions)[number]>

/** The things that actions can speak of, as they are now. */
export interface KnownThings {
  fields: readonly Field[]
  tags: ReadonlySet<number>
  /** Those that are not archived. */
  topics: ReadonlySet<number>
  followups: ReadonlySet<number>
}

/** Is nothing chosen for it, or something that is gone? */
export function isActionOpen(action: PersonAction | TopicAction, known: KnownThings): boolean {
  switch (action.does) {
    case 'joinTopic':
    case 'leaveTopic':
      return action.topic === null || !known.topics.has(action.topic)
    case 'addTag':
    case 'removeTag':
      return action.tag === null || !known.tags.has(action.tag)
    case 'setField':
      return !known.fields.some(({ id }) => id === action.field)
    case 'startFollowup':
      return action.followup === null || !known.followups.has(action.followup)
  }
}

/** The value that an action sets, by the field's id; none when the field is gone or its value cannot be read. */
export function valueSetBy(
  { field: id, value }: Extract<PersonAction, { does: 'setField' }>,
  fields: readonly Field[],
): { field: Field; values: Record<string, FieldValue> } | null {
  const field = fields.find((each) => each.id === id)
  const read = field && readFieldValue(field, value)
  return field && read?.ok && read.value !== null
    ? { field, values: { [String(field.id)]: read.value } }
    : null
}
