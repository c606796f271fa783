import {
  answersOf,
  inFractions,
  inUnits,
  type QuizAnswer,
  type QuizContent,
  type QuizQuestion,
  type QuizResult,
} from './quiz.ts'

/** What somebody has answered so far: ids of answers, or what they typed, by the question's id. */
export type Given = Readonly<Record<string, readonly string[] | string>>

/** The number that was typed: with a point or a comma. */
export const typedNumber = (typed: string): number | null => {
  const text = typed.trim().replace(',', '.')
  return /^[+-]?\d{1,15}(\.\d{1,9})?$/.test(text) ? Number(text) : null
}

/** The answer that a number stands for: the last that begins at or below it. */
function answerOfNumber(question: Extract<QuizQuestion, { asks: 'number' }>, value: number): QuizAnswer[] {
  const reached = question.answers.filter(({ from }) => from === null || from <= value)
  const best = [...reached].sort((a, b) => (a.from ?? -Infinity) - (b.from ?? -Infinity)).at(-1)
  return best ? [best] : []
}

/** The answers by which a question counts, in its own order. */
export function chosenAnswers(question: QuizQuestion, given: Given): readonly QuizAnswer[] {
  const value = given[question.id]
  if (value === undefined) return []
  if (typeof value !== 'string') return answersOf(question).filter(({ id }) => value.includes(id))
  const number = question.asks === 'number' ? typedNumber(value) : null
  return question.asks === 'number' && number !== null ? answerOfNumber(question, number) : []
}

/** Is it asked of somebody who has answered so? */
export const isAsked = (
  { skippedBy }: QuizQuestion,
  given: Given,
  questions: readonly QuizQuestion[],
): boolean =>
  skippedBy.length === 0 ||
  !questions.some((each) => chosenAnswers(each, given).some(({ id }) => skippedBy.includes(id)))

/** The questions that somebody is asked who has answered so, in the order of the quiz. */
export function questionsAsked({ questions }: Pick<QuizContent, 'questions'>, given: Given): QuizQuestion[] {
  const asked: QuizQuestion[] = []
  for (const question of questions) {
    // What was answered before and is skipped now counts for nothing, and skips nothing.
    if (isAsked(question, given, asked)) asked.push(question)
  }
  return asked
}

/** What the answers come to. */
export interface Outcome {
  /** Null when there are no results at all. */
  result: QuizResult | null
  points: number
  /** What counts for each result, by its id. */
  counts: Readonly<Record<string, number>>
  /** The results that counted alike, when the rule for ties had to decide. */
  tied: readonly string[]
}

/** Does the sum give this result? @param points in fractions */
export const takesSum = ({ from, to }: Pick<QuizResult, 'from' | 'to'>, points: number): boolean =>
  (from === null || points >= inFractions(from)) && (to === null || points <= inFractions(to))

/** How far a sum is from those that give the result (fractions). */
export const distanceOf = ({ from, to }: Pick<QuizResult, 'from' | 'to'>, points: number): number =>
  Math.max(0, from === null ? 0 : inFractions(from) - points, to === null ? 0 : points - inFractions(to))

/**
 * Which of the results it is.
 * @param counts for each result, in its order (fractions)
 * @param points the sum (fractions)
 * @param preferred what the answer that decides ties counts for each result
 * @returns places of the winner and of all that counted alike, by the rule that is said beside the results: the sum
 *   names those that it gives (the nearest where it falls into a gap); among these the highest count wins
 */
export function decide(
  { by, results }: Pick<QuizContent, 'by' | 'results'>,
  counts: ArrayLike<number>,
  points: number,
  preferred: ArrayLike<number> | null,
): { winner: number; tied: number[] } {
  const places = results.map((_, i) => i)
  let eligible = places
  if (by !== 'type') {
    const distances = results.map((result) => distanceOf(result, points))
    const least = Math.min(...distances)
    eligible = places.filter((i) => distances[i] === least)
  }
  if (by === 'points') return { winner: eligible[0] ?? -1, tied: eligible.slice(0, 1) }
  const most = Math.max(...eligible.map((i) => counts[i] ?? 0))
  const tied = eligible.filter((i) => counts[i] === most)
  if (preferred === null) return { winner: tied[0] ?? -1, tied }
  const best = Math.max(...tied.map((i) => preferred[i] ?? 0))
  return { winner: tied.find((i) => preferred[i] === best) ?? -1, tied }
}

/** What an answer counts for each result, in the order of the results (fractions). */
export const countsOf = (answer: QuizAnswer, results: readonly QuizResult[]): number[] =>
  results.map(({ id }) => inFractions(answer.counts[id] ?? 0))

/** Works out the result of what was answered: only what is asked counts. */
export function outcomeOf(content: QuizContent, given: Given): Outcome {
  const { results, tie } = content
  const counts = results.map(() => 0)
  let points = 0
  let preferred: number[] | null = null
  for (const question of questionsAsked(content, given)) {
    const chosen = chosenAnswers(question, given)
    if (tie.by === 'answer' && tie.question === question.id && chosen.length > 0)
      preferred = results.map(() => 0)
    for (const answer of chosen) {
      points += inFractions(answer.points)
      countsOf(answer, results).forEach((count, i) => {
        counts[i] = (counts[i] ?? 0) + count
        if (preferred && tie.by === 'answer' && tie.question === question.id)
          preferred[i] = (preferred[i] ?? 0) + count
      })
    }
  }
  const { winner, tied } = decide(content, counts, points, preferred)
  return {
    result: results[winner] ?? null,
    points: inUnits(points),
    counts: Object.fromEntries(results.map(({ id }, i) => [id, inUnits(counts[i] ?? 0)])),
    tied: tied.length > 1 ? tied.flatMap((i) => results[i]?.id ?? []) : [],
  }
}
