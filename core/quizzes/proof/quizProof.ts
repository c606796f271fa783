import {
  answersOf,
  inFractions,
  inUnits,
  type QuizAnswer,
  type QuizContent,
  type QuizQuestion,
} from '../quiz.ts'
import { distanceOf, takesSum } from '../scoring.ts'
import { canDecide, chancesOf, type Between, type Chances } from './chances.ts'
import { nearestTo, type Nearest } from './nearest.ts'
import { optionsOf, type Shares } from './options.ts'
import { pathLengths, type PathLengths } from './paths.ts'

/** The sum that comes nearest to those that give a result. */
export interface NearestSum {
  sum: number
  /** By how much it misses. */
  off: number
}

/** What is proved of one result. */
export interface ResultProof {
  id: string
  /** Null when there are too many ways to answer to say. */
  chance: Between | null
  /** Does somebody get it? Null when nobody can tell. */
  isReached: boolean | null
  /** By type: how near one can come. */
  nearest: Nearest | null
  /** By points: the sum that comes nearest, when none gives it. */
  nearestSum: NearestSum | null
}

/** Sums from one to another, both ends among them, that no result or several take. */
export interface SumRange {
  from: number
  to: number
  /** Ids of the results that take them. */
  results: readonly string[]
}

/** All that is proved of a quiz. */
export interface QuizProof extends PathLengths {
  results: readonly ResultProof[]
  /** How often the rule for ties decides. */
  ties: Between | null
  /** Sums that can come about and that no result takes. */
  gaps: readonly SumRange[]
  /** Sums that can come about and that several results take: the first of them gets all. */
  overlaps: readonly SumRange[]
  /** Questions whose answers change nothing. */
  idleQuestions: readonly string[]
  /** Answers that count nothing while others of their question do. */
  idleAnswers: readonly string[]
}

/** The rows of a run of sums with the same takers, put together. */
function rangesOf(sums: readonly number[], takersOf: (sum: number) => readonly string[]): SumRange[] {
  const ranges: SumRange[] = []
  let last: string | null = null
  for (const sum of sums) {
    const results = takersOf(sum)
    const key = results.join()
    const open = ranges.at(-1)
    if (open && key === last) open.to = sum
    else ranges.push({ from: sum, to: sum, results })
    last = key
  }
  return ranges
}

/** Does what it counts make no difference, whatever the others are? By type only what differs between results does. */
function countsAlike(effects: readonly (readonly number[])[], { by }: QuizContent): boolean {
  const keys = effects.map((effect) => {
    const counts = effect.slice(0, -1)
    const base = counts[0] ?? 0
    const type = by === 'points' ? [] : counts.map((count) => count - base)
    return [...type, by === 'type' ? 0 : (effect.at(-1) ?? 0)].join()
  })
  return new Set(keys).size < 2
}

/** Of points, none at all is an answer as any other. */
const countsNothing = ({ counts, points }: QuizAnswer, { by }: QuizContent): boolean =>
  by !== 'points' && Object.values(counts).every((count) => count === 0) && (by === 'type' || points === 0)

/** Does anything else depend on its answers: actions, or which questions are skipped? */
const doesMore = (question: QuizQuestion, { questions }: QuizContent): boolean =>
  answersOf(question).some(
    ({ id, actions }) => actions.length > 0 || questions.some(({ skippedBy }) => skippedBy.includes(id)),
  )

function idleQuestions(content: QuizContent, mayAsk: boolean): string[] {
  return content.questions
    .filter((question) => answersOf(question).length > 0 && !doesMore(question, content))
    .filter((question) => {
      const effects = optionsOf(question, content, null).map(({ effect }) => effect)
      if (countsAlike(effects, content)) return true
      return mayAsk && content.results.length > 1 && canDecide(content, question.id) === false
    })
    .map(({ id }) => id)
}

function idleAnswers(content: QuizContent, idle: readonly string[]): string[] {
  return content.questions.flatMap((question) => {
    if (idle.includes(question.id)) return []
    return answersOf(question)
      .filter((answer) => countsNothing(answer, content) && answer.actions.length === 0)
      .filter(({ id }) => !content.questions.some(({ skippedBy }) => skippedBy.includes(id)))
      .map(({ id }) => id)
  })
}

function nearestSum(content: QuizContent, place: number, { sums }: Chances): NearestSum | null {
  const result = content.results[place]
  if (!result) return null
  const all = sums.map(({ sum }) => ({ sum, off: distanceOf(result, inFractions(sum)) }))
  const best = all.sort((a, b) => a.off - b.off)[0]
  return best ? { sum: best.sum, off: inUnits(best.off) } : null
}

/** Many sums take long to go through once for each question: then only what is plain to see is said of questions. */
const fewWays = 1e6
const fewSumsKept = 100_000

const ways = (content: QuizContent): number =>
  content.questions.reduce((all, question) => all * Math.max(1, optionsOf(question, content, null).length), 1)

/** How much work a proof may be. */
export interface Effort {
  /** Different sums that are kept apart. */
  sums: number
  /** Ways to answer that are tried for each result. */
  tried: number
}

/** As long as an editor waits, beside which a worker does it. */
export const thorough: Effort = { sums: 400_000, tried: 60_000 }
/** Within a request. */
export const quick: Effort = { sums: 15_000, tried: 3_000 }

/**
 * Proves what can be proved of a quiz: who gets what, and what nobody gets.
 * @param shares how often each answer is chosen; evenly when null
 */
export function proveQuiz(content: QuizContent, shares: Shares = null, effort: Effort = thorough): QuizProof {
  const { by, results } = content
  const even = chancesOf(content, null, effort.sums)
  const chances = shares === null ? even : chancesOf(content, shares, effort.sums)
  const sums = by === 'points' ? (even?.sums.map(({ sum }) => sum) ?? []) : []
  const ranges = rangesOf(sums, (sum) =>
    results.filter((result) => takesSum(result, inFractions(sum))).map(({ id }) => id),
  )
  const idle = idleQuestions(content, ways(content) <= fewWays && effort.sums > fewSumsKept)
  return {
    results: results.map((result, i): ResultProof => {
      const nearest = by === 'type' ? nearestTo(content, i, effort.tried) : null
      const known =
        even && (even.results[i]?.least ?? 0) > 0 ? true : even && even.results[i]?.most === 0 ? false : null
      const found = nearest && (nearest.isReached || nearest.isCertain) ? nearest.isReached : null
      const isReached = by === 'type' ? (found ?? known) : known
      return {
        id: result.id,
        chance: chances?.results[i] ?? null,
        isReached,
        nearest,
        nearestSum: by === 'points' && isReached === false && even ? nearestSum(content, i, even) : null,
      }
    }),
    ties: by === 'points' ? { least: 0, most: 0 } : (chances?.ties ?? null),
    gaps: ranges.filter(({ results: takers }) => takers.length === 0),
    overlaps: ranges.filter(({ results: takers }) => takers.length > 1),
    idleQuestions: idle,
    idleAnswers: idleAnswers(content, idle),
    ...pathLengths(content),
  }
}
