import { z } from 'zod'
import { condition } from '../core/audience/condition.ts'
import { fieldKind, fieldOption, fieldValue } from '../core/audience/field.ts'
import { marketingState } from '../core/audience/permission.ts'

const id = z.number().int().positive()
const name = z.string().trim().min(1, 'Give it a name').max(80, 'At most 80 letters')
const personName = z.string().trim().max(80, 'At most 80 letters')

export const contactSort = z.enum(['newest', 'oldest', 'name', 'address'])
export type ContactSort = z.infer<typeof contactSort>

/** More people than that are meant by a condition, not one by one. */
export const mostTicked = 1000

/** Who is meant: part of a name or address, a condition, and single people of all who match. */
export const selection = z.object({
  search: z.string().trim().max(200).default(''),
  tree: condition.nullable().default(null),
  /** Only some of these, each chosen by hand. */
  only: z.array(id).min(1).max(mostTicked).optional(),
  rehearsal: z.enum(['no', 'only']).default('no'),
})
export type Selection = z.infer<typeof selection>
/** The same as it is asked for: what is not said is not narrowed down. */
export type SelectionWish = z.input<typeof selection>

export const contactQuery = selection.extend({
  sort: contactSort.default('newest'),
  /** Where the page begins, as the page before it said. */
  after: z.string().max(500).nullable().default(null),
  size: z.number().int().min(1).max(200).default(50),
})
export type ContactQuery = z.infer<typeof contactQuery>

const tagView = z.object({ id: z.number().int(), name: z.string() })

export const contactRow = z.object({
  id: z.number().int(),
  name: z.string(),
  address: z.string(),
  marketingState,
  country: z.string().nullable(),
  tags: z.array(tagView),
  rehearsal: z.boolean(),
  createdAt: z.iso.datetime(),
})
export type ContactRow = z.infer<typeof contactRow>

/** A page of people; `next` is where the following one begins. How many there are is asked for by itself. */
export const contactList = z.object({ rows: z.array(contactRow), next: z.string().nullable() })
export type ContactList = z.infer<typeof contactList>

export const peopleCount = z.object({ people: z.number().int() })

export const tagCount = z.object({
  id: z.number().int(),
  name: z.string(),
  description: z.string(),
  people: z.number().int(),
})
export const tagList = z.array(tagCount)
export type TagCount = z.infer<typeof tagCount>

export const thingEdit = z.object({ name, description: z.string().trim().max(500).default('') })
export const mergeRequest = z.object({ into: id })

export const topicView = tagCount.extend({ archived: z.boolean() })
export const topicList = z.array(topicView)
export type TopicView = z.infer<typeof topicView>
export const topicEdit = thingEdit.extend({ archived: z.boolean().default(false) })

export const fieldView = z.object({
  id: z.number().int(),
  name: z.string(),
  kind: fieldKind,
  options: z.array(fieldOption),
  archived: z.boolean(),
  people: z.number().int(),
})
export const fieldList = z.array(fieldView)
export type FieldView = z.infer<typeof fieldView>

export const fieldEdit = z.object({
  name,
  kind: fieldKind,
  options: z.array(fieldOption).max(200).default([]),
  archived: z.boolean().default(false),
})
export type FieldEdit = z.infer<typeof fieldEdit>

/** One line of a person's journal: something they did, or something that was decided about them. */
export const journalLine = z.object({
  id: z.string(),
  at: z.iso.datetime(),
  sort: z.enum(['did', 'mail', 'followup', 'people']),
  title: z.string(),
  reason: z.string(),
})
export type JournalLine = z.infer<typeof journalLine>

/** A score with what it is made of: the reasons that weigh most first. */
export const personScore = z.object({
  scorecard: tagView,
  score: z.number(),
  band: z.string(),
  /** When time alone will change the band. */
  crossing: z.object({ at: z.iso.datetime(), band: z.string() }).nullable(),
  reasons: z.array(z.object({ what: z.string(), times: z.number().int(), points: z.number() })),
})
export type PersonScore = z.infer<typeof personScore>

export const personView = contactRow.extend({
  firstName: z.string(),
  lastName: z.string(),
  phone: z.string().nullable(),
  language: z.string().nullable(),
  zone: z.string().nullable(),
  source: z.record(z.string(), z.string()),
  pausedUntil: z.iso.datetime().nullable(),
  otherAddresses: z.array(z.string()),
  fields: z.record(z.string(), fieldValue),
  topics: z.array(tagView),
  scores: z.array(personScore),
  /** Their clock: ahead of the business's only in rehearsal. */
  now: z.iso.datetime(),
  consents: z.array(
    z.object({ at: z.iso.datetime(), given: z.boolean(), wording: z.string(), source: z.string() }),
  ),
  journal: z.array(journalLine),
})
export type PersonView = z.infer<typeof personView>

/** What the marketer types of a person; own fields as text, read by the field's kind. */
export const personEdit = z.object({
  address: z.string(),
  firstName: personName.default(''),
  lastName: personName.default(''),
  phone: z.string().trim().max(40).default(''),
  country: z.string().trim().max(80).default(''),
  language: z.string().trim().max(20).default(''),
  zone: z.string().trim().max(60).default(''),
  fields: z.record(z.string(), z.string()).default({}),
})
export type PersonEdit = z.infer<typeof personEdit>

export const personNew = personEdit.extend({
  /** How they agreed to be written to; empty when nobody has asked them. */
  consent: z.string().trim().max(1000).default(''),
  tags: z.array(name).max(20).default([]),
})
export const personId = z.object({ id })

export const taggingRequest = z.object({
  add: z.array(name).max(20).default([]),
  remove: z.array(id).max(50).default([]),
})
export const topicRequest = z.object({ topic: id, agreed: z.boolean() })

export const personMerge = z.object({ other: id })

/** Something done to everybody who is meant. */
export const bulkRequest = z.object({
  who: selection,
  does: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('addTag'), tag: name }),
    z.object({ kind: z.literal('removeTag'), tag: id }),
    z.object({ kind: z.literal('startFollowup'), followup: id }),
  ]),
})
export type BulkRequest = z.infer<typeof bulkRequest>
