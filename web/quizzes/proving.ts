import { useDebounceFn } from '@vueuse/core'
import { onBeforeUnmount, ref, watch, type Ref } from 'vue'
import type { Shares } from '../../core/quizzes/proof/options.ts'
import type { QuizProof } from '../../core/quizzes/proof/quizProof.ts'
import type { QuizContent } from '../../core/quizzes/quiz.ts'

/** What the worker is asked, and what it answers. */
export interface ProofAsked {
  number: number
  content: QuizContent
  shares: Shares
}
export interface Proved {
  number: number
  proof: QuizProof
}

/** What is proved of a quiz as it is being written: worked out beside the screen, the newest question first. */
export function useQuizProof(content: Ref<QuizContent>, shares: Ref<Shares>) {
  const proof = ref<QuizProof | null>(null)
  /** An answer is on its way. */
  const busy = ref(false)
  let worker: Worker | null = null
  let number = 0

  function ask(): void {
    // An old question may take long: it is given up.
    if (busy.value) worker?.terminate()
    if (busy.value || !worker) {
      worker = new Worker(new URL('./proving.worker.ts', import.meta.url), { type: 'module' })
      worker.onmessage = ({ data }: MessageEvent<Proved>) => {
        if (data.number !== number) return
        proof.value = data.proof
        busy.value = false
      }
    }
    number += 1
    busy.value = true
    const asked: ProofAsked = { number, content: content.value, shares: shares.value }
    worker.postMessage(JSON.parse(JSON.stringify(asked)))
  }

  const askSoon = useDebounceFn(ask, 250)
  watch([content, shares], () => void askSoon())
  ask()
  onBeforeUnmount(() => worker?.terminate())
  return { proof, busy }
}
