import { z } from 'zod'
import { sendingRules as rules } from '../core/email/sendingRules.ts'
import { created, get, post } from './route.ts'

/** From whom emails come. */
export const senderView = z.object({
  id: z.number().int(),
  name: z.string(),
  address: z.string(),
  /** Somebody has opened the link that was sent to the address. */
  confirmed: z.boolean(),
  /** Emails that name no other come from it. */
  usual: z.boolean(),
  usedIn: z.array(z.string()),
})
export type SenderView = z.infer<typeof senderView>

const name = z
  .string()
  .trim()
  .min(1, 'Write the name that readers see')
  .max(120)
  .regex(/^[^\p{Cc}<>]*$/u, 'Leave out < and >')
export const newSender = z.object({ name, address: z.string().trim().min(1, 'Write the address').max(300) })

export const senders = {
  list: get('/senders', { answer: z.array(senderView) }),
  create: post('/senders', { body: newSender, answer: created }),
  rename: post('/senders/:id/rename', { body: z.object({ name }) }),
  /** Sends the link that confirms it anew. */
  ask: post('/senders/:id/ask', {}),
  makeUsual: post('/senders/:id/usual', {}),
  delete: post('/senders/:id/delete', {}),
} as const

export const sendingRules = {
  view: get('/sending-rules', { answer: rules }),
  save: post('/sending-rules', { body: rules }),
} as const
