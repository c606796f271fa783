import { fitLogistic } from '../../results/logistic.ts'
import type { ActivityKind, AskedDetails } from '../people/activity.ts'
import type { BehaviourRule, Scorecard } from './scorecard.ts'

/** Something that people did, which points could be given for. */
export interface Behaviour {
  activity: ActivityKind
  details: AskedDetails
  /** Days in which doing it once comes to count half as much; null counts for ever. */
  halfLife: number | null
}

/** What people had done before a moment, and whether they did what is hoped for after it. */
export interface History {
  behaviours: Behaviour[]
  /** How often each person had done each behaviour, faded by its half-life: a row a person. */
  counts: number[][]
  outcomes: boolean[]
}

export interface SuggestedPoints extends Behaviour {
  points: number
  /** Beyond so many times, doing it again told nothing more; fading counts need no such bound. */
  times: number
  /** What it gives today, if anything. */
  today: number
}

/** The strongest behaviour gets so many points; a score is easier to read in tens than in logarithms. */
const most = 20
/** On standardised values: weak enough to follow the data, strong enough to hold rare behaviours back. */
const ridge = 2
const enoughOutcomes = 10

/** Most people's count among those who did it at all: what lies beyond is taken for as much. */
function usualMost(counts: readonly number[]): number {
  const done = counts.filter((count) => count > 0).sort((a, b) => a - b)
  return Math.max(1, done[Math.floor(done.length * 0.9)] ?? 1)
}

type Deed = Pick<Behaviour, 'activity' | 'details'>

const sameBehaviour = (a: Deed, b: Deed): boolean =>
  a.activity === b.activity &&
  Object.keys({ ...a.details, ...b.details }).every((name) => a.details[name] === b.details[name])

/**
 * Points that the business's own history speaks for: a logistic regression of the outcome on the behaviours,
 * ridge-penalised on standardised values, scaled so that the strongest gets 20, and rounded.
 * @throws RangeError when too few people did what is hoped for
 */
export function suggestPoints(history: History, today: Scorecard): SuggestedPoints[] {
  const did = history.outcomes.filter(Boolean).length
  if (did < enoughOutcomes)
    throw new RangeError(
      `only ${did} people did it: at least ${enoughOutcomes} are needed to learn anything from them`,
    )
  const times = history.behaviours.map(({ halfLife }, j) =>
    halfLife === null ? usualMost(history.counts.map((row) => row[j] ?? 0)) : Infinity,
  )
  const capped = history.counts.map((row) => row.map((count, j) => Math.min(count, times[j] ?? 1)))
  const scale = history.behaviours.map((_, j) => {
    const mean = capped.reduce((sum, row) => sum + (row[j] ?? 0), 0) / capped.length
    const variance = capped.reduce((sum, row) => sum + ((row[j] ?? 0) - mean) ** 2, 0) / capped.length
    return { mean, deviation: Math.sqrt(variance) || 1 }
  })
  const standard = capped.map((row) =>
    row.map((count, j) => (count - (scale[j]?.mean ?? 0)) / (scale[j]?.deviation ?? 1)),
  )
  const { weights } = fitLogistic(standard, history.outcomes, ridge)
  const perTime = weights.map((weight, j) => weight / (scale[j]?.deviation ?? 1))
  const strongest = Math.max(...perTime.map(Math.abs)) || 1
  return history.behaviours.map((behaviour, j) => ({
    ...behaviour,
    points: Math.round(((perTime[j] ?? 0) / strongest) * most),
    times: Number.isFinite(times[j]) ? (times[j] ?? 1) : 1,
    today: today.behaviours.find((rule) => sameBehaviour(rule, behaviour))?.points ?? 0,
  }))
}

/** The scorecard with the suggested points in place of today's behaviour rules. */
export function acceptSuggestion(card: Scorecard, suggested: readonly SuggestedPoints[]): Scorecard {
  const behaviours = suggested
    .filter(({ points }) => points !== 0)
    .map(({ activity, details, points, times, halfLife }, i): BehaviourRule => {
      const old = card.behaviours.find((rule) => sameBehaviour(rule, { activity, details }))
      const capInAll = halfLife === null ? Math.abs(points) * times : null
      return {
        id: old?.id ?? `suggested-${i + 1}`,
        activity,
        details,
        points,
        capPerDay: null,
        capInAll,
        halfLife,
      }
    })
  return { ...card, behaviours }
}
