import { useDebounceFn, useEventListener } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import { api } from '../../contract/api.ts'
import type { DraftState, PageView } from '../../contract/pages.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import { pageContent, type PageContent } from '../../core/pages/page.ts'
import { call, problemOf } from '../api.ts'

/** Quiet for so long, and what was written is saved (milliseconds). */
const quiet = 800
/** While somebody writes without a pause it is saved after so long all the same. */
const longestWait = 5_000
const tryAgainAfter = 3_000

/** The draft of a page in the browser: saved by itself, and nothing typed is lost while the server is away. */
export interface Draft {
  content: ShallowRef<PageContent>
  state: ShallowRef<DraftState>
  /** Something is written that the server does not have yet. */
  unsaved: Ref<boolean>
  /** Why the last save did not go through; it is tried again where that can help. */
  problem: Ref<ProblemDetails | null>
  /** Somebody else has saved meanwhile. */
  conflict: ComputedRef<boolean>
  set: (content: PageContent) => void
  /** Saves what is not saved yet. @returns whether everything is saved now */
  save: (over?: boolean) => Promise<boolean>
  /** Begins again with what the server has. */
  open: (view: PageView) => void
}

const keyOf = (id: number): string => `nurtel-page-${id}`

/** What this browser wrote into a page and the server never got, if there is something. */
export function keptContent(id: number): PageContent | null {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(id)) ?? 'null')
    return pageContent.parse(kept)
  } catch {
    return null
  }
}

export const forgetKept = (id: number): void => localStorage.removeItem(keyOf(id))

const stateOf = ({
  version,
  revision,
  savedAt,
  savedBy,
  changes,
  findings,
  others,
}: PageView): DraftState => ({
  version,
  revision,
  savedAt,
  savedBy,
  changes,
  findings,
  others,
})

export function useDraft(view: PageView): Draft {
  const content = shallowRef(view.content)
  const state = shallowRef(stateOf(view))
  const unsaved = ref(false)
  const problem = ref<ProblemDetails | null>(null)
  let saving: Promise<boolean> | null = null
  let retry: ReturnType<typeof setTimeout> | undefined

  async function send(over: boolean): Promise<boolean> {
    const sent = content.value
    const { version, revision } = state.value
    try {
      state.value = await call(api.pages.save, {
        params: { id: view.id },
        body: { version, revision, over, content: sent },
      })
      problem.value = null
      if (content.value !== sent) return await send(false)
      unsaved.value = false
      forgetKept(view.id)
      return true
    } catch (error) {
      const told = problemOf(error)
      problem.value = told
      // Without an answer, or with one that says to try again, it is sent later.
      if (told.status === 0 || told.status === 503) retry = setTimeout(() => void save(), tryAgainAfter)
      return false
    }
  }

  async function save(over = false): Promise<boolean> {
    clearTimeout(retry)
    if (saving) await saving
    if (!unsaved.value && !over) return true
    saving = send(over)
    const through = await saving
    saving = null
    return through
  }

  const conflict = computed(() => problem.value?.status === 409)
  const saveSoon = useDebounceFn(() => (conflict.value ? undefined : void save()), quiet, {
    maxWait: longestWait,
  })

  /** Written down beside, not in the way of the letter that is typed. */
  const keep = (): void => {
    if (unsaved.value) localStorage.setItem(keyOf(view.id), JSON.stringify(content.value))
  }
  const keepSoon = useDebounceFn(keep, 100, { maxWait: 250 })

  useEventListener(window, 'beforeunload', (event) => {
    if (!unsaved.value) return
    keep()
    void save()
    event.preventDefault()
  })
  onScopeDispose(() => {
    clearTimeout(retry)
    keep()
    if (unsaved.value && !conflict.value) void save()
  })

  return {
    content,
    state,
    unsaved,
    problem,
    conflict,
    save,
    set(next) {
      content.value = next
      unsaved.value = true
      void keepSoon()
      void saveSoon()
    },
    open(fresh) {
      content.value = fresh.content
      state.value = stateOf(fresh)
      unsaved.value = false
      problem.value = null
      forgetKept(view.id)
    },
  }
}
