import { onScopeDispose, readonly, ref } from 'vue'
import * as api from '../../contract/api.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import { call, problemOf } from '../api.ts'

const stuck: ProblemDetails = {
  status: 0,
  title: 'Something does not move on',
  detail: 'What is due for them now stays due. The log tells what it is.',
}

/** The clock of somebody in rehearsal: it jumps to what is due next, or goes on until a moment has come. */
export function useStageClock(id: number) {
  const refused = ref<ProblemDetails | null>(null)
  /** Where it is going. */
  const goingTo = ref<string | null>(null)
  let going = new AbortController()
  const stop = (): void => going.abort()
  onScopeDispose(stop)

  /** From one moment to the next, so that everything happens at its time. */
  async function go(until?: string): Promise<void> {
    refused.value = null
    going = new AbortController()
    const { signal } = going
    goingTo.value = until ?? ''
    let before = ''
    try {
      while (!signal.aborted) {
        const { now, arrived } = await call(api.people.jump, {
          params: { id },
          body: until === undefined ? {} : { until },
        })
        if (until === undefined || arrived) break
        if (now === before) {
          refused.value = stuck
          break
        }
        before = now
      }
    } catch (error) {
      refused.value = problemOf(error)
    } finally {
      goingTo.value = null
    }
  }

  return { refused, goingTo: readonly(goingTo), go, stop }
}
