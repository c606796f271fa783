import { z } from 'zod'
import { get, post } from './route.ts'

/** Work that takes longer than a request, as every screen shows it. */
export const workView = z.object({
  id: z.number().int(),
  kind: z.enum(['import', 'importCheck', 'importUndo', 'bulk', 'broadcast', 'rescore']),
  title: z.string(),
  state: z.enum(['waiting', 'running', 'done', 'cancelled', 'failed']),
  step: z.string(),
  done: z.number().int(),
  total: z.number().int().nullable(),
  /** What it did, or why it did not. */
  said: z.string(),
})
export type WorkView = z.infer<typeof workView>
export const workList = z.array(workView)

export const workStarted = z.object({ work: z.number().int() })

export const work = {
  list: get('/work', { answer: workList }),
  cancel: post('/work/:id/cancel', {}),
} as const
