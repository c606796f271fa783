import { z } from 'zod'
import { target } from '../core/blocks/target.ts'
import { linkAction } from '../core/email/linkAction.ts'
import { libraryName } from './drafts.ts'
import { created, get, post } from './route.ts'

export const namedLinkEdit = z.object({ name: libraryName, target, actions: z.array(linkAction).max(10) })
export type NamedLinkEdit = z.infer<typeof namedLinkEdit>

/** A link that emails and pages share. */
export const namedLinkView = namedLinkEdit.extend({
  id: z.number().int(),
  people: z.number().int(),
  /** Followed on a page by somebody whom nobody knows. */
  strangers: z.number().int(),
  machines: z.number().int(),
  usedIn: z.array(z.string()),
})
export type NamedLinkView = z.infer<typeof namedLinkView>

export const namedLinks = {
  list: get('/named-links', { answer: z.array(namedLinkView) }),
  create: post('/named-links', { body: namedLinkEdit, answer: created }),
  save: post('/named-links/:id/save', { body: namedLinkEdit }),
  delete: post('/named-links/:id/delete', {}),
} as const
