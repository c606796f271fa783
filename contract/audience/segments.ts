import { z } from 'zod'
import { condition } from '../../core/audience/segments/condition.ts'
import { fieldKind } from '../../core/audience/describing/field.ts'
import { namedKinds } from '../../core/audience/segments/names.ts'
import { scorecard } from '../../core/audience/scores/scorecard.ts'
import { contactRow } from './people.ts'

export const segmentEdit = z.object({
  name: z.string().trim().min(1, 'Give the segment a name').max(80, 'At most 80 characters'),
  tree: condition,
})
export type SegmentEdit = z.infer<typeof segmentEdit>

export const segmentView = z.object({
  id: z.number().int(),
  name: z.string(),
  tree: condition,
  /** The condition as one reads it aloud. */
  sentence: z.string(),
  /** What it speaks of that is gone: then it means nobody until it is mended. */
  missing: z.array(z.string()),
  /** None as long as it is broken, or is being counted. */
  people: z.number().int().nullable(),
  /** How many there were, a number a day, oldest first. */
  trend: z.array(z.object({ day: z.string(), people: z.number().int() })),
  usedBy: z.array(z.string()),
})
export type SegmentView = z.infer<typeof segmentView>
export const segmentList = z.array(segmentView)

export const sampleRequest = z.object({ tree: condition })

/** Ten of those who are meant, or what stands in the way of telling who is. */
export const sampleView = z.object({
  rows: z.array(contactRow),
  sentence: z.string(),
  missing: z.array(z.string()),
})
export type SampleView = z.infer<typeof sampleView>

export const whyRequest = z.object({ tree: condition, contact: z.number().int().positive() })
export const whyView = z.object({ holds: z.boolean().nullable(), reason: z.string() })
export type WhyView = z.infer<typeof whyView>

const namedParts = z.record(z.string(), z.array(z.object({ id: z.string(), name: z.string() })))

/** What a condition can be about: things by kind with their names, and the scorecards' bands. */
export const vocabulary = z.object({
  names: z.record(z.enum(namedKinds), z.record(z.string(), z.string())),
  fields: z.array(
    z.object({
      id: z.number().int(),
      name: z.string(),
      kind: fieldKind,
      options: z.array(z.object({ id: z.string(), label: z.string() })),
    }),
  ),
  scorecards: z.record(z.string(), scorecard),
  /** The links of each email, by their ids, in reading order. */
  links: z.record(z.string(), z.array(z.number().int())),
  /** What is within things and has a name there: results and answers of quizzes, rules of junctions, prices of products, by the thing's id. */
  parts: z.object({ results: namedParts, answers: namedParts, rules: namedParts, prices: namedParts }),
  /** Personal deadlines, and coupons of which people get codes of their own. */
  deadlines: z.array(z.string()),
  coupons: z.array(z.string()),
})
export type Vocabulary = z.infer<typeof vocabulary>
