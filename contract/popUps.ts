import { z } from 'zod'
import { popUpContent } from '../core/capture/popUp.ts'
import { draftState, draftView, libraryName, saveOf, thingState, versionRoutes } from './drafts.ts'
import { created, get, post } from './route.ts'

export const popUpRow = z.object({
  id: z.number().int(),
  name: z.string(),
  state: thingState,
  hasDraft: z.boolean(),
  shape: popUpContent.shape.shape.unwrap(),
  /** The forms in it, by name. */
  forms: z.array(z.string()),
  /** When and where it shows, as one reads it aloud. */
  rules: z.array(z.string()),
  /** Within 30 days. */
  seen: z.number().int(),
  sent: z.number().int(),
  changedAt: z.iso.datetime(),
})
export type PopUpRow = z.infer<typeof popUpRow>

export const popUpView = draftView.extend({
  content: popUpContent,
  /** By which other sites know it. */
  key: z.string(),
})
export type PopUpView = z.infer<typeof popUpView>

export const popUps = {
  ...versionRoutes('/pop-ups'),
  list: get('/pop-ups', { answer: z.array(popUpRow) }),
  view: get('/pop-ups/:id', { answer: popUpView }),
  create: post('/pop-ups', {
    body: z.object({ name: libraryName, content: popUpContent }),
    answer: created,
  }),
  rename: post('/pop-ups/:id/rename', { body: z.object({ name: libraryName }) }),
  save: post('/pop-ups/:id/save', { body: saveOf(popUpContent), answer: draftState }),
  /** Of two that are due the first opens. */
  order: post('/pop-ups/order', {
    body: z.object({ popUps: z.array(z.number().int().positive()).max(500) }),
  }),
} as const
