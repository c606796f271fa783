import { armsOf, type Program, type Step } from './program.ts'

/** A step and where its lane leads afterwards (null: the follow-up is over). */
export interface Place {
  step: Step
  next: string | null
}

/** Every step by id with the one that follows it; the last step of an arm leads on to the join. */
export type Track = ReadonlyMap<string, Place>

export function indexSteps(program: Program): Track {
  const track = new Map<string, Place>()
  const lay = (steps: readonly Step[], join: string | null): void => {
    steps.forEach((step, i) => {
      const next = steps[i + 1]?.id ?? join
      track.set(step.id, { step, next })
      for (const arm of armsOf(step)) lay(arm.steps, next)
    })
  }
  lay(program.steps, null)
  return track
}

/**
 * The emails that may be sent when somebody goes on from a step on which they wait, until they wait again: in every
 * lane, whatever the conditions. Each once.
 */
export function sendsAfter(program: Program, waiting: string): number[] {
  const track = indexSteps(program)
  const emails = new Set<number>()
  const seen = new Set<string>()
  const walk = (id: string | null | undefined): void => {
    const place = id ? track.get(id) : undefined
    if (!place || seen.has(place.step.id)) return
    const { step, next } = place
    seen.add(step.id)
    if (step.kind === 'waitFor' || step.kind === 'end') return
    if (step.kind === 'send') emails.add(step.email)
    for (const arm of armsOf(step)) walk(arm.steps[0]?.id ?? next)
    if (step.kind !== 'branch') walk(next)
  }
  walk(track.get(waiting)?.next)
  return [...emails]
}
