import { z } from 'zod'
import { fieldKind, fieldOption } from '../../core/audience/describing/field.ts'

const id = z.number().int().positive()

/** What a thing of the marketer's is called. */
export const thingName = z.string().trim().min(1, 'Give it a name').max(80, 'At most 80 characters')

/** A thing by its id and name. */
export const named = z.object({ id: z.number().int(), name: z.string() })

export const tagView = z.object({
  id: z.number().int(),
  name: z.string(),
  description: z.string(),
  people: z.number().int(),
})
export const tagList = z.array(tagView)
export type TagView = z.infer<typeof tagView>

export const tagEdit = z.object({ name: thingName, description: z.string().trim().max(500).default('') })
export const mergeRequest = z.object({ into: id })

export const topicView = tagView.extend({ archived: z.boolean() })
export const topicList = z.array(topicView)
export type TopicView = z.infer<typeof topicView>
export const topicEdit = tagEdit.extend({ archived: z.boolean().default(false) })

/** An own field, as forms ask for it. */
export const ownField = named.extend({ kind: fieldKind, options: z.array(fieldOption) })

export const fieldView = ownField.extend({
  archived: z.boolean(),
  people: z.number().int(),
})
export const fieldList = z.array(fieldView)
export type FieldView = z.infer<typeof fieldView>

export const fieldEdit = z.object({
  name: thingName,
  kind: fieldKind,
  options: z.array(fieldOption).max(200).default([]),
  archived: z.boolean().default(false),
})
export type FieldEdit = z.infer<typeof fieldEdit>

/** Tags put on a person, by their names, and taken off. */
export const taggingRequest = z.object({
  add: z.array(thingName).max(20).default([]),
  remove: z.array(id).max(50).default([]),
})
export const topicRequest = z.object({ topic: id, agreed: z.boolean() })
