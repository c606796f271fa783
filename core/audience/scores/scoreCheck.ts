import { areaUnderRoc } from '../../results/roc.ts'
import { wilson, type Share } from '../../results/wilson.ts'
import { bandOf, type Scorecard } from './scorecard.ts'

/** How those of one band did. */
export interface BandResult {
  band: string
  name: string
  share: Share
  /** Times as often as everybody; null when nobody did it. */
  lift: number | null
}

/** Whether a score told beforehand what people would do. */
export interface ScoreCheck {
  people: number
  all: Share
  bands: BandResult[]
  /** Area under the ROC curve; null when all or none did it. */
  area: number | null
}

/** Holds the scores that people had at a moment against what they did after it. */
export function checkScores(
  card: Scorecard,
  scores: readonly number[],
  outcomes: readonly boolean[],
): ScoreCheck {
  const all = wilson(outcomes.filter(Boolean).length, outcomes.length)
  const bands = card.bands.map(({ id, name }) => {
    const inside = outcomes.filter((_, i) => bandOf(card, scores[i] ?? 0).id === id)
    const share = wilson(inside.filter(Boolean).length, inside.length)
    return { band: id, name, share, lift: all.of === 0 || inside.length === 0 ? null : share.rate / all.rate }
  })
  return { people: outcomes.length, all, bands, area: areaUnderRoc(scores, outcomes) }
}
