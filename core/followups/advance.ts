import { z } from 'zod'
import type { Instant } from '../audience/people/activity.ts'
import {
  evaluate,
  formatTime,
  type EvaluationContext,
  type ConditionContext,
} from '../audience/segments/evaluate.ts'
import { nameOf } from '../audience/segments/names.ts'
import { mayReceive, type Purpose } from '../audience/people/permission.ts'
import type { Person } from '../audience/people/person.ts'
import type { BranchStep, Program, SendStep, Step } from './program.ts'
import type { Track } from './track.ts'
import { describeWait, waitEnds } from './waiting.ts'

/** One person's way through one follow-up. */
export interface Enrolment {
  startedAt: Instant
  /** The step they stand on; null once they have left. */
  step: string | null
  /** Set while they wait on that step. */
  dueAt: Instant | null
}

/** What the engine may look at. */
export interface Facts {
  person: Person
  emails: Readonly<Record<number, { purpose: Purpose }>>
  /** Names, segments and scorecards; the moment and the zone come from the enrolment and its program. */
  context: Omit<ConditionContext, 'zone'>
}

/** What the server is to do, in order, in the transaction that stores the enrolment. */
export type Effect =
  { kind: 'sendEmail'; step: string; email: number } | { kind: 'addTag'; step: string; tag: number }

/** How a decision came out; `setAside` when the step could not be worked out. */
export const outcome = z.enum(['sent', 'skipped', 'waits', 'took', 'tagged', 'left', 'setAside'])
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

/** A person who has just come in, standing before the first step. */
export function enrol(program: Program, now: Instant): Enrolment {
  return { startedAt: now, step: program.steps[0]?.id ?? null, dueAt: null }
}

/**
 * Moves one person on until they wait or leave. Pure: the same arguments give the same answer, so it runs
 * live, in rehearsal and in previews alike. Every step is passed at most once a call.
 * @param track the program's steps by id, from `indexSteps`
 * @returns the enrolment as it now stands, what to do, and why
 */
export function advance(
  program: Program,
  track: Track,
  enrolment: Enrolment,
  facts: Facts,
  now: Instant,
): Advance {
  const effects: Effect[] = []
  const decisions: Decision[] = []
  const tags = new Set(facts.person.tags)
  const person = { ...facts.person, tags }
  const context: EvaluationContext = { ...facts.context, now, since: enrolment.startedAt, zone: program.zone }
  const note = (step: string | null, outcome: Decision['outcome'], reason: string): void => {
    decisions.push({ at: now, step, outcome, reason })
  }

  let at = enrolment.step
  let dueAt = enrolment.dueAt
  while (at !== null) {
    const place = track.get(at)
    if (!place) {
      note(at, 'left', 'this step is no longer part of the follow-up')
      at = null
      break
    }
    const { step, next } = place
    switch (step.kind) {
      case 'waitFor':
        if (dueAt === null) {
          dueAt = waitEnds(step, now, program.zone)
          note(step.id, 'waits', `${describeWait(step)}, until ${formatTime(dueAt, program.zone)}`)
        }
        if (dueAt > now) return { enrolment: { ...enrolment, step: step.id, dueAt }, effects, decisions }
        dueAt = null
        at = next
        break
      case 'send': {
        const verdict = maySend(step, facts, person, context)
        if (verdict.allowed) effects.push({ kind: 'sendEmail', step: step.id, email: step.email })
        note(step.id, verdict.allowed ? 'sent' : 'skipped', verdict.reason)
        at = next
        break
      }
      case 'addTag':
        if (context.names.tags[step.tag] === undefined) {
          note(step.id, 'skipped', `the tag ${nameOf(context.names, 'tags', step.tag)} cannot be put on`)
          at = next
          break
        }
        if (!tags.has(step.tag)) effects.push({ kind: 'addTag', step: step.id, tag: step.tag })
        note(
          step.id,
          'tagged',
          `${nameOf(context.names, 'tags', step.tag)}${tags.has(step.tag) ? ', already there' : ''}`,
        )
        tags.add(step.tag)
        at = next
        break
      case 'branch': {
        const arm = chooseArm(step, person, context)
        note(step.id, 'took', `${arm.label}: ${arm.reason}`)
        at = arm.steps[0]?.id ?? next
        break
      }
      case 'end':
        note(step.id, 'left', 'the end of this lane')
        at = null
        break
    }
    if (at === null && decisions.at(-1)?.outcome !== 'left') note(step.id, 'left', 'all steps are done')
  }
  return { enrolment: { ...enrolment, step: null, dueAt: null }, effects, decisions }
}

function maySend(
  step: SendStep,
  facts: Facts,
  person: Person,
  context: EvaluationContext,
): { allowed: boolean; reason: string } {
  const email = facts.emails[step.email]
  const subject = nameOf(context.names, 'emails', step.email)
  if (!email) return { allowed: false, reason: `${subject}: the email was deleted` }
  const permission = mayReceive(email.purpose, {
    state: person.marketing,
    paused: (person.pausedUntil ?? 0) > context.now,
    agreed: true,
  })
  if (!permission.allowed) return { allowed: false, reason: `${subject}: ${permission.reason}` }
  const condition = step.onlyIf && evaluate(step.onlyIf, person, context)
  if (condition && !condition.holds) return { allowed: false, reason: `${subject}: ${condition.reason}` }
  return { allowed: true, reason: condition ? `${subject}: ${condition.reason}` : subject }
}

function chooseArm(
  step: BranchStep,
  person: Person,
  context: EvaluationContext,
): { label: string; steps: readonly Step[]; reason: string } {
  const reasons: string[] = []
  for (const arm of step.arms) {
    const answer = evaluate(arm.when, person, context)
    if (answer.holds) return { ...arm, reason: answer.reason }
    reasons.push(answer.reason)
  }
  return { ...step.otherwise, reason: reasons.join('; ') }
}
