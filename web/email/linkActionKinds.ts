import type { LinkAction } from '../../core/email/linkAction.ts'
import { sharedActionKinds, topicActionKinds, type ActionKinds } from '../blocks/inspector/actionKinds.ts'

/** What a click on a link can do. */
export const linkActionKinds: ActionKinds<LinkAction> = {
  ...sharedActionKinds,
  ...topicActionKinds,
  confirmAddress: { title: 'Confirm the address', inputs: [], fresh: { does: 'confirmAddress' } },
  leaveFollowup: {
    title: 'Leave a follow-up',
    inputs: [{ path: 'followup', label: 'Follow-up', as: 'thing', thing: 'followup' }],
    fresh: { does: 'leaveFollowup', followup: null },
  },
}
