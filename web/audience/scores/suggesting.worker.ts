import { suggestPoints, type History } from '../../../core/audience/scores/suggestion.ts'
import type { Scorecard } from '../../../core/audience/scores/scorecard.ts'

/** Fits the points off the screen's own thread: with many people it takes seconds. */
self.onmessage = ({ data }: MessageEvent<{ history: History; card: Scorecard }>) => {
  try {
    self.postMessage({ points: suggestPoints(data.history, data.card) })
  } catch (error) {
    self.postMessage({ fault: error instanceof Error ? error.message : String(error) })
  }
}
