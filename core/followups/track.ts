import { armsOf, type Program, type Step } from './program.ts'

/** A step and where its lane leads afterwards (null: the follow-up is over). */
export interface Place {
  step: Step
  next: string | null
}

/** Every step by id with the one that follows it; the last step of an arm leads on to the join. */
export type Track = ReadonlyMap<string, Place>

export function layTrack(program: Program): Track {
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
