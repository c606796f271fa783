import { decide } from '../scoring.ts'
import { inUnits, type QuizContent, type QuizQuestion } from '../quiz.ts'
import { optionsOf, type Option } from './options.ts'

/** How near answers bring somebody to a result. */
export interface Nearest {
  isReached: boolean
  /** Nothing comes nearer than this; false when there were too many ways to try them all. */
  isCertain: boolean
  /** The answers that bring them there, by question; left open where one is missing. */
  answers: Readonly<Record<string, readonly string[]>>
  /** By how much the other one is ahead; 0 when they are alike, and the rule for ties decides against it. */
  behind: number
  /** The place of the result that they get. */
  winner: number
}

interface Step {
  question: QuizQuestion
  options: readonly Option[]
  /** The least that each other result can gain on the wanted one from here to the end, by place. */
  rest: readonly number[]
}

/** The steps, each with what can still happen from it on. */
function stepsTowards(content: QuizContent, wanted: number): Step[] {
  const rest = content.results.map(() => 0)
  const steps: Step[] = []
  for (const question of [...content.questions].reverse()) {
    const lead = ({ effect }: Option, j: number): number => (effect[j] ?? 0) - (effect[wanted] ?? 0)
    const worst = (option: Option): number => Math.max(...content.results.map((_, j) => lead(option, j)))
    const options = [...optionsOf(question, content, null)].sort((a, b) => worst(a) - worst(b))
    rest.forEach((sum, j) => {
      const least = Math.min(...options.map((option) => lead(option, j)))
      rest[j] = sum + (question.skippedBy.length > 0 ? Math.min(0, least) : least)
    })
    steps.unshift({ question, options, rest: [...rest] })
  }
  return steps
}

/** Tries ways to answer, the promising ones first, and leaves out those that cannot come nearer (branch and bound). */
class Search {
  private readonly steps: Step[]
  private tried = 0
  private best: Nearest | null = null

  constructor(
    private readonly content: QuizContent,
    private readonly wanted: number,
    private readonly mostTried: number,
  ) {
    this.steps = stepsTowards(content, wanted)
  }

  private finish(chosen: readonly (Option | null)[], sums: readonly number[]): void {
    const { content, wanted, steps } = this
    const { tie } = content
    const at = tie.by === 'answer' ? steps.findIndex(({ question }) => question.id === tie.question) : -1
    const decider = chosen[at]
    const preferred = decider && decider.answers.length > 0 ? decider.effect.slice(0, -1) : null
    const { winner } = decide(content, sums, sums.at(-1) ?? 0, preferred)
    const others = sums.slice(0, -1).filter((_, j) => j !== wanted)
    const behind = Math.max(0, ...others.map((sum) => sum - (sums[wanted] ?? 0)))
    const isReached = winner === wanted
    if (this.best && !isReached && inUnits(behind) >= this.best.behind) return
    this.best = {
      isReached,
      isCertain: true,
      answers: Object.fromEntries(
        steps.flatMap(({ question }, i) => (chosen[i] ? [[question.id, chosen[i].answers]] : [])),
      ),
      behind: isReached ? 0 : inUnits(behind),
      winner,
    }
  }

  private isHopeless(at: number, sums: readonly number[]): boolean {
    const { best, wanted, steps } = this
    const rest = steps[at]?.rest ?? []
    const bound = Math.max(
      ...rest.map((least, j) => (j === wanted ? -Infinity : (sums[j] ?? 0) - (sums[wanted] ?? 0) + least)),
    )
    return best !== null && bound > 0 && inUnits(bound) >= best.behind
  }

  private walk(at: number, chosen: (Option | null)[], sums: readonly number[]): void {
    if (this.best?.isReached || this.tried > this.mostTried) return
    this.tried += 1
    const step = this.steps[at]
    if (!step) {
      this.finish(chosen, sums)
      return
    }
    if (this.isHopeless(at, sums)) return
    const given = chosen.flatMap((option) => option?.answers ?? [])
    if (step.question.skippedBy.some((id) => given.includes(id))) {
      this.walk(at + 1, [...chosen, null], sums)
      return
    }
    for (const option of step.options)
      this.walk(
        at + 1,
        [...chosen, option],
        sums.map((sum, i) => sum + (option.effect[i] ?? 0)),
      )
  }

  run(): Nearest | null {
    this.walk(0, [], [...this.content.results.map(() => 0), 0])
    return this.best && { ...this.best, isCertain: this.best.isReached || this.tried <= this.mostTried }
  }
}

/**
 * How near somebody can come to a result whose answers count by type: with answers that give it, or that miss it by the
 * least.
 * @param wanted the place of the result
 * @param mostTried ways to answer that are tried at most
 */
export const nearestTo = (content: QuizContent, wanted: number, mostTried = 60_000): Nearest | null =>
  new Search(content, wanted, mostTried).run()
