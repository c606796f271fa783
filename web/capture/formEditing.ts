import { computed, ref, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import {
  changeField,
  changeStep,
  findField,
  insertField,
  moveField,
  removePart,
  shiftPart,
  type FieldPlace,
} from '../../core/capture/formEdits.ts'
import { fieldsOf, type FormContent, type FormField, type FormStep } from '../../core/capture/form.ts'
import { useContentHistory } from '../blocks/contentHistory.ts'
import { newPartId } from '../blocks/editing.ts'

/** A form that is being edited; every edit can be undone. */
export interface FormEditing {
  content: ShallowRef<FormContent>
  /** Begins with another content, which can be undone. */
  replace: (content: FormContent) => void
  /** The id of a field or a step; none for the form itself. */
  selected: Ref<string | null>
  field: ComputedRef<FormField | null>
  step: ComputedRef<FormStep | null>
  /** The step that the sheet shows. */
  shownStep: ComputedRef<number>
  canUndo: Ref<boolean>
  canRedo: Ref<boolean>
  undo: () => void
  redo: () => void
  set: (given: Partial<FormContent>) => void
  setField: (field: FormField) => void
  setStep: (step: FormStep) => void
  insert: (field: FormField, at: FieldPlace) => void
  addStep: () => void
  remove: (id: string) => void
  /** One place up or down. */
  shift: (id: string, by: -1 | 1) => void
  move: (id: string, to: FieldPlace) => void
  duplicate: (id: string) => void
}

export function useFormEditing(initial: FormContent): FormEditing {
  const { content, apply, ...history } = useContentHistory(initial)
  const selected = ref<string | null>(null)

  const field = computed(() => fieldsOf(content.value).find(({ id }) => id === selected.value) ?? null)
  const step = computed(() => content.value.steps.find(({ id }) => id === selected.value) ?? null)
  const shownStep = computed(() => {
    if (selected.value === null) return 0
    const at = findField(content.value, selected.value)
    return (
      at?.step ??
      Math.max(
        0,
        content.value.steps.findIndex(({ id }) => id === selected.value),
      )
    )
  })

  function insert(added: FormField, at: FieldPlace): void {
    apply(insertField(content.value, added, at))
    selected.value = added.id
  }

  return {
    content,
    replace: (next) => apply(next),
    selected,
    field,
    step,
    shownStep,
    ...history,
    set: (given) => apply({ ...content.value, ...given }, `form ${Object.keys(given).join(' ')}`),
    setField: (next) => apply(changeField(content.value, next), next.id),
    setStep: (next) => apply(changeStep(content.value, next), next.id),
    insert,
    addStep() {
      const added: FormStep = { id: newPartId(), title: '', fields: [] }
      apply({ ...content.value, steps: [...content.value.steps, added] })
      selected.value = added.id
    },
    remove(id) {
      apply(removePart(content.value, id))
      if (selected.value === id) selected.value = null
    },
    shift: (id, by) => apply(shiftPart(content.value, id, by)),
    move: (id, to) => apply(moveField(content.value, id, to)),
    duplicate(id) {
      const at = findField(content.value, id)
      const found = fieldsOf(content.value).find((each) => each.id === id)
      if (at && found) insert({ ...found, id: newPartId() }, { ...at, index: at.index + 1 })
    },
  }
}
