import { z } from 'zod'
import { junctionContent } from '../core/junctions/junction.ts'
import {
  draftState,
  labelledRow,
  publicView,
  settingsRoute,
  libraryName,
  saveOf,
  versionRoutes,
} from './drafts.ts'
import { created, get, post } from './route.ts'

const count = z.number().int()

export const junctionRow = labelledRow.extend({
  path: z.string(),
  rules: count,
  /** Sent on within 30 days: people who are known, and visitors whom nobody knows. */
  known: count,
  strangers: count,
})
export type JunctionRow = z.infer<typeof junctionRow>

/** What is proved of a junction, in words. */
export const junctionProofView = z.object({
  /** False while a rule speaks of something that is gone: then nothing can be proved. */
  provable: z.boolean(),
  rules: z.array(
    z.object({
      id: z.string(),
      is: z.enum(['reached', 'impossible', 'never', 'open']),
      /** Somebody who goes there, or whom the rule asks for in vain. */
      example: z.string().nullable(),
      /** What keeps people from it. */
      words: z.string().nullable(),
    }),
  ),
  /** Whom no rule takes, the shortest example first; nobody when empty. */
  untaken: z.array(z.string()),
})
export type JunctionProofView = z.infer<typeof junctionProofView>

export const junctionView = publicView.extend({
  content: junctionContent,
  proof: junctionProofView,
})
export type JunctionView = z.infer<typeof junctionView>

const newJunction = z.object({ name: libraryName, content: junctionContent })

/** Who would go where now, of everybody on the list. */
const sortedNow = z.object({
  /** By the id of the rule, or “-” for otherwise. */
  rules: z.array(z.object({ rule: z.string(), people: count })),
})

/** Where one person would be sent, and why. */
export const triedJunction = z.object({ rule: z.string(), to: z.string(), reason: z.string() })
export type TriedJunction = z.infer<typeof triedJunction>

/** Passes by rule over time, a number for each day. */
export const junctionPasses = z.object({
  days: z.array(z.string()),
  rules: z.array(z.object({ rule: z.string(), known: z.array(count), strangers: z.array(count) })),
})
export type JunctionPasses = z.infer<typeof junctionPasses>

export const junctions = {
  ...versionRoutes('/junctions'),
  list: get('/junctions', { answer: z.array(junctionRow) }),
  view: get('/junctions/:id', { answer: junctionView }),
  create: post('/junctions', { body: newJunction, answer: created }),
  settings: settingsRoute('/junctions'),
  save: post('/junctions/:id/save', {
    body: saveOf(junctionContent),
    answer: draftState.extend({ proof: junctionProofView }),
  }),
  sorted: post('/junctions/:id/sorted', { body: z.object({ content: junctionContent }), answer: sortedNow }),
  try: post('/junctions/:id/try', {
    body: z.object({ content: junctionContent, contact: z.number().int().positive() }),
    answer: triedJunction,
  }),
  passes: get('/junctions/:id/passes', { answer: junctionPasses }),
} as const
