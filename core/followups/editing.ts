import { allSteps, lanesOf, withLane, type Step } from './step.ts'

/** A lane, as the timetable calls it: "main", or a step's id and the number of its way on: "s1/0". */
export const mainLane = 'main'

/** A place before the nth step of a lane. */
export interface StepPlace {
  lane: string
  index: number
}

/** Where a step stands; null when it is not there. */
export function findStep(
  steps: readonly Step[],
  id: string,
  lane = mainLane,
): (StepPlace & { step: Step }) | null {
  for (const [index, step] of steps.entries()) {
    if (step.id === id) return { lane, index, step }
    for (const [i, { steps: inner }] of lanesOf(step).entries()) {
      const found = findStep(inner, id, `${step.id}/${i}`)
      if (found) return found
    }
  }
  return null
}

/** The same steps with another list in one lane. */
function mapLane(
  steps: readonly Step[],
  lane: string,
  change: (steps: readonly Step[]) => Step[],
  here = mainLane,
): Step[] {
  if (lane === here) return change(steps)
  return steps.map((step) =>
    lanesOf(step).reduce<Step>(
      (each, { steps: inner }, i) => withLane(each, i, mapLane(inner, lane, change, `${step.id}/${i}`)),
      step,
    ),
  )
}

/** The steps of a lane. */
export function stepsIn(steps: readonly Step[], lane: string): readonly Step[] {
  let found: readonly Step[] = []
  mapLane(steps, lane, (inner) => {
    found = inner
    return [...inner]
  })
  return found
}

/** Puts steps before the nth of a lane. */
export const insertSteps = (
  steps: readonly Step[],
  added: readonly Step[],
  { lane, index }: StepPlace,
): Step[] => mapLane(steps, lane, (inner) => [...inner.slice(0, index), ...added, ...inner.slice(index)])

/** Takes out a step, with all that stands in its lanes. */
export function removeStep(steps: readonly Step[], id: string): Step[] {
  const at = findStep(steps, id)
  return at ? mapLane(steps, at.lane, (inner) => inner.filter((step) => step.id !== id)) : [...steps]
}

/**
 * Puts a step that stands somewhere else before the nth of a lane; the place counts with the step where it was. A step
 * does not go into its own lanes: then nothing changes.
 */
export function moveStep(steps: readonly Step[], id: string, to: StepPlace): Step[] {
  const at = findStep(steps, id)
  if (!at || allSteps([at.step]).some((inner) => to.lane.startsWith(`${inner.id}/`))) return [...steps]
  const index = to.lane === at.lane && to.index > at.index ? to.index - 1 : to.index
  return insertSteps(removeStep(steps, id), [at.step], { lane: to.lane, index })
}

/** The same program with a step in another wording. */
export function changeStep(steps: readonly Step[], changed: Step): Step[] {
  const at = findStep(steps, changed.id)
  return at
    ? mapLane(steps, at.lane, (inner) => inner.map((step) => (step.id === changed.id ? changed : step)))
    : [...steps]
}

/** Moves a step one place along its lane; over an end of the lane, out of it, before or after the step that holds it. */
export function shiftStep(steps: readonly Step[], id: string, by: -1 | 1): Step[] {
  const at = findStep(steps, id)
  if (!at) return [...steps]
  const { length } = stepsIn(steps, at.lane)
  const index = by < 0 ? at.index - 1 : at.index + 2
  if (index >= 0 && index <= length) return moveStep(steps, id, { lane: at.lane, index })
  const holder = findStep(steps, at.lane.slice(0, at.lane.lastIndexOf('/')))
  return holder
    ? moveStep(steps, id, { lane: holder.lane, index: by < 0 ? holder.index : holder.index + 1 })
    : [...steps]
}

/** Moves a step to the lane above or below its own, among those of the step that holds it, as near as it stands now. */
export function changeLane(steps: readonly Step[], id: string, by: -1 | 1): Step[] {
  const at = findStep(steps, id)
  if (!at) return [...steps]
  const slash = at.lane.lastIndexOf('/')
  if (slash < 0) return [...steps]
  const lane = `${at.lane.slice(0, slash)}/${Number(at.lane.slice(slash + 1)) + by}`
  const holder = findStep(steps, at.lane.slice(0, slash))
  const isThere = holder && lanesOf(holder.step)[Number(lane.slice(slash + 1))] !== undefined
  return isThere
    ? moveStep(steps, id, { lane, index: Math.min(at.index, stepsIn(steps, lane).length) })
    : [...steps]
}

/** The same steps with new ids: a copy is another step, also in another follow-up. */
export function copySteps(steps: readonly Step[], newId: () => string): Step[] {
  return steps.map((step) =>
    lanesOf(step).reduce<Step>((each, lane, i) => withLane(each, i, copySteps(lane.steps, newId)), {
      ...step,
      id: newId(),
    }),
  )
}
