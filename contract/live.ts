import { z } from 'zod'
import { get } from './route.ts'

/** What a screen can be told has changed; it then asks again for what it shows of it. */
export const liveSubject = z.enum([
  'audience',
  'followups',
  'email',
  'pages',
  'funnels',
  'workspace',
  'work',
  'orders',
])
export type LiveSubject = z.infer<typeof liveSubject>

export const live = {
  /** Server-sent events: which subjects have changed. */
  stream: get('/live', {}),
} as const
