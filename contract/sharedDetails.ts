import { z } from 'zod'
import { detailContent, detailName } from '../core/blocks/sharedDetail.ts'
import { mergeFormat } from '../core/blocks/mergeText.ts'
import { created, get, post } from './route.ts'

/** A named value that pages and emails say. */
export const sharedDetailView = z.object({
  id: z.number().int(),
  name: z.string(),
  content: detailContent,
  /** What it says, in words. */
  says: z.string(),
  /** Its moment has passed. */
  past: z.boolean(),
  usedIn: z.array(z.string()),
  changedAt: z.iso.datetime(),
  changedBy: z.string(),
})
export type SharedDetailView = z.infer<typeof sharedDetailView>

export const detailEdit = z.object({ name: detailName, content: detailContent })
export type DetailEdit = z.infer<typeof detailEdit>

/** A merge field as the picker offers it. */
export const mergeFieldChoice = z.object({
  name: z.string(),
  from: z.enum(['person', 'own', 'detail', 'junction']),
  /** How its value can be said, the first of them without being asked for. */
  formats: z.array(mergeFormat),
  /** What it says to the person that was chosen, in each of these formats; null without a value. */
  says: z.array(z.string()).nullable(),
})
export type MergeFieldChoice = z.infer<typeof mergeFieldChoice>

export const sharedDetails = {
  list: get('/shared-details', { answer: z.array(sharedDetailView) }),
  create: post('/shared-details', { body: detailEdit, answer: created }),
  save: post('/shared-details/:id/save', { body: detailEdit }),
  delete: post('/shared-details/:id/delete', {}),
  /** What a text can name; with what it says to a person. */
  mergeFields: get('/merge-fields', {
    query: z.object({ person: z.coerce.number().int().positive().optional() }),
    answer: z.array(mergeFieldChoice),
  }),
} as const
