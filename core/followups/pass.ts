import type { Person } from '../audience/people/person.ts'
import type { Condition } from '../audience/segments/condition.ts'
import { evaluate, type Answer, type EvaluationContext } from '../audience/segments/evaluate.ts'
import type { Effect, Enrolment, Facts, Outcome } from './enrolment.ts'
import type { Lane, Step } from './step.ts'

/** A person as they are in the middle of a pass: what a step did is seen by the next one. */
export interface Passenger extends Person {
  tags: Set<number>
  topics: Set<number>
  fields: Record<number, Person['fields'][number]>
  deadlines: Record<string, number>
}

/** One pass of one person over the steps. */
export interface Pass {
  enrolment: Enrolment
  facts: Facts
  person: Passenger
  /** With the moment and the zone of the follow-up. */
  context: EvaluationContext
  effects: Effect[]
  note: (step: string | null, outcome: Outcome, reason: string) => void
}

/** Where a step leads: on, or to stand still until a moment. `late` when what comes after it has had its time. */
export type Passed = { to: string | null; late?: boolean } | { until: number }

/** Passes one person over a step of a kind. @param next what comes after it */
export type PasserOf<S extends Step> = (step: S, pass: Pass, next: string | null) => Passed

/** What a condition says of who passes. */
export const asked = (when: Condition, { person, context }: Pass): Answer => evaluate(when, person, context)

/** Where a lane begins; what comes after it, when it is empty. */
export const firstOf = ({ steps }: Lane, next: string | null): string | null => steps[0]?.id ?? next
