import { DateTime } from 'luxon'
import { hasDetails, type Activity, type ActivityKind, type Instant } from './activity.ts'
import type { Condition, Leaf } from './condition.ts'
import { nameOf, type Names } from './names.ts'

/** What is known of one person when a question is asked of them. */
export interface Person {
  tags: ReadonlySet<number>
  /** Oldest first. */
  activities: readonly Activity[]
}

/** The moment and circumstances in which a question is asked. */
export interface Asking {
  now: Instant
  /** Nothing before this counts: the start of the follow-up that asks. */
  since?: Instant
  /** IANA zone in which times are told. */
  zone: string
  names: Names
}

/** The answer and the values it rests on, in words. */
export interface Answer {
  holds: boolean
  reason: string
}

/** A time as the journal tells it: "3 Mar 09:00". */
export function tellTime(at: Instant, zone: string): string {
  return DateTime.fromMillis(at, { zone }).setLocale('en-GB').toFormat('d LLL HH:mm')
}

type Say = (details: Record<string, unknown>, names: Names) => string

const named =
  (verb: string, kind: keyof Names, detail: string): Say =>
  (details, names) =>
    typeof details[detail] === 'number' ? `${verb} ${nameOf(names, kind, details[detail])}` : `${verb} any`

/** How an activity reads in a sentence about a person. */
const verbs: Partial<Record<ActivityKind, Say>> = {
  emailClicked: named('clicked in', 'emails', 'email'),
  emailSent: named('was sent', 'emails', 'email'),
  formSent: named('sent the form of', 'pages', 'page'),
  fileDownloaded: named('downloaded', 'files', 'file'),
  tagAdded: named('got the tag', 'tags', 'tag'),
  tagRemoved: named('lost the tag', 'tags', 'tag'),
}

/** What the person did, in words: ‘clicked in “Your template pack”’. */
export function tellActivity(kind: ActivityKind, details: Record<string, unknown>, names: Names): string {
  return verbs[kind]?.(details, names) ?? kind.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
}

function didEnough(leaf: Extract<Leaf, { kind: 'did' }>, person: Person, asking: Asking): Answer {
  const from = asking.since ?? Number.NEGATIVE_INFINITY
  const matching = person.activities.filter(
    (activity) =>
      activity.kind === leaf.activity &&
      activity.at >= from &&
      activity.at <= asking.now &&
      hasDetails(activity, leaf.details),
  )
  const holds = matching.length >= leaf.atLeast
  const what = tellActivity(leaf.activity, leaf.details, asking.names)
  const first = matching[0]
  const times = leaf.atLeast > 1 ? `, ${matching.length} of ${leaf.atLeast} times` : ''
  const looked =
    asking.since === undefined
      ? `until ${tellTime(asking.now, asking.zone)}`
      : `from ${tellTime(asking.since, asking.zone)} until ${tellTime(asking.now, asking.zone)}`
  const evidence = first && holds ? `${tellTime(first.at, asking.zone)}${times}` : `looked ${looked}${times}`
  return { holds, reason: `${what}: ${holds ? 'yes' : 'no'} (${evidence})` }
}

/**
 * Asks one person a question, in memory.
 * `all` of nothing holds and `any` of nothing does not, as in logic.
 */
export function evaluate(tree: Condition, person: Person, asking: Asking): Answer {
  switch (tree.kind) {
    case 'did':
      return didEnough(tree, person, asking)
    case 'hasTag': {
      const holds = person.tags.has(tree.tag)
      return {
        holds,
        reason: `has the tag ${nameOf(asking.names, 'tags', tree.tag)}: ${holds ? 'yes' : 'no'}`,
      }
    }
    case 'not': {
      const inner = evaluate(tree.of, person, asking)
      return { holds: !inner.holds, reason: `not (${inner.reason})` }
    }
    case 'all':
    case 'any': {
      const answers = tree.of.map((part) => evaluate(part, person, asking))
      const holds = tree.kind === 'all' ? answers.every((a) => a.holds) : answers.some((a) => a.holds)
      // Only the parts that decided it: why it failed, or why it held.
      const telling = answers.filter((a) => a.holds === holds)
      return { holds, reason: telling.map((a) => a.reason).join(tree.kind === 'all' ? ' and ' : ' or ') }
    }
  }
}
