import { z } from 'zod'
import { activityKind, askedDetails } from '../people/activity.ts'
import { condition, type Condition } from '../segments/condition.ts'
import { referencesOfDetails, type Reference } from '../segments/references.ts'

const ruleId = z.string().regex(/^[a-z0-9-]{1,40}$/)
const points = z
  .number()
  .int('Points are whole numbers')
  .min(-1000)
  .max(1000)
  .refine((value) => value !== 0, 'A rule needs points other than 0')
/** Half-lives in days: an hour, and ten years. */
const shortestHalfLife = 1 / 24
const longestHalfLife = 3_650
const cap = z.number().int().min(1).max(100_000)

/** Points for what somebody does. They fade by half every `halfLife` days, or stay. */
const behaviourRule = z.object({
  id: ruleId,
  activity: activityKind,
  details: askedDetails.default({}),
  points,
  /** At most so many points from this rule on one day of the business's calendar. */
  capPerDay: cap.nullable().default(null),
  /** At most so many points from this rule ever, before fading. */
  capInAll: cap.nullable().default(null),
  halfLife: z
    .number()
    .min(shortestHalfLife, 'At least one hour')
    .max(longestHalfLife, 'Ten years at most; leave it empty for points that do not fade')
    .nullable()
    .default(null),
})
export type BehaviourRule = z.infer<typeof behaviourRule>

/** Points for what somebody is: they come and go with it. */
const profileRule = z.object({ id: ruleId, when: condition, points })
export type ProfileRule = z.infer<typeof profileRule>

const band = z.object({ id: ruleId, name: z.string().trim().min(1).max(40), from: z.number().nullable() })
export type Band = z.infer<typeof band>

/** Rules that give points, and the ranges of the score that have names; the lowest band has no threshold. */
export const scorecard = z
  .object({
    behaviours: z.array(behaviourRule).max(60),
    profile: z.array(profileRule).max(60),
    bands: z.array(band).min(1).max(8),
  })
  .check(({ value, issues }) => {
    const fault = (path: string, message: string) =>
      issues.push({ code: 'custom', input: value, path: [path], message })
    const ids = [...value.behaviours, ...value.profile].map((rule) => rule.id)
    if (new Set(ids).size < ids.length) fault('behaviours', 'Two rules have the same id')
    const thresholds = value.bands.map(({ from }) => from)
    if (thresholds[0] !== null || thresholds.slice(1).includes(null))
      fault('bands', 'Only the lowest band has no threshold')
    const rest = thresholds.slice(1).map(Number)
    if (rest.some((from, i) => i > 0 && from <= (rest[i - 1] ?? from)))
      fault('bands', 'Each band must start higher than the one before it')
    if (new Set(value.bands.map(({ name }) => name.toLowerCase())).size < value.bands.length)
      fault('bands', 'Two bands have the same name')
  })
export type Scorecard = z.infer<typeof scorecard>

/** What a scorecard asks about who people are. */
export const conditionsOfCard = (card: Scorecard): Condition[] => card.profile.map(({ when }) => when)

/** What its rules for behaviour speak of. */
export const referencesOfCard = (card: Scorecard): Reference[] =>
  card.behaviours.flatMap(({ details }) => referencesOfDetails(details))

/** The half-lives of a scorecard in days, each once, shortest first: one fading sum is kept for each. */
export function halfLivesOf(card: Scorecard): number[] {
  const days = card.behaviours.flatMap(({ halfLife }) => (halfLife === null ? [] : [halfLife]))
  return [...new Set(days)].sort((a, b) => a - b)
}

/** The band that a score lies in. */
export function bandOf(card: Pick<Scorecard, 'bands'>, score: number): Band {
  const reached = card.bands.filter(({ from }) => from === null || score >= from).at(-1)
  if (!reached) throw new RangeError('a scorecard has at least one band')
  return reached
}

/** Where a band begins and ends; null is without end. */
export function rangeOf(
  card: Pick<Scorecard, 'bands'>,
  id: string,
): { from: number | null; below: number | null } | null {
  const at = card.bands.findIndex((each) => each.id === id)
  const found = card.bands[at]
  return found ? { from: found.from, below: card.bands[at + 1]?.from ?? null } : null
}
