import { isWait, lanesOf, type Step } from './step.ts'
import type { Program } from './program.ts'

/** A step and where its lane leads afterwards (null: the follow-up is over). */
export interface Place {
  step: Step
  next: string | null
  /** Its place in reading order: who goes on never comes to a lower one. */
  order: number
}

/** Every step by id with the one that follows it; the last step of a lane leads on to the join. */
export type Track = ReadonlyMap<string, Place>

export function indexSteps({ steps }: Pick<Program, 'steps'>): Track {
  const track = new Map<string, Place>()
  const lay = (lane: readonly Step[], join: string | null): void => {
    lane.forEach((step, i) => {
      const next = lane[i + 1]?.id ?? join
      track.set(step.id, { step, next, order: track.size })
      for (const { steps } of lanesOf(step)) lay(steps, next)
    })
  }
  lay(steps, null)
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
    if (isWait(step) || step.kind === 'end') return
    if (step.kind === 'send') emails.add(step.email)
    const lanes = lanesOf(step)
    for (const { steps } of lanes) walk(steps[0]?.id ?? next)
    if (lanes.length === 0) walk(next)
  }
  const from = track.get(waiting)
  if (from?.step.kind === 'waitUntil')
    for (const { steps } of lanesOf(from.step)) walk(steps[0]?.id ?? from.next)
  else walk(from?.next)
  return [...emails]
}

/**
 * Where people go on whose step is gone in another version: on the step itself, or the next one on their way that
 * survives; null when none does.
 */
export function survivorOf(before: Track, after: Track, step: string): string | null {
  let at: string | null = step
  for (let passed = 0; at !== null && passed <= before.size; passed += 1) {
    if (after.has(at)) return at
    at = before.get(at)?.next ?? null
  }
  return null
}
