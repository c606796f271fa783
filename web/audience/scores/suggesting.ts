import type { History, SuggestedPoints } from '../../../core/audience/scores/suggestion.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'

type Answer = { points: SuggestedPoints[] } | { fault: string }

/** Has a worker learn points from a history. @throws Error with what stands in the way, in words */
export function learnPoints(history: History, card: Scorecard): Promise<SuggestedPoints[]> {
  return new Promise((resolve, reject) => {
    const worker = new Worker(new URL('./suggesting.worker.ts', import.meta.url), { type: 'module' })
    worker.onmessage = ({ data }: MessageEvent<Answer>) => {
      worker.terminate()
      if ('points' in data) resolve(data.points)
      else reject(new Error(data.fault))
    }
    worker.onerror = () => {
      worker.terminate()
      reject(new Error('the points could not be worked out'))
    }
    // A plain copy: a worker takes no reactive objects.
    worker.postMessage(JSON.parse(JSON.stringify({ history, card })))
  })
}
