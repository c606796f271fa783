import { z } from 'zod'
import { marketingState } from '../core/audience/permission.ts'

export const contactSort = z.enum(['newest', 'oldest', 'name', 'address'])
export type ContactSort = z.infer<typeof contactSort>

export const contactQuery = z.object({
  search: z.string().trim().max(200).default(''),
  state: marketingState.optional(),
  tag: z.coerce.number().int().positive().optional(),
  rehearsal: z.enum(['no', 'only']).default('no'),
  sort: contactSort.default('newest'),
  page: z.coerce.number().int().min(1).max(100_000).default(1),
  size: z.coerce.number().int().min(1).max(200).default(50),
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

export const contactList = z.object({ total: z.number().int(), rows: z.array(contactRow) })
export type ContactList = z.infer<typeof contactList>

export const tagCount = z.object({ id: z.number().int(), name: z.string(), people: z.number().int() })
export const tagList = z.array(tagCount)
export type TagCount = z.infer<typeof tagCount>

/** One line of a person's journal: something they did, or something that was decided about them. */
export const journalLine = z.object({
  id: z.string(),
  at: z.iso.datetime(),
  sort: z.enum(['did', 'mail', 'followup', 'people']),
  title: z.string(),
  reason: z.string(),
})
export type JournalLine = z.infer<typeof journalLine>

export const personView = contactRow.extend({
  firstName: z.string(),
  lastName: z.string(),
  zone: z.string().nullable(),
  /** Their clock: ahead of the business's only in rehearsal. */
  now: z.iso.datetime(),
  consents: z.array(
    z.object({ at: z.iso.datetime(), given: z.boolean(), wording: z.string(), source: z.string() }),
  ),
  journal: z.array(journalLine),
})
export type PersonView = z.infer<typeof personView>
