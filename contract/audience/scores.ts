import { z } from 'zod'
import { activityKind, askedDetails } from '../../core/audience/people/activity.ts'
import { scorecard } from '../../core/audience/scores/scorecard.ts'
import { shareView } from '../share.ts'

export const scorecardEdit = z.object({
  name: z.string().trim().min(1, 'Give the scorecard a name').max(80, 'At most 80 characters'),
  card: scorecard,
})
export type ScorecardEdit = z.infer<typeof scorecardEdit>

export const scorecardView = z.object({
  id: z.number().int(),
  name: z.string(),
  card: scorecard,
  /** People by band; who has no points is in the band of zero. */
  people: z.record(z.string(), z.number().int()),
  missing: z.array(z.string()),
})
export type ScorecardView = z.infer<typeof scorecardView>
export const scorecardList = z.array(scorecardView)

/** The scorecard, and the work that makes everybody's score by it. */
export const scorecardSaved = z.object({ id: z.number().int(), work: z.number().int() })

export const cardRequest = z.object({ card: scorecard })

/** How many people a change of the rules moves from one band to another. */
export const bandMoves = z.object({
  people: z.number().int(),
  moved: z.number().int(),
  /** True when it was worked out from a random part of the people. */
  sampled: z.boolean(),
  moves: z.array(z.object({ from: z.string(), to: z.string(), people: z.number().int() })),
})
export type BandMoves = z.infer<typeof bandMoves>

const behaviour = z.object({
  activity: activityKind,
  details: askedDetails,
})
export type BehaviourView = z.infer<typeof behaviour>

/** Does the score tell who will do this within so many days? Looked at as of so many days ago. */
export const outcomeQuestion = z.object({
  outcome: behaviour,
  days: z.number().int().min(1).max(365).default(30),
})
export type OutcomeQuestion = z.infer<typeof outcomeQuestion>

export const checkRequest = outcomeQuestion.extend({ card: scorecard })

export const scoreCheckView = z.object({
  people: z.number().int(),
  asOf: z.iso.datetime(),
  all: shareView,
  bands: z.array(
    z.object({ band: z.string(), name: z.string(), share: shareView, lift: z.number().nullable() }),
  ),
  area: z.number().nullable(),
})
export type ScoreCheckView = z.infer<typeof scoreCheckView>

/** What people had done as of a moment, and who did what is hoped for after it: points are learned from it. */
export const historyView = z.object({
  behaviours: z.array(behaviour.extend({ halfLife: z.number().nullable() })),
  counts: z.array(z.array(z.number())),
  outcomes: z.array(z.boolean()),
})
