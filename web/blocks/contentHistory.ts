import { useManualRefHistory } from '@vueuse/core'
import { shallowRef, type Ref, type ShallowRef } from 'vue'

/** A content that is edited as a whole: every edit can be undone. */
export interface ContentHistory<Content> {
  content: ShallowRef<Content>
  /** @param of what was edited: letters of the same field in a row are undone together */
  apply: (next: Content, of?: string | null) => void
  canUndo: Ref<boolean>
  canRedo: Ref<boolean>
  undo: () => void
  redo: () => void
}

export function useContentHistory<Content>(initial: Content): ContentHistory<Content> {
  const content = shallowRef(initial) as ShallowRef<Content>
  const { undo, redo, canUndo, canRedo, commit, last } = useManualRefHistory(content, { capacity: 200 })
  let series: string | null = null
  const shift = (step: () => void): void => {
    series = null
    step()
  }
  return {
    content,
    apply(next, of = null) {
      content.value = next
      if (of !== null && of === series) last.value = { ...last.value, snapshot: next }
      else commit()
      series = of
    },
    canUndo,
    canRedo,
    undo: () => shift(undo),
    redo: () => shift(redo),
  }
}
