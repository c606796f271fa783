import { z } from 'zod'
import { isActionOpen, personActions, type KnownThings } from '../audience/people/personAction.ts'
import { referenceId } from '../blocks/reference.ts'

const topic = referenceId.nullable().default(null)

/** What a click on a link does with whoever clicks it. Points are given by scorecards. */
export const linkAction = z.discriminatedUnion('does', [
  ...personActions,
  z.strictObject({ does: z.literal('joinTopic'), topic }),
  z.strictObject({ does: z.literal('leaveTopic'), topic }),
  /** Whoever clicks has the mailbox: what waits for their yes comes true. */
  z.strictObject({ does: z.literal('confirmAddress') }),
  z.strictObject({ does: z.literal('leaveFollowup'), followup: referenceId.nullable().default(null) }),
])
export type LinkAction = z.infer<typeof linkAction>

/** Is nothing chosen for it, or something that is gone? */
export function isLinkActionOpen(action: LinkAction, known: KnownThings): boolean {
  switch (action.does) {
    case 'joinTopic':
    case 'leaveTopic':
      return action.topic === null || !known.topics.has(action.topic)
    case 'leaveFollowup':
      return action.followup === null || !known.followups.has(action.followup)
    case 'confirmAddress':
      return false
    case 'addTag':
    case 'removeTag':
    case 'setField':
    case 'startFollowup':
      return isActionOpen(action, known)
  }
}
