import {
  mdiAccountVoice,
  mdiArrowRightThin,
  mdiCallSplit,
  mdiCheckCircleOutline,
  mdiClockEnd,
  mdiCloseCircleOutline,
  mdiEmailOutline,
  mdiFlagOutline,
  mdiFormTextbox,
  mdiMessageTextOutline,
  mdiPercentOutline,
  mdiPlusCircleOutline,
  mdiTagOffOutline,
  mdiTagOutline,
  mdiTicketPercentOutline,
  mdiTimerSandEmpty,
  mdiWebhook,
} from '@mdi/js'
import { DateTime } from 'luxon'
import type { Vocabulary } from '../../contract/audience/segments.ts'
import type { NamedKind } from '../../core/audience/segments/names.ts'
import type { StepKind, StepOf } from '../../core/followups/step.ts'
import { firstOf } from '../audience/segments/subjects.ts'

/** What the editor must know of a kind of step. */
interface StepKindTraits<K extends StepKind> {
  /** As one chooses it from the list. */
  title: string
  foundBy: string
  /** Waits are drawn as their track, and an end as a stop: they need no sign. */
  icon: string | undefined
  /** One to begin with; null when what it must name does not exist yet. */
  fresh: (id: string, words: Vocabulary) => StepOf<K> | null
  /** What must exist before one can be added. */
  needs?: string
}

/** A step that names a thing begins with the first that there is. */
const naming =
  <K extends StepKind>(kind: NamedKind, make: (id: string, thing: number) => StepOf<K>) =>
  (id: string, words: Vocabulary): StepOf<K> | null => {
    const thing = firstOf(words, kind)
    return thing === null ? null : make(id, thing)
  }

const clicked = { kind: 'did', activity: 'emailClicked', details: {}, atLeast: 1 } as const
const opened = { kind: 'did', activity: 'emailOpened', details: {}, atLeast: 1 } as const

