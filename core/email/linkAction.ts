import { z } from 'zod'
import {
  isActionOpen,
  personActions,
  topicActions,
  type KnownThings,
} from '../audience/people/personAction.ts'
import { referenceId } from '../blocks/reference.ts'

/** What a click on a link does with whoever clicks it. Points are given by scorecards. */
export const linkAction = z.discriminatedUnion('does', [
  ...personActions,
  ...topicActions,
  /** Whoever clicks has the mailbox: what waits for their yes comes true. */
  z.strictObject({ does: z.literal('confirmAddress') }),
  z.strictObject({ does: z.literal('leaveFollowup'), followup: referenceId.nullable().default(null) }),
])
export type LinkAction = z.infer<typeof linkAction>

/** Is nothing chosen for it, or something that is gone? */
export function isLinkActionOpen(action: LinkAction, known: KnownThings): boolean {
  switch (action.does) {
    case 'leaveFollowup':
      return action.followup === null || !known.followups.has(action.followup)
    case 'confirmAddress':
      return false
    case 'joinTopic':
    case 'leaveTopic':
    case 'addTag':
    case 'removeTag':
    case 'setField':
    case 'startFollowup':
      return isActionOpen(action, known)
  }
}
