import { useDebounceFn } from '@vueuse/core'
import { onScopeDispose, ref, shallowRef, watch, type Ref, type ShallowRef } from 'vue'
import type { LiveSubject } from '../contract/live.ts'
import type { ProblemDetails } from '../contract/problems.ts'
import { problemOf } from './api.ts'
import { onChange } from './live.ts'

export interface Loaded<T> {
  data: ShallowRef<T | null>
  problem: Ref<ProblemDetails | null>
  loading: Ref<boolean>
  reload: () => Promise<void>
}

/** Several changes within this time are one reload (milliseconds). */
const settle = 120

/** While changes never settle (a broadcast goes out) it is loaded again after so long all the same. */
const longestWait = 1_000

/** No answer at all, or one that says to try again: it passes by itself. */
const passing = new Set([0, 503])
const tryAgainAfter = 3_000

/**
 * What a screen shows, kept current.
 * @param load asks for it; runs again when anything reactive that it reads has changed
 * @param subjects a live change of one of them loads it again, without the screen going blank
 */
export function useLoaded<T>(
  load: (signal: AbortSignal) => Promise<T>,
  subjects: readonly LiveSubject[],
  dependsOn: () => unknown = () => null,
): Loaded<T> {
  const data = shallowRef<T | null>(null)
  const problem = ref<ProblemDetails | null>(null)
  const loading = ref(false)
  let asking: AbortController | null = null
  let retry: ReturnType<typeof setTimeout> | undefined
  let changedMeanwhile = false

  async function reload(): Promise<void> {
    asking?.abort()
    clearTimeout(retry)
    const mine = new AbortController()
    asking = mine
    loading.value = true
    try {
      data.value = await load(mine.signal)
      problem.value = null
    } catch (error) {
      if (mine.signal.aborted) return
      problem.value = problemOf(error)
      if (passing.has(problem.value.status)) retry = setTimeout(() => void reload(), tryAgainAfter)
    } finally {
      if (asking === mine) {
        asking = null
        loading.value = false
        if (changedMeanwhile) void reloadSoon()
        changedMeanwhile = false
      }
    }
  }

  // What is under way answers first: changes that come faster than answers would otherwise call each off.
  const reloadSoon = useDebounceFn(
    () => {
      if (loading.value) changedMeanwhile = true
      else void reload()
    },
    settle,
    { maxWait: longestWait },
  )
  watch(dependsOn, () => void reload(), { immediate: true, deep: true })
  onChange(subjects, () => void reloadSoon())
  onScopeDispose(() => {
    asking?.abort()
    clearTimeout(retry)
  })
  return { data, problem, loading, reload }
}
