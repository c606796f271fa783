import type { Instant } from '../audience/people/activity.ts'
import { formatTime } from '../audience/segments/evaluate.ts'
import type { Advance, Decision, Effect, Enrolment, Facts } from './enrolment.ts'
import { departs, type Departure } from './leaving.ts'
import type { Pass } from './pass.ts'
import { passStep } from './passing.ts'
import type { Program } from './program.ts'
import { describeTrigger } from './sentences.ts'
import { isWait } from './step.ts'
import type { Track } from './track.ts'

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
  const { zone } = program
  const { names } = facts.context
  const pass: Pass = {
    enrolment,
    facts,
    person: {
      ...facts.person,
      tags: new Set(facts.person.tags),
      topics: new Set(facts.person.topics),
      fields: { ...facts.person.fields },
      deadlines: { ...facts.person.deadlines },
    },
    context: { ...facts.context, now, since: enrolment.startedAt, zone },
    effects,
    note: (step, outcome, reason) => decisions.push({ at: now, step, outcome, reason }),
  }
  const standing = (step: string | null, dueAt: Instant | null): Advance => ({
    enrolment: { ...enrolment, step, dueAt },
    effects,
    decisions,
  })

  let at = enrolment.step
  const departure = (): Departure | null =>
    at === null
      ? null
      : departs(program, track, { startedAt: enrolment.startedAt, step: at }, facts.person.activities, now)
  for (let leaving = departure(); leaving !== null; leaving = departure()) {
    const why = `${describeTrigger(leaving.rule.when, names)} (${formatTime(leaving.activity.at, zone)})`
    if (leaving.to === null) {
      pass.note(at, 'left', why)
      return standing(null, null)
    }
    pass.note(at, 'jumped', `to ${nameOfMilestone(track, leaving.to)}: ${why}`)
    at = leaving.to
    pass.enrolment = { ...pass.enrolment, dueAt: null }
  }

  /** What had its time is passed over up to the next wait. */
  let late = false
  let last = at
  while (at !== null) {
    const place = track.get(at)
    if (!place) {
      pass.note(at, 'left', 'this step is no longer part of the follow-up')
      return standing(null, null)
    }
    const { step, next } = place
    last = step.id
    if (isWait(step)) late = false
    if (late && step.kind !== 'end' && step.kind !== 'milestone') {
      pass.note(step.id, 'skipped', 'too late for this reminder')
      at = next
      continue
    }
    const passed = passStep(step, pass, next)
    if ('until' in passed) return standing(step.id, passed.until)
    late ||= passed.late ?? false
    pass.enrolment = { ...pass.enrolment, dueAt: null }
    at = passed.to
  }
  if (last !== null && decisions.at(-1)?.outcome !== 'left') pass.note(last, 'left', 'all steps are done')
  return standing(null, null)
}

function nameOfMilestone(track: Track, id: string): string {
  const step = track.get(id)?.step
  return step?.kind === 'milestone' ? `“${step.name}”` : id
}
