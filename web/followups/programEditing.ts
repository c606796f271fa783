import { computed, ref, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { z } from 'zod'
import {
  changeLane,
  changeStep,
  copySteps,
  findStep,
  insertSteps,
  mainLane,
  moveStep,
  removeStep,
  shiftStep,
  stepsIn,
  type StepPlace,
} from '../../core/followups/editing.ts'
import type { Program } from '../../core/followups/program.ts'
import { step, type Step } from '../../core/followups/step.ts'
import { useContentHistory } from '../blocks/contentHistory.ts'
import { newPartId } from '../blocks/editing.ts'

/** A follow-up that is being edited; every edit can be undone. */
export interface ProgramEditing {
  program: ShallowRef<Program>
  /** Begins with another program, which can be undone. */
  replace: (program: Program) => void
  /** The step that is selected; none for the follow-up itself. */
  selected: Ref<string | null>
  step: ComputedRef<Step | null>
  /** All that is selected: a stretch of one lane. */
  stretch: ComputedRef<readonly Step[]>
  select: (id: string | null, extend?: boolean) => void
  canUndo: Ref<boolean>
  canRedo: Ref<boolean>
  undo: () => void
  redo: () => void
  set: (given: Partial<Program>) => void
  change: (step: Step) => void
  insert: (step: Step, at: StepPlace) => void
  remove: () => void
  move: (id: string, to: StepPlace) => void
  /** One place along the lane, or to the lane beside. */
  shift: (by: -1 | 1) => void
  shiftLane: (by: -1 | 1) => void
  copy: () => void
  paste: () => void
  duplicate: () => void
  /** The place after what is selected, or at the end. */
  placeAfter: () => StepPlace
}

const key = 'nurtel-copied-steps'

function copiedSteps(): Step[] {
  try {
    return z.array(step).parse(JSON.parse(localStorage.getItem(key) ?? '[]'))
  } catch {
    return []
  }
}

export function useProgramEditing(initial: Program): ProgramEditing {
  const { content: program, apply, ...history } = useContentHistory(initial)
  const selected = ref<string | null>(null)
  /** Where the selected stretch began. */
  const anchor = ref<string | null>(null)
  const back = (step: () => void): void => {
    step()
    if (selected.value !== null && !findStep(program.value.steps, selected.value)) select(null)
  }
  const setSteps = (steps: Step[], of: string | null = null): void => apply({ ...program.value, steps }, of)

  function select(id: string | null, extend = false): void {
    selected.value = id
    if (!extend || id === null) anchor.value = id
  }
  const step = computed(() =>
    selected.value === null ? null : (findStep(program.value.steps, selected.value)?.step ?? null),
  )
  const stretch = computed((): readonly Step[] => {
    const { steps } = program.value
    const to = selected.value === null ? null : findStep(steps, selected.value)
    if (!to) return []
    const from = anchor.value === null ? null : findStep(steps, anchor.value)
    if (from?.lane !== to.lane) return [to.step]
    const [first, end] = [Math.min(from.index, to.index), Math.max(from.index, to.index)]
    return stepsIn(steps, to.lane).slice(first, end + 1)
  })

  function placeAfter(): StepPlace {
    const { steps } = program.value
    const found = selected.value === null ? null : findStep(steps, selected.value)
    return found ? { lane: found.lane, index: found.index + 1 } : { lane: mainLane, index: steps.length }
  }

  function insertAll(added: readonly Step[], at: StepPlace): void {
    const first = added[0]
    const end = added.at(-1)
    if (!first || !end) return
    setSteps(insertSteps(program.value.steps, added, at))
    select(first.id)
    select(end.id, true)
  }

  function remove(): void {
    const gone = stretch.value
    const first = gone[0]
    const at = first && findStep(program.value.steps, first.id)
    if (!at) return
    setSteps(gone.reduce<Step[]>((steps, { id }) => removeStep(steps, id), program.value.steps))
    const rest = stepsIn(program.value.steps, at.lane)
    select((rest[at.index] ?? rest[at.index - 1])?.id ?? null)
  }

  const ofSelected = (edit: (steps: readonly Step[], id: string) => Step[]): void => {
    if (selected.value !== null) setSteps(edit(program.value.steps, selected.value))
  }

  return {
    program,
    replace: (next) => apply(next),
    selected,
    step,
    stretch,
    select,
    canUndo: history.canUndo,
    canRedo: history.canRedo,
    undo: () => back(history.undo),
    redo: () => back(history.redo),
    set: (given) => apply({ ...program.value, ...given }, `program ${Object.keys(given).join(' ')}`),
    change: (next) => setSteps(changeStep(program.value.steps, next), next.id),
    insert: (added, at) => insertAll([added], at),
    remove,
    move: (id, to) => setSteps(moveStep(program.value.steps, id, to)),
    shift: (by) => ofSelected((steps, id) => shiftStep(steps, id, by)),
    shiftLane: (by) => ofSelected((steps, id) => changeLane(steps, id, by)),
    copy: () => localStorage.setItem(key, JSON.stringify(stretch.value)),
    paste: () => insertAll(copySteps(copiedSteps(), newPartId), placeAfter()),
    duplicate: () => insertAll(copySteps(stretch.value, newPartId), placeAfter()),
    placeAfter,
  }
}
