import type { Instant } from '../people/activity.ts'
import { bandOf, halfLivesOf, type Band, type Scorecard } from './scorecard.ts'

const day = 24 * 3_600_000

/**
 * A person's score, kept so that its value at any moment takes one step to work out: the points that stay, and one
 * sum of fading points for each half-life of the scorecard (`halfLivesOf`), worth what it was worth at `asOf`.
 */
export interface StoredScore {
  asOf: Instant
  steady: number
  fading: readonly number[]
}

export const noScore: StoredScore = { asOf: 0, steady: 0, fading: [] }

/** The score at a moment. Half-life: value × 0.5^(age / half-life), by definition. */
export function scoreAt(stored: StoredScore, halfLives: readonly number[], at: Instant): number {
  return stored.fading.reduce(
    (sum, value, i) => sum + value * 0.5 ** ((at - stored.asOf) / ((halfLives[i] ?? 1) * day)),
    stored.steady,
  )
}

/** Something that a behaviour rule, by its place, gives points for. */
export interface Hit {
  rule: number
  at: Instant
}

/**
 * How a scorecard adds up what one person did, oldest first. Made once and used for a million people: what depends
 * on the card alone is worked out here.
 * @param dayOf the number of the day, on the business's calendar, that an instant belongs to
 */
export function createScoreAdder(
  card: Scorecard,
  dayOf: (at: Instant) => number,
): (hits: readonly Hit[]) => StoredScore {
  const halfLives = halfLivesOf(card)
  const rules = card.behaviours.map(({ points, capPerDay, capInAll, halfLife }) => ({
    sign: Math.sign(points),
    size: Math.abs(points),
    capPerDay: capPerDay ?? Infinity,
    capInAll: capInAll ?? Infinity,
    capped: capPerDay !== null || capInAll !== null,
    pool: halfLife === null ? -1 : halfLives.indexOf(halfLife),
    life: (halfLife ?? 0) * day,
  }))
  return (hits) => {
    // Each pool is worth what it was at its own last hit; at the end all are brought to one moment.
    const fading = halfLives.map(() => 0)
    const since = halfLives.map(() => 0)
    const given = rules.map(() => ({ day: NaN, today: 0, inAll: 0 }))
    let steady = 0
    let asOf = 0
    for (const { rule: index, at } of hits) {
      const rule = rules[index]
      const so = given[index]
      if (!rule || !so) continue
      let size = rule.size
      if (rule.capped) {
        const today = rule.capPerDay === Infinity ? 0 : dayOf(at)
        if (so.day !== today) {
          so.day = today
          so.today = 0
        }
        size = Math.max(0, Math.min(size, rule.capPerDay - so.today, rule.capInAll - so.inAll))
        so.today += size
        so.inAll += size
      }
      if (rule.pool < 0) {
        steady += rule.sign * size
        continue
      }
      fading[rule.pool] =
        (fading[rule.pool] ?? 0) * 0.5 ** ((at - (since[rule.pool] ?? 0)) / rule.life) + rule.sign * size
      since[rule.pool] = at
      asOf = at
    }
    for (const [i, halfLife] of halfLives.entries())
      fading[i] = (fading[i] ?? 0) * 0.5 ** ((asOf - (since[i] ?? 0)) / (halfLife * day))
    return { asOf, steady, fading }
  }
}

/** A sum of fading terms: Σ value × 0.5^(rate × days). */
type Terms = readonly { value: number; rate: number }[]

const worth = (terms: Terms, days: number): number =>
  terms.reduce((sum, { value, rate }) => sum + value * 0.5 ** (rate * days), 0)

/**
 * Where a sum of fading terms passes through zero, between 0 and `horizon` days, in order.
 * Between two neighbouring extremes it does so at most once (Rolle's theorem), and the extremes are the zeros of a
 * derivative that has one term less once the slowest term has been divided out: so the search is exact, and is over
 * after as many rounds as there are terms.
 */
function zerosOf(terms: Terms, horizon: number): number[] {
  const [slowest, ...faster] = [...terms].filter(({ value }) => value !== 0).sort((a, b) => a.rate - b.rate)
  if (!slowest || faster.length === 0) return []
  const slope = faster.map(({ value, rate }) => ({
    value: -value * (rate - slowest.rate),
    rate: rate - slowest.rate,
  }))
  const ends = [0, ...zerosOf(slope, horizon), horizon]
  return ends.slice(1).flatMap((end, i) => {
    const begin = ends[i] ?? 0
    return worth(terms, begin) * worth(terms, end) < 0 ? [bisect(terms, begin, end)] : []
  })
}

function bisect(terms: Terms, begin: number, end: number): number {
  const sign = Math.sign(worth(terms, begin))
  let [low, high] = [begin, end]
  // Halving twenty years of days fifty times ends far below a millisecond.
  for (let i = 0; i < 50; i += 1) {
    const middle = (low + high) / 2
    if (Math.sign(worth(terms, middle)) === sign) low = middle
    else high = middle
  }
  return high
}

const horizon = 20 * 365

/**
 * When plus points alone fade below a threshold: they only fall, so they pass it once or never. One pool alone has
 * an answer in closed form, from value × 0.5^(days / half-life) = what is missing.
 */
function fallsBelow(threshold: number, steady: number, fading: Terms): number[] {
  const missing = threshold - steady
  const left = fading.filter(({ value }) => value > 0)
  const [only, ...more] = left
  if (missing <= 0 || !only) return []
  if (more.length === 0) return only.value > missing ? [Math.log2(only.value / missing) / only.rate] : []
  const terms = [{ value: -missing, rate: 0 }, ...left]
  return worth(terms, 0) > 0 && worth(terms, horizon) < 0 ? [bisect(terms, 0, horizon)] : []
}

/**
 * When a score that nothing is added to comes into another band by time alone.
 * @returns the first millisecond in the other band, or null when that never happens within twenty years
 */
export function nextCrossing(
  card: Scorecard,
  stored: StoredScore,
  from: Instant,
  halfLives = halfLivesOf(card),
): { at: Instant; band: Band } | null {
  const here = bandOf(card, scoreAt(stored, halfLives, from))
  const fading = halfLives.map((halfLife, i) => ({
    value: (stored.fading[i] ?? 0) * 0.5 ** ((from - stored.asOf) / (halfLife * day)),
    rate: 1 / halfLife,
  }))
  const onlyFalls = fading.every(({ value }) => value >= 0)
  const moments = onlyFalls
    ? here.from === null
      ? []
      : fallsBelow(here.from, stored.steady, fading)
    : card.bands
        .flatMap((each) =>
          each.from === null
            ? []
            : zerosOf([{ value: stored.steady - each.from, rate: 0 }, ...fading], horizon),
        )
        .sort((a, b) => a - b)
  // Who stands on a threshold may leave it at once.
  for (const days of [0, ...moments]) {
    // The zero lies between two milliseconds, and rounding may put it one too early.
    const first = Math.ceil(from + days * day)
    for (const at of [first, first + 1]) {
      const band = bandOf(card, scoreAt(stored, halfLives, at))
      if (band.id !== here.id) return { at, band }
    }
  }
  return null
}
