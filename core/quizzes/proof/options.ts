import { mostOf } from '../asking.ts'
import { answersOf, inFractions, type QuizAnswer, type QuizContent, type QuizQuestion } from '../quiz.ts'
import { countsOf } from '../scoring.ts'

/** One way to answer a question. */
export interface Option {
  /** Ids of the answers; none when it is left open. */
  answers: readonly string[]
  /** How likely it is, of 1. */
  chance: number
  /** What it counts: for each result in order, then the sum (fractions). */
  effect: readonly number[]
}

/** How often each answer is chosen: of 1, by the answer's id. Evenly when null. */
export type Shares = Readonly<Record<string, number>> | null

/** All sets of answers that can be chosen, up to a size. */
function subsets(answers: readonly QuizAnswer[], most: number): QuizAnswer[][] {
  return answers.reduce<QuizAnswer[][]>(
    (all, answer) => [...all, ...all.filter(({ length }) => length < most).map((set) => [...set, answer])],
    [[]],
  )
}

function effectOf(chosen: readonly QuizAnswer[], { results }: QuizContent): number[] {
  const sum = [...results.map(() => 0), 0]
  for (const answer of chosen)
    [...countsOf(answer, results), inFractions(answer.points)].forEach((count, i) => {
      sum[i] = (sum[i] ?? 0) + count
    })
  return sum
}

/** The chances of sets, when each answer is chosen by itself so often. */
const chanceOfSet = (
  set: readonly QuizAnswer[],
  all: readonly QuizAnswer[],
  shares: NonNullable<Shares>,
): number =>
  all.reduce((product, answer) => {
    const share = Math.min(1, shares[answer.id] ?? 0)
    return product * (set.includes(answer) ? share : 1 - share)
  }, 1)

/** What a single choice is chosen with: its share; what is left falls to leaving it open, where that may be. */
function chanceOfOne(
  [answer]: readonly QuizAnswer[],
  question: QuizQuestion,
  shares: NonNullable<Shares>,
): number {
  const all = answersOf(question).reduce((sum, { id }) => sum + (shares[id] ?? 0), 0)
  if (answer) return shares[answer.id] ?? 0
  return question.required ? 0 : Math.max(0, 1 - all)
}

/**
 * Every way to answer a question, with how likely it is; ways that count alike stay apart, since they may skip other
 * questions.
 */
export function optionsOf(question: QuizQuestion, content: QuizContent, shares: Shares): Option[] {
  const answers = answersOf(question)
  const sets = subsets(answers, mostOf(question)).filter(
    ({ length }) => length > 0 || !question.required || answers.length === 0,
  )
  const known = shares !== null && answers.some(({ id }) => (shares[id] ?? 0) > 0) ? shares : null
  const chances = sets.map((set) => {
    if (known === null) return 1
    return question.asks === 'several' ? chanceOfSet(set, answers, known) : chanceOfOne(set, question, known)
  })
  const whole = chances.reduce((sum, chance) => sum + chance, 0)
  return sets.map((set, i) => ({
    answers: set.map(({ id }) => id),
    chance: whole === 0 ? 1 / sets.length : (chances[i] ?? 0) / whole,
    effect: effectOf(set, content),
  }))
}

/** The shares that the marketer expects, as far as they are said. */
export function expectedShares({ questions }: QuizContent): Shares {
  const said = questions.flatMap((question) =>
    answersOf(question).flatMap(({ id, expected }) =>
      expected === null ? [] : [[id, expected / 100] as const],
    ),
  )
  return said.length > 0 ? Object.fromEntries(said) : null
}
