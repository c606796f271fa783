import { useNow } from '@vueuse/core'
import { computed, type ComputedRef } from 'vue'

/** Times are told to the minute. */
const interval = 15_000

/** The present moment, which moves on as long as the screen is open. */
export function useNowIso(): ComputedRef<string> {
  const now = useNow({ interval })
  return computed(() => now.value.toISOString())
}
