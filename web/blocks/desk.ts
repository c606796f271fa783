import { computed, shallowRef, type ComputedRef, type ShallowRef } from 'vue'
import type { DraftState } from '../../contract/drafts.ts'
import { useAttempts } from '../attempt.ts'
import { forgetKept, keptContent, type Draft, type DraftKind } from './draft.ts'

/** What an editor does with the thing as a whole, whatever it is. */
export interface Desk {
  /** This browser wrote something when the server was away, which is offered again. */
  isKept: ComputedRef<boolean>
  bringBack: () => void
  dropKept: () => void
  publish: () => Promise<void>
  /** Keeps what is written as a thing of its own. */
  keepAsCopy: () => Promise<boolean>
  attempts: ReturnType<typeof useAttempts>
}

/** @param does what is different for each kind of thing */
export function useDesk<Content, State extends DraftState>(
  kind: DraftKind<Content, State>,
  id: number,
  draft: Draft<Content, State>,
  does: {
    /** Shows content in place of what is shown. */
    open: (content: Content) => void
    publish: (meant: { version: number; revision: number }) => Promise<unknown>
    keepAsCopy: (content: Content) => Promise<unknown>
    /** Once it is published. */
    reload: () => void
  },
): Desk {
  const attempts = useAttempts()
  const kept: ShallowRef<Content | null> = shallowRef(keptContent(kind, id))
  return {
    attempts,
    isKept: computed(() => kept.value !== null),
    bringBack() {
      if (kept.value !== null) does.open(kept.value)
      kept.value = null
    },
    dropKept() {
      forgetKept(kind, id)
      kept.value = null
    },
    async publish() {
      const through = await attempts.attempt(async () => {
        if (!(await draft.save())) return
        const { version, revision }: DraftState = draft.state.value
        await does.publish({ version, revision })
      })
      if (through && !draft.problem.value) does.reload()
    },
    keepAsCopy: () =>
      attempts.attempt(async () => {
        await does.keepAsCopy(draft.content.value)
        forgetKept(kind, id)
      }),
  }
}
