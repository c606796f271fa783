import type { Vocabulary } from '../../contract/audience/segments.ts'
import type { NamedKind } from '../../core/audience/segments/names.ts'
import type { StartKind, StartRule } from '../../core/followups/start.ts'
import type { TriggerKind } from '../../core/followups/trigger.ts'
import { firstOf } from '../audience/segments/subjects.ts'

/** A detail of a rule that names a thing; `any` when it may be left open. */
interface RuleDetail {
  name: string
  kind: NamedKind
  any?: string
}

/** What the editor must know of something by which people come in or leave. */
interface RuleKind<K extends StartKind> {
  title: string
  details: readonly RuleDetail[]
  /** One to begin with; null when what it must name does not exist yet. */
  fresh: (words: Vocabulary) => Extract<StartRule, { kind: K }> | null
}

/** A rule that names a thing begins with the first that there is. */
const naming =
  <R>(kind: NamedKind, make: (id: number) => R) =>
  (words: Vocabulary): R | null => {
    const id = firstOf(words, kind)
    return id === null ? null : make(id)
  }

export const startKinds: { readonly [K in StartKind]: RuleKind<K> } = {
  formSent: {
    title: 'submits a form',
    details: [
      { name: 'form', kind: 'forms', any: 'any form' },
      { name: 'page', kind: 'pages', any: 'any page' },
    ],
    fresh: () => ({ kind: 'formSent' }),
  },
  addressConfirmed: {
    title: 'confirms the address',
    details: [{ name: 'form', kind: 'forms', any: 'by any form' }],
    fresh: () => ({ kind: 'addressConfirmed' }),
  },
  tagAdded: {
    title: 'gets a tag',
    details: [{ name: 'tag', kind: 'tags' }],
    fresh: naming('tags', (tag) => ({ kind: 'tagAdded', tag })),
  },
  tagRemoved: {
    title: 'loses a tag',
    details: [{ name: 'tag', kind: 'tags' }],
    fresh: naming('tags', (tag) => ({ kind: 'tagRemoved', tag })),
  },
  topicJoined: {
    title: 'joins a topic',
    details: [{ name: 'topic', kind: 'topics' }],
    fresh: naming('topics', (topic) => ({ kind: 'topicJoined', topic })),
  },
  topicLeft: {
    title: 'leaves a topic',
    details: [{ name: 'topic', kind: 'topics' }],
    fresh: naming('topics', (topic) => ({ kind: 'topicLeft', topic })),
  },
  emailOpened: {
    title: 'opens an email',
    details: [{ name: 'email', kind: 'emails' }],
    fresh: naming('emails', (email) => ({ kind: 'emailOpened', email })),
  },
  emailClicked: {
    title: 'clicks in an email',
    details: [{ name: 'email', kind: 'emails', any: 'any email' }],
    fresh: () => ({ kind: 'emailClicked' }),
  },
  fileDownloaded: {
    title: 'downloads a file',
    details: [{ name: 'file', kind: 'files', any: 'any file' }],
    fresh: () => ({ kind: 'fileDownloaded' }),
  },
  pageVisited: {
    title: 'visits a page',
    details: [{ name: 'page', kind: 'pages' }],
    fresh: naming('pages', (page) => ({ kind: 'pageVisited', page })),
  },
  quizFinished: {
    title: 'finishes a quiz',
    details: [{ name: 'quiz', kind: 'quizzes', any: 'any quiz' }],
    fresh: () => ({ kind: 'quizFinished' }),
  },
  quizLeft: {
    title: 'leaves a quiz they began',
    details: [{ name: 'quiz', kind: 'quizzes', any: 'any quiz' }],
    fresh: () => ({ kind: 'quizLeft' }),
  },
  junctionPassed: {
    title: 'is sent on by a junction',
    details: [{ name: 'junction', kind: 'junctions', any: 'any junction' }],
    fresh: () => ({ kind: 'junctionPassed' }),
  },
  courseFinished: {
    title: 'finishes a course',
    details: [{ name: 'course', kind: 'courses', any: 'any course' }],
    fresh: () => ({ kind: 'courseFinished' }),
  },
  productBought: {
    title: 'buys',
    details: [{ name: 'product', kind: 'products', any: 'anything' }],
    fresh: () => ({ kind: 'productBought' }),
  },
  orderRefunded: {
    title: 'gets money back',
    details: [{ name: 'product', kind: 'products', any: 'for anything' }],
    fresh: () => ({ kind: 'orderRefunded' }),
  },
  checkoutLeft: {
    title: 'leaves a checkout',
    details: [{ name: 'product', kind: 'products', any: 'of anything' }],
    fresh: () => ({ kind: 'checkoutLeft' }),
  },
  sessionRegistered: {
    title: 'registers for a session',
    details: [{ name: 'session', kind: 'sessions', any: 'any session' }],
    fresh: () => ({ kind: 'sessionRegistered' }),
  },
  sessionAttended: {
    title: 'attends a session',
    details: [{ name: 'session', kind: 'sessions', any: 'any session' }],
    fresh: () => ({ kind: 'sessionAttended' }),
  },
  sessionMissed: {
    title: 'misses a session',
    details: [{ name: 'session', kind: 'sessions', any: 'any session' }],
    fresh: () => ({ kind: 'sessionMissed' }),
  },
  bandReached: {
    title: 'reaches a band by points',
    details: [{ name: 'scorecard', kind: 'scorecards' }],
    fresh: ({ scorecards }) => {
      const [found] = Object.entries(scorecards)
      const band = found?.[1].bands.at(-1)
      return found && band ? { kind: 'bandReached', scorecard: Number(found[0]), band: band.id } : null
    },
  },
  fieldChanged: {
    title: 'has another value in a field',
    details: [{ name: 'field', kind: 'fields' }],
    fresh: naming('fields', (field) => ({ kind: 'fieldChanged', field })),
  },
  imported: { title: 'is imported', details: [], fresh: () => ({ kind: 'imported' }) },
  eventReported: {
    title: 'is reported by another program',
    details: [],
    fresh: () => ({ kind: 'eventReported', name: 'trial started' }),
  },
  dateComes: {
    title: 'reaches a date of theirs',
    details: [{ name: 'field', kind: 'fields' }],
    fresh: ({ fields }) => {
      const field = fields.find(({ kind }) => kind === 'date')
      return field
        ? { kind: 'dateComes', field: field.id, days: 0, side: 'before', every: 'year', time: '09:00' }
        : null
    },
  },
  segmentEntered: {
    title: 'comes into a segment',
    details: [{ name: 'segment', kind: 'segments' }],
    fresh: naming('segments', (segment) => ({ kind: 'segmentEntered', segment })),
  },
}

export const allStartKinds = Object.keys(startKinds) as StartKind[]

/** Those by which people can leave too: what they do at a moment. */
export const triggerKinds = allStartKinds.filter(
  (kind): kind is TriggerKind => kind !== 'dateComes' && kind !== 'segmentEntered',
)
