import type { Activity, Instant, Source } from './activity.ts'
import type { BuiltInField } from '../segments/condition.ts'
import type { FieldValue } from '../describing/field.ts'
import type { MarketingState } from './permission.ts'
import type { StoredScore } from '../scores/score.ts'

/** What is known of one person when a question is asked of them. */
export interface Person {
  marketing: MarketingState
  /** No marketing email before this moment. */
  pausedUntil: Instant | null
  builtIn: Readonly<Partial<Record<BuiltInField, string>>>
  /** Own fields by id. */
  fields: Readonly<Record<number, FieldValue>>
  tags: ReadonlySet<number>
  /** Topics they agreed to. */
  topics: ReadonlySet<number>
  /** Wordings of consent that they have agreed to, at whatever time. */
  agreedTo: ReadonlySet<number>
  source: Source
  createdAt: Instant
  /** Oldest first. */
  activities: readonly Activity[]
  /** By scorecard. */
  scores: ReadonlyMap<number, StoredScore>
  enrolments: readonly { followup: number; ended: boolean }[]
  /** When personal deadlines of theirs are over, by name. */
  deadlines: Readonly<Record<string, Instant>>
}

/** Somebody of whom nothing is known. */
export const stranger: Person = {
  marketing: 'neverAsked',
  pausedUntil: null,
  builtIn: {},
  fields: {},
  tags: new Set(),
  topics: new Set(),
  agreedTo: new Set(),
  source: {},
  createdAt: 0,
  activities: [],
  scores: new Map(),
  enrolments: [],
  deadlines: {},
}
