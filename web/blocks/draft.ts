import { useDebounceFn, useEventListener } from '@vueuse/core'
import { computed, onScopeDispose, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import type { z } from 'zod'
import type { DraftState } from '../../contract/drafts.ts'
import type { ProblemDetails } from '../../contract/problems.ts'
import { problemOf } from '../api.ts'

/** Quiet for so long, and what was written is saved (milliseconds). */
const quiet = 800
/** While somebody writes without a pause it is saved after so long all the same. */
const longestWait = 5_000
const tryAgainAfter = 3_000

/** A thing with its draft, as the server has it. */
export type Drafted<Content, State extends DraftState = DraftState> = State & { id: number; content: Content }

/** What a browser must know of a kind of thing to keep its drafts. */
export interface DraftKind<Content, State extends DraftState = DraftState> {
  /** Under this name it is kept in the browser. */
  name: string
  shape: z.ZodType<Content>
  save: (
    id: number,
    body: { version: number; revision: number; over: boolean; content: Content },
  ) => Promise<State>
}

/** A draft in the browser: saved by itself, and nothing typed is lost while the server is away. */
export interface Draft<Content, State extends DraftState = DraftState> {
  content: ShallowRef<Content>
  state: ShallowRef<State>
  /** Something is written that the server does not have yet. */
  unsaved: Ref<boolean>
  /** Why the last save did not go through; it is tried again where that can help. */
  problem: Ref<ProblemDetails | null>
  /** Somebody else has saved meanwhile. */
  conflict: ComputedRef<boolean>
  set: (content: Content) => void
  /** Saves what is not saved yet. @returns whether everything is saved now */
  save: (over?: boolean) => Promise<boolean>
}

const keyOf = (name: string, id: number): string => `nurtel-${name}-${id}`

/** What this browser wrote into a thing and the server never got, if there is something. */
export function keptContent<Content>(
  { name, shape }: Pick<DraftKind<Content>, 'name' | 'shape'>,
  id: number,
): Content | null {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(keyOf(name, id)) ?? 'null')
    return shape.parse(kept)
  } catch {
    return null
  }
}

export const forgetKept = ({ name }: { name: string }, id: number): void =>
  localStorage.removeItem(keyOf(name, id))

export function useDraft<Content, State extends DraftState>(
  kind: DraftKind<Content, State>,
  view: Drafted<Content, State>,
): Draft<Content, State> {
  const content = shallowRef(view.content) as ShallowRef<Content>
  const state = shallowRef(view) as ShallowRef<State>
  const unsaved = ref(false)
  const problem = ref<ProblemDetails | null>(null)
  let saving: Promise<boolean> | null = null
  let retry: ReturnType<typeof setTimeout> | undefined

  async function send(over: boolean): Promise<boolean> {
    const sent: Content = content.value
    const { version, revision }: DraftState = state.value
    try {
      state.value = await kind.save(view.id, { version, revision, over, content: sent })
      problem.value = null
      if (content.value !== sent) return await send(false)
      unsaved.value = false
      forgetKept(kind, view.id)
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
    if (unsaved.value) localStorage.setItem(keyOf(kind.name, view.id), JSON.stringify(content.value))
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
  }
}
