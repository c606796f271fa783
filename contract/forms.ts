import { z } from 'zod'
import { formContent } from '../core/capture/form.ts'
import { draftState, draftView, saveOf, libraryName, thingState, versionRoutes } from './drafts.ts'
import { created, get, post } from './route.ts'

const count = z.number().int()

export const formRow = z.object({
  id: z.number().int(),
  name: z.string(),
  state: thingState,
  /** The draft differs from what visitors see. */
  hasDraft: z.boolean(),
  /** What it asks for, in words. */
  asks: z.string(),
  confirm: formContent.shape.confirm.unwrap().shape.when.unwrap(),
  /** Within 30 days. */
  seen: count,
  sent: count,
  /** People who have not confirmed their address yet. */
  waiting: count,
  usedIn: z.array(z.string()),
  changedAt: z.iso.datetime(),
})
export type FormRow = z.infer<typeof formRow>

export const formView = draftView.extend({
  content: formContent,
  /** By which other sites know it. */
  key: z.string(),
  /** What it does, as one reads it aloud. */
  sends: z.array(z.string()),
})
export type FormView = z.infer<typeof formView>

/** How a form does in one place: a page, a pop-up or another site. */
const placeNumbers = z.object({ place: z.string(), seen: count, begun: count, sent: count })

/** How its double opt-in does, for people from one source. */
const confirmNumbers = z.object({
  source: z.string(),
  asked: count,
  confirmed: count,
  /** Uses of the links in the emails. */
  clicks: count,
  /** Asked, never confirmed, and forgotten since. */
  forgotten: count,
  /** Half of those who confirmed took at most so long (ms); null while nobody has. */
  median: z.number().nullable(),
})

export const formNumbers = z.object({
  /** Within 30 days. */
  places: z.array(placeNumbers),
  confirmations: z.array(confirmNumbers),
})
export type FormNumbers = z.infer<typeof formNumbers>

/** Somebody in rehearsal as whom a form can be tried. */
const formTrial = z.object({
  contact: z.number().int(),
  name: z.string(),
  /** The form by itself, as they would come to it by a link of their mail. */
  url: z.string(),
})
export type FormTrial = z.infer<typeof formTrial>

const newForm = z.object({
  name: libraryName,
  content: formContent,
  /** Visitors can use it at once. */
  publish: z.boolean().default(false),
})

export const forms = {
  ...versionRoutes('/forms'),
  list: get('/forms', { answer: z.array(formRow) }),
  view: get('/forms/:id', { answer: formView }),
  create: post('/forms', { body: newForm, answer: created }),
  rename: post('/forms/:id/rename', { body: z.object({ name: libraryName }) }),
  save: post('/forms/:id/save', {
    body: saveOf(formContent),
    answer: draftState.extend({ sends: z.array(z.string()) }),
  }),
  numbers: get('/forms/:id/numbers', { answer: formNumbers }),
  /** Once a version of it is published. */
  trials: get('/forms/:id/trials', { answer: z.array(formTrial) }),
} as const
