import { computed, ref, type ComputedRef } from 'vue'

export interface Pages {
  /** Where the page that is shown begins; null for the first. */
  after: ComputedRef<string | null>
  /** The number of its first row, from 1. */
  first: ComputedRef<number>
  hasPrevious: ComputedRef<boolean>
  /** Goes on to the page that begins here, as the one before it said. */
  next: (place: string | null | undefined) => void
  previous: () => void
  /** Begins with the first page again. */
  reset: () => void
}

/** Walks through a list whose pages go on from the last row of the one before. */
export function useCursorPages(size: number): Pages {
  const places = ref<(string | null)[]>([null])
  return {
    after: computed(() => places.value.at(-1) ?? null),
    first: computed(() => (places.value.length - 1) * size + 1),
    hasPrevious: computed(() => places.value.length > 1),
    next: (place) => {
      if (place) places.value = [...places.value, place]
    },
    previous: () => {
      if (places.value.length > 1) places.value = places.value.slice(0, -1)
    },
    reset: () => (places.value = [null]),
  }
}
