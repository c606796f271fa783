import type { LinkAction } from '../../core/email/linkAction.ts'
import { sharedActionKinds, type ActionKinds } from '../blocks/inspector/actionKinds.ts'

const topic = { path: 'topic', label: 'Topic', as: 'thing', thing: 'topic' } as const

/** What a click on a link can do. */
export const linkActionKinds: ActionKinds<LinkAction> = {
  ...sharedActionKinds,
  joinTopic: { title: 'Join a topic', inputs: [topic], fresh: { does: 'joinTopic', topic: null } },
  leaveTopic: { title: 'Leave a topic', inputs: [topic], fresh: { does: 'leaveTopic', topic: null } },
  confirmAddress: { title: 'Confirm the address', inputs: [], fresh: { does: 'confirmAddress' } },
  leaveFollowup: {
    title: 'Leave a follow-up',
    inputs: [{ path: 'followup', label: 'Follow-up', as: 'thing', thing: 'followup' }],
    fresh: { does: 'leaveFollowup', followup: null },
  },
}
