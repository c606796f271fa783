import { formatTime } from '../audience/segments/evaluate.ts'
import { asked, firstOf, type Pass, type Passed, type PasserOf } from './pass.ts'
import { describeWait } from './sentences.ts'
import type { StepOf, WaitKind, WaitStep } from './step.ts'
import { referenceOf, waitEnds, type Waiter } from './waiting.ts'

/** Who waits, as waits must know them. */
function waiterOf({ enrolment, facts, person, context }: Pass): Waiter {
  const { session } = enrolment
  return {
    startedAt: enrolment.startedAt + (enrolment.shifted ?? 0),
    zone: context.zone,
    ownZone: person.builtIn.zone,
    session: session == null ? null : (facts.sessions[session] ?? null),
    dateIn(field) {
      const value = person.fields[field]
      return typeof value === 'string' ? value : null
    },
    deadline: (offer) => person.deadlines[offer] ?? null,
  }
}

/** Stands still on a wait whose end is known, and says so once. */
function standStill(step: WaitStep, pass: Pass, until: number): Passed {
  const { names, zone } = pass.context
  if (pass.enrolment.dueAt === null)
    pass.note(step.id, 'waits', `${describeWait(step, names)}, until ${formatTime(until, zone)}`)
  return { until }
}

/** A wait for a moment: on at once when it has come. */
export const untilMoment: PasserOf<StepOf<Exclude<WaitKind, 'waitUntil' | 'waitRelative' | 'waitDate'>>> = (
  step,
  pass,
  next,
) => {
  const until = pass.enrolment.dueAt ?? waitEnds(step, pass.context.now, waiterOf(pass)) ?? pass.context.now
  return until > pass.context.now ? standStill(step, pass, until) : { to: next }
}

export const untilDate: PasserOf<StepOf<'waitDate'>> = (step, pass, next) => {
  const { now, zone } = pass.context
  const until = pass.enrolment.dueAt ?? waitEnds(step, now, waiterOf(pass)) ?? now
  if (until > now) return standStill(step, pass, until)
  if (pass.enrolment.dueAt !== null || until === now || step.past === 'goOn') return { to: next }
  pass.note(step.id, 'left', `${formatTime(until, zone)} has passed`)
  return { to: null }
}

export const untilRelative: PasserOf<StepOf<'waitRelative'>> = (step, pass, next) => {
  const { now, zone, names } = pass.context
  const waiter = waiterOf(pass)
  const reference = referenceOf(step, waiter)
  // Where a date moves while they wait, the wait moves with it.
  const until = waitEnds(step, now, waiter)
  const what = describeWait(step, names)
  if (reference === null || until === null) {
    pass.note(step.id, 'skipped', `${what}: they have no such date`)
    return { to: next, late: step.past === 'skip' }
  }
  if (until > now) {
    if (pass.enrolment.dueAt !== null && pass.enrolment.dueAt !== until)
      pass.note(step.id, 'waits', `${what}: moved to ${formatTime(until, zone)}`)
    return standStill(step, pass, until)
  }
  // Too late when it had passed already, or when what it reminds of has begun before anybody came to send it.
  const isLate = pass.enrolment.dueAt === null ? until < now : step.side === 'before' && reference < now
  if (!isLate || step.past === 'goOn') return { to: next }
  pass.note(step.id, 'skipped', `${what}: ${formatTime(until, zone)} has passed`)
  return { to: next, late: true }
}

export const untilTrue: PasserOf<StepOf<'waitUntil'>> = (step, pass, next) => {
  const { now } = pass.context
  const until = pass.enrolment.dueAt ?? waitEnds(step, now, waiterOf(pass)) ?? now
  const answer = asked(step.when, pass)
  if (answer.holds !== true && until > now) return standStill(step, pass, until)
  const lane = answer.holds === true ? step.happened : step.otherwise
  pass.note(step.id, 'took', `${lane.label}: ${answer.reason}`)
  return { to: firstOf(lane, next) }
}
