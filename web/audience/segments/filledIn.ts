import { refDebounced } from '@vueuse/core'
import { computed, shallowRef, watch, type Ref } from 'vue'
import { isFilledIn, type Group } from './subjects.ts'

/** As long somebody rests before their condition is asked about (milliseconds). */
const rest = 250

/**
 * A condition that is being written, as far as the server can be asked about it.
 * @returns `settled`: the last state in which every line was filled in; `unfinished`: one is not now
 */
export function useFilledIn(tree: Ref<Group>): { settled: Ref<Group>; unfinished: Ref<boolean> } {
  const rested = refDebounced(tree, rest)
  const unfinished = computed(() => !isFilledIn(tree.value))
  const settled = shallowRef<Group>({ kind: 'all', of: [] })
  watch(
    rested,
    (now) => {
      if (isFilledIn(now)) settled.value = now
    },
    { immediate: true },
  )
  return { settled, unfinished }
}
