import { z } from 'zod'
import { condition } from '../../core/audience/segments/condition.ts'
import { moneyIn } from '../money.ts'
import { fieldValue } from '../../core/audience/describing/field.ts'
import { marketingState } from '../../core/audience/people/permission.ts'
import { named, thingName } from './describing.ts'

const id = z.number().int().positive()
const personName = z.string().trim().max(80, 'At most 80 characters')

export const contactSort = z.enum(['newest', 'oldest', 'name', 'nameDesc', 'address', 'addressDesc'])
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
export type SelectionInput = z.input<typeof selection>

/** The selection of an export, which is opened as a link, in its address. */
export const exportQuery = z.object({
  who: z
    .string()
    .max(20_000)
    .default('{}')
    .transform((text, context): unknown => {
      try {
        return JSON.parse(text)
      } catch {
        context.issues.push({ code: 'custom', input: text, message: 'This is not a selection of people' })
        return z.NEVER
      }
    })
    .pipe(selection),
})

export const contactQuery = selection.extend({
  sort: contactSort.default('newest'),
  /** Where the page begins, as the page before it said. */
  after: z.string().max(500).nullable().default(null),
  size: z.number().int().min(1).max(200).default(50),
})
export type ContactQuery = z.infer<typeof contactQuery>

export const contactRow = z.object({
  id: z.number().int(),
  name: z.string(),
  address: z.string(),
  marketingState,
  country: z.string().nullable(),
  tags: z.array(named),
  rehearsal: z.boolean(),
  createdAt: z.iso.datetime(),
})
export type ContactRow = z.infer<typeof contactRow>

/** A page of people; `next` is where the following one begins. How many there are is asked for by itself. */
export const contactList = z.object({ rows: z.array(contactRow), next: z.string().nullable() })
export type ContactList = z.infer<typeof contactList>

export const peopleCount = z.object({ people: z.number().int() })

/** One line of a person's journal: something they did, or something that was decided about them. */
export const journalLine = z.object({
  id: z.string(),
  at: z.iso.datetime(),
  category: z.enum(['did', 'mail', 'followup', 'people']),
  title: z.string(),
  reason: z.string(),
})
export type JournalLine = z.infer<typeof journalLine>

/** A score with what it is made of: the reasons that weigh most first. */
export const personScore = z.object({
  scorecard: named,
  score: z.number(),
  band: z.string(),
  /** When time alone will change the band. */
  crossing: z.object({ at: z.iso.datetime(), band: z.string() }).nullable(),
  reasons: z.array(z.object({ what: z.string(), times: z.number().int(), points: z.number() })),
})
export type PersonScore = z.infer<typeof personScore>

/** An entry of the ledger of consent, with all that proves it. */
export const consentEntry = z.object({
  at: z.iso.datetime(),
  given: z.boolean(),
  /** What was shown, word for word. */
  wording: z.string(),
  source: z.string(),
  topic: z.string().nullable(),
  form: z.string().nullable(),
  formVersion: z.number().int().nullable(),
  page: z.string().nullable(),
  pageVersion: z.number().int().nullable(),
  /** Of somebody else, by its origin. */
  site: z.string().nullable(),
  ip: z.string().nullable(),
  /** When they pressed the button in the email that asked. */
  confirmedAt: z.iso.datetime().nullable(),
})
export type ConsentEntry = z.infer<typeof consentEntry>

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
  topics: z.array(named),
  scores: z.array(personScore),
  /** What they have paid in all; null of who has bought nothing. */
  money: moneyIn.nullable(),
  /** Their clock: ahead of the business's only in rehearsal. */
  now: z.iso.datetime(),
  consents: z.array(consentEntry),
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
  tags: z.array(thingName).max(20).default([]),
  /** Made up, to try things with. */
  rehearsal: z.boolean().default(false),
})

export const personMerge = z.object({ other: id })

/** Something done to everybody who is meant. */
export const bulkRequest = z.object({
  who: selection,
  does: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('addTag'), tag: thingName }),
    z.object({ kind: z.literal('removeTag'), tag: id }),
    z.object({ kind: z.literal('startFollowup'), followup: id }),
  ]),
})
export type BulkRequest = z.infer<typeof bulkRequest>
