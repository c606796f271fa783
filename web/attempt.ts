import { ref, type Ref } from 'vue'
import type { ProblemDetails } from '../contract/problems.ts'
import { problemOf } from './api.ts'

export interface Attempts {
  /** Why the last one was refused. */
  refused: Ref<ProblemDetails | null>
  /** One is under way. */
  busy: Ref<boolean>
  /** Does something that may be refused, and says whether it went through. */
  attempt: (work: () => Promise<unknown>) => Promise<boolean>
}

/** What a person asks a screen to do, and what to tell them when it is refused; what they typed stays. */
export function useAttempts(): Attempts {
  const refused = ref<ProblemDetails | null>(null)
  const busy = ref(false)
  return {
    refused,
    busy,
    async attempt(work) {
      refused.value = null
      busy.value = true
      try {
        await work()
        return true
      } catch (error) {
        refused.value = problemOf(error)
        return false
      } finally {
        busy.value = false
      }
    },
  }
}