export const stepKinds: { readonly [K in StepKind]: StepKindTraits<K> } = {
  send: {
    title: 'Send an email',
    foundBy: 'mail letter message',
    icon: mdiEmailOutline,
    fresh: naming('emails', (id, email) => ({ kind: 'send', id, email })),
    needs: 'an email',
  },
  waitFor: {
    title: 'Wait for some time',
    foundBy: 'delay days hours pause from the step before',
    icon: undefined,
    fresh: (id) => ({ kind: 'waitFor', id, amount: 2, unit: 'days' }),
  },
  waitDay: {
    title: 'Wait until a day after the start',
    foundBy: 'day from the start',
    icon: undefined,
    fresh: (id) => ({ kind: 'waitDay', id, day: 2, time: '09:00' }),
  },
  waitTime: {
    title: 'Wait until a time of day',
    foundBy: 'weekday morning window hours',
    icon: undefined,
    fresh: (id) => ({
      kind: 'waitTime',
      id,
      weekdays: [1, 2, 3, 4, 5],
      from: '09:00',
      to: '11:00',
      clocks: 'person',
    }),
  },
  waitDate: {
    title: 'Wait until a date',
    foundBy: 'fixed launch opening',
    icon: undefined,
    fresh: (id) => ({
      kind: 'waitDate',
      id,
      date: DateTime.now().plus({ weeks: 1 }).toISODate(),
      time: '09:00',
      past: 'goOn',
    }),
  },
  waitRelative: {
    title: 'Wait relative to a date of theirs',
    foundBy: 'session field deadline before after reminder',
    icon: undefined,
    fresh: (id) => ({
      kind: 'waitRelative',
      id,
      to: { what: 'session' },
      amount: 1,
      unit: 'hours',
      side: 'before',
      past: 'skip',
    }),
  },
  waitUntil: {
    title: 'Wait until they do something',
    foundBy: 'happens condition opens clicks buys at most',
    icon: mdiTimerSandEmpty,
    fresh: (id) => ({
      kind: 'waitUntil',
      id,
      when: clicked,
      atMost: { amount: 2, unit: 'days' },
      happened: { label: 'Did it', steps: [] },
      otherwise: { label: 'Did not', steps: [] },
    }),
  },
  branch: {
    title: 'Branch',
    foundBy: 'if condition lanes otherwise',
    icon: mdiCallSplit,
    fresh: (id) => ({
      kind: 'branch',
      id,
      arms: [{ label: 'Yes', when: opened, steps: [] }],
      otherwise: { label: 'No', steps: [] },
    }),
  },
  split: {
    title: 'Split by chance',
    foundBy: 'share percent test random',
    icon: mdiPercentOutline,
    fresh: (id) => ({
      kind: 'split',
      id,
      shares: [
        { label: 'First half', share: 50, steps: [] },
        { label: 'Second half', share: 50, steps: [] },
      ],
    }),
  },
  addTag: {
    title: 'Add a tag',
    foundBy: 'label put on',
    icon: mdiTagOutline,
    fresh: naming('tags', (id, tag) => ({ kind: 'addTag', id, tag })),
    needs: 'a tag',
  },
  removeTag: {
    title: 'Remove a tag',
    foundBy: 'label take off',
    icon: mdiTagOffOutline,
    fresh: naming('tags', (id, tag) => ({ kind: 'removeTag', id, tag })),
    needs: 'a tag',
  },
  setField: {
    title: 'Set a field',
    foundBy: 'own value',
    icon: mdiFormTextbox,
    fresh: naming('fields', (id, field) => ({ kind: 'setField', id, field, value: '' })),
    needs: 'a field of your own',
  },
  givePoints: {
    title: 'Give points',
    foundBy: 'score scorecard',
    icon: mdiPlusCircleOutline,
    fresh: naming('scorecards', (id, scorecard) => ({ kind: 'givePoints', id, scorecard, points: 10 })),
    needs: 'a scorecard',
  },
  joinTopic: {
    title: 'Join a topic',
    foundBy: 'subscribe list',
    icon: mdiCheckCircleOutline,
    fresh: naming('topics', (id, topic) => ({ kind: 'joinTopic', id, topic })),
    needs: 'a topic',
  },
  leaveTopic: {
    title: 'Leave a topic',
    foundBy: 'unsubscribe list',
    icon: mdiCloseCircleOutline,
    fresh: naming('topics', (id, topic) => ({ kind: 'leaveTopic', id, topic })),
    needs: 'a topic',
  },
  startFollowup: {
    title: 'Start another follow-up',
    foundBy: 'enter',
    icon: mdiArrowRightThin,
    fresh: naming('followups', (id, followup) => ({ kind: 'startFollowup', id, followup })),
    needs: 'another follow-up',
  },
  leaveFollowup: {
    title: 'Leave another follow-up',
    foundBy: 'stop end',
    icon: mdiCloseCircleOutline,
    fresh: naming('followups', (id, followup) => ({ kind: 'leaveFollowup', id, followup })),
    needs: 'another follow-up',
  },
  startDeadline: {
    title: 'Start a personal deadline',
    foundBy: 'offer countdown evergreen',
    icon: mdiClockEnd,
    fresh: (id) => ({
      kind: 'startDeadline',
      id,
      offer: 'Introductory price',
      lasts: { amount: 3, unit: 'days' },
    }),
  },
  notifyTeam: {
    title: 'Tell the team',
    foundBy: 'notify note',
    icon: mdiAccountVoice,
    fresh: (id) => ({ kind: 'notifyTeam', id, words: 'Please write a few words of your own.' }),
  },
  sendText: {
    title: 'Send a text message',
    foundBy: 'sms phone',
    icon: mdiMessageTextOutline,
    fresh: (id) => ({ kind: 'sendText', id, text: 'We begin in an hour.' }),
  },
  makeCoupon: {
    title: 'Make a coupon',
    foundBy: 'code discount',
    icon: mdiTicketPercentOutline,
    fresh: (id) => ({ kind: 'makeCoupon', id, coupon: 'Welcome' }),
  },
  webhook: {
    title: 'Report to another server',
    foundBy: 'webhook call api',
    icon: mdiWebhook,
    fresh: (id) => ({ kind: 'webhook', id, url: 'https://hooks.example/nurtel' }),
  },
  milestone: {
    title: 'Milestone',
    foundBy: 'mark jump goal',
    icon: mdiFlagOutline,
    fresh: (id) => ({ kind: 'milestone', id, name: 'Milestone' }),
  },
  end: { title: 'End', foundBy: 'leave stop', icon: undefined, fresh: (id) => ({ kind: 'end', id }) },
}

export const allStepKinds = Object.keys(stepKinds) as StepKind[]
