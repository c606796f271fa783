import { computed, ref, type ComputedRef, type Ref } from 'vue'
import type { ThingState } from '../../contract/drafts.ts'
import { passesState, type StateFilter } from './thingActions.ts'

/** A thing of the Library with labels, as its list shows it. */
interface LabelledRow {
  name: string
  labels: readonly string[]
  state: ThingState
}

/** The rows of a list that pass its filters: state, label, and what is typed. */
export function useLibraryRows<Row extends LabelledRow>(
  data: Readonly<Ref<readonly Row[] | null>>,
): {
  typed: Ref<string>
  state: Ref<StateFilter>
  label: Ref<string | null>
  labels: ComputedRef<string[]>
  rows: ComputedRef<Row[] | null>
} {
  const typed = ref('')
  const state = ref<StateFilter>('current')
  const label = ref<string | null>(null)
  return {
    typed,
    state,
    label,
    labels: computed(() => [...new Set((data.value ?? []).flatMap((row) => row.labels))].sort()),
    rows: computed(
      () =>
        data.value?.filter(
          (row) =>
            passesState(state.value, row.state) &&
            (label.value === null || row.labels.includes(label.value)) &&
            row.name.toLowerCase().includes(typed.value.trim().toLowerCase()),
        ) ?? null,
    ),
  }
}
