import { z } from 'zod'
import { labels, publicPath } from '../core/blocks/publicPath.ts'
import { created, post } from './route.ts'

/** What pages, forms and other things with versions have in common. */
export const thingState = z.enum(['draft', 'live', 'archived'])
export type ThingState = z.infer<typeof thingState>

/** What a thing of the Library is called. */
export const libraryName = z.string().trim().min(1, 'Give it a name').max(120)

export const findingView = z.object({
  level: z.enum(['error', 'advice']),
  words: z.string(),
  part: z.string().nullable(),
})
export type FindingView = z.infer<typeof findingView>

/** Where a draft stands: a save that began from another place is refused. */
export const draftPlace = { version: z.number().int().positive(), revision: z.number().int().positive() }

/** What is said after each save. */
export const draftState = z.object({
  ...draftPlace,
  savedAt: z.iso.datetime(),
  savedBy: z.string(),
  /** What is different from what is published, in words. */
  changes: z.array(z.string()),
  findings: z.array(findingView),
  /** Who else has it open. */
  others: z.array(z.string()),
})
export type DraftState = z.infer<typeof draftState>

/** A thing with its draft, as its editor opens it. */
export const draftView = draftState.extend({
  id: z.number().int().positive(),
  name: z.string(),
  state: thingState,
  publishedVersion: z.number().int().nullable(),
  usedIn: z.array(z.string()),
  versions: z.array(
    z.object({
      number: z.number().int(),
      madeAt: z.iso.datetime(),
      madeBy: z.string(),
      published: z.boolean(),
    }),
  ),
})

/** A thing with versions and labels, as its list shows it. */
export const labelledRow = z.object({
  id: z.number().int(),
  name: z.string(),
  labels,
  state: thingState,
  /** The draft differs from what the public gets. */
  hasDraft: z.boolean(),
  usedIn: z.array(z.string()),
  changedAt: z.iso.datetime(),
})

/** What a thing with an address of its own is called, and where it is found. */
export const publicSettings = z.object({ name: libraryName, path: publicPath, labels })
export type PublicSettings = z.infer<typeof publicSettings>

/** A thing with an address of its own, as its editor opens it. */
export const publicView = draftView.extend({ path: z.string(), labels })
export type PublicView = z.infer<typeof publicView>

/** Takes what an earlier version says as the draft. */
const goBackRequest = z.object({ version: z.number().int().positive() })

export const archiveRequest = z.object({ archived: z.boolean() })

/** A save of what somebody has written. */
export const saveOf = <C extends z.ZodType>(content: C) =>
  z.object({
    ...draftPlace,
    /** Save over what somebody else has saved meanwhile. */
    over: z.boolean().default(false),
    content,
  })

/** Gives a thing its name, path and labels. @param path of the things */
export const settingsRoute = <const Path extends string>(path: Path) =>
  post(`${path}/:id/settings`, { body: publicSettings })

/** What can be done with everything that has versions, whatever it holds. @param path of the things */
export const versionRoutes = <const Path extends string>(path: Path) => ({
  publish: post(`${path}/:id/publish`, { body: z.object(draftPlace) }),
  goBack: post(`${path}/:id/go-back`, { body: goBackRequest }),
  copy: post(`${path}/:id/copy`, { answer: created }),
  archive: post(`${path}/:id/archive`, { body: archiveRequest }),
  delete: post(`${path}/:id/delete`, {}),
})
