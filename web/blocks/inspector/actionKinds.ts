import type { Field } from './fields.ts'

/** What can be set about a kind of action, and a new one of it. */
export interface ActionKind<Action> {
  title: string
  inputs: readonly Field[]
  fresh: Action
}

/** The kinds of actions that something can do with people. */
export type ActionKinds<Action extends { does: string }> = {
  readonly [K in Action['does']]: ActionKind<Extract<Action, { does: K }>>
}

const ownField: Field = { path: 'field', label: 'Field of yours', as: 'thing', thing: 'ownField' }
const tag: Field = { path: 'tag', label: 'Tag', as: 'thing', thing: 'tag' }

const topic: Field = { path: 'topic', label: 'Topic', as: 'thing', thing: 'topic' }

/** What links and quizzes alike can do with topics. */
export const topicActionKinds = {
  joinTopic: { title: 'Join a topic', inputs: [topic], fresh: { does: 'joinTopic', topic: null } },
  leaveTopic: { title: 'Leave a topic', inputs: [topic], fresh: { does: 'leaveTopic', topic: null } },
} as const

/** What forms and links alike can do. */
export const sharedActionKinds = {
  addTag: { title: 'Put on a tag', inputs: [tag], fresh: { does: 'addTag', tag: null } },
  removeTag: { title: 'Take off a tag', inputs: [tag], fresh: { does: 'removeTag', tag: null } },
  setField: {
    title: 'Set a field',
    inputs: [ownField, { path: 'value', label: 'Value', as: 'line' }],
    fresh: { does: 'setField', field: null, value: '' },
  },
  startFollowup: {
    title: 'Start a follow-up',
    inputs: [{ path: 'followup', label: 'Follow-up', as: 'thing', thing: 'followup' }],
    fresh: { does: 'startFollowup', followup: null },
  },
} as const
