import { z } from 'zod'
import type { Instant } from '../audience/people/activity.ts'
import type { Field, FieldValue } from '../audience/describing/field.ts'
import type { Purpose } from '../audience/people/permission.ts'
import type { Person } from '../audience/people/person.ts'
import type { ConditionContext } from '../audience/segments/evaluate.ts'
import type { StepOf } from './step.ts'

/** One person's way through one follow-up. */
export interface Enrolment {
  startedAt: Instant
  /** The step they stand on; null once they have left. */
  step: string | null
  /** Set while they wait on that step. */
  dueAt: Instant | null
  /** The session that the start spoke of. */
  session?: number | null
  /** By how much a pause has moved all that is reckoned from the start (milliseconds). */
  shifted?: number
  /** Sending steps whose message is made: they are not passed twice, whatever becomes of the program. */
  sent?: readonly string[]
}

/** What the engine may look at. */
export interface Facts {
  person: Person
  emails: Readonly<Record<number, { purpose: Purpose }>>
  /** Own fields, to read what a step writes into one. */
  fields: readonly Field[]
  /** When sessions begin. */
  sessions: Readonly<Record<number, Instant>>
  /** What their places in splits are drawn from: it stays the same for ever. */
  seed: string
  /** Names, segments and scorecards; the moment and the zone come from the enrolment and its program. */
  context: Omit<ConditionContext, 'zone'>
}

/** What follows at once from steps that change something about somebody. */
type Change = StepOf<
  | 'addTag'
  | 'removeTag'
  | 'givePoints'
  | 'joinTopic'
  | 'leaveTopic'
  | 'startFollowup'
  | 'leaveFollowup'
  | 'webhook'
>
type EffectOf<S extends Change> = S extends S ? Omit<S, 'id'> & { step: string } : never

/** What the server is to do, in order, in the transaction that stores the enrolment. */
export type Effect =
  | { kind: 'sendEmail'; step: string; email: number; whenFull?: 'move' | 'skip' }
  | { kind: 'notifyTeam'; step: string; words: string }
  | { kind: 'setField'; step: string; field: number; value: FieldValue }
  | { kind: 'startDeadline'; step: string; offer: string; endsAt: Instant }
  /** A code of a coupon for this person alone; they keep the first one. */
  | { kind: 'makeCoupon'; step: string; coupon: string }
  | EffectOf<Change>

/**
 * How a decision came out; `did` for what a step changed, `moved` when somebody was moved by hand, `jumped` when
 * something they did led them on, `setAside` when the step could not be worked out.
 */
export const outcome = z.enum([
  'sent',
  'skipped',
  'waits',
  'took',
  'tagged',
  'did',
  'jumped',
  'moved',
  'left',
  'setAside',
])
export type Outcome = z.infer<typeof outcome>

/** One line of the journal. */
export interface Decision {
  at: Instant
  step: string | null
  outcome: Outcome
  reason: string
}

export interface Advance {
  enrolment: Enrolment
  effects: Effect[]
  decisions: Decision[]
}
