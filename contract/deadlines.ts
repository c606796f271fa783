import { z } from 'zod'
import { deadline } from '../core/commerce/deadline.ts'
import { created, get, post } from './route.ts'

export const deadlineView = deadline.extend({
  id: z.number().int(),
  /** For how many people it runs, and for how many it is over; nobody made up is counted. */
  running: z.number().int(),
  over: z.number().int(),
  changedAt: z.iso.datetime(),
})
export type DeadlineView = z.infer<typeof deadlineView>

export const deadlines = {
  list: get('/deadlines', { answer: z.array(deadlineView) }),
  create: post('/deadlines', { body: deadline, answer: created }),
  save: post('/deadlines/:id/save', { body: deadline }),
  delete: post('/deadlines/:id/delete', {}),
} as const
