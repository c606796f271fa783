import type { QuizContent, QuizQuestion } from '../quiz.ts'
import { optionsOf, type Option, type Shares } from './options.ts'

/** A question with all ways to answer it. */
export interface Asked {
  question: QuizQuestion
  options: readonly Option[]
}

/** Options that count alike become one, with the chances of all. */
function condensed(options: readonly Option[]): Option[] {
  const byEffect = new Map<string, Option>()
  for (const option of options) {
    const key = option.effect.join()
    const known = byEffect.get(key)
    byEffect.set(key, known ? { ...known, chance: known.chance + option.chance } : option)
  }
  return [...byEffect.values()]
}

/** The questions with all ways to answer them that can happen; what goes on alike is one way. */
export function askedQuestions(content: QuizContent, shares: Shares): Asked[] {
  const { questions, tie } = content
  const skipping = new Set(questions.flatMap(({ skippedBy }) => skippedBy))
  return questions.map((question): Asked => {
    const options = optionsOf(question, content, shares).filter(({ chance }) => chance > 0)
    const skips = options.some(({ answers }) => answers.some((id) => skipping.has(id)))
    const decides = tie.by === 'answer' && tie.question === question.id
    return { question, options: skips || decides ? options : condensed(options) }
  })
}

const spanOf = (values: readonly number[]): number => Math.max(...values) - Math.min(...values)

/** The most that two results, or a result and nothing, can come apart by its answers (fractions). */
export const widthOf = ({ options }: Asked): number => spanOf([0, ...options.flatMap(({ effect }) => effect)])

interface Weighed {
  asked: Asked
  /** How far its answers can move each result. */
  spans: readonly number[]
  width: number
}

/**
 * About how many sums come about on the way. A result can be behind by as much as it can still gain: there are as many
 * places for it as it was moved so far, or can still be moved, or as the leader is ahead, which is a third of all
 * movements or so.
 */
function estimate(order: readonly Weighed[], results: number): number {
  const moved = new Array<number>(results).fill(0)
  const left = moved.map((_, place) => order.reduce((sum, { spans }) => sum + (spans[place] ?? 0), 0))
  let [all, lead] = [0, 1]
  for (const { asked, spans, width } of order) {
    let sums = asked.options.length + 1
    for (let place = 0; place < results; place += 1) {
      sums *= 1 + Math.min(moved[place] as number, left[place] as number, lead)
      moved[place] = (moved[place] as number) + (spans[place] as number)
      left[place] = (left[place] as number) - (spans[place] as number)
    }
    all += sums
    lead += width / 3
  }
  return all
}

/** Nearly all is won by then. */
const mostLooks = 3

/**
 * Puts questions into an order in which few sums have to be kept apart: single ones are moved elsewhere as long as that
 * makes them fewer.
 * @param unit of the effects (fractions)
 * @param last the question that has to be the last, if any
 */
export function inBestOrder(asked: readonly Asked[], unit: number, last: string | null): Asked[] {
  const results = (asked[0]?.options[0]?.effect.length ?? 1) - 1
  const isLast = ({ asked: { question } }: Weighed): number => Number(question.id === last)
  let order = asked
    .map((each): Weighed => {
      const spans = Array.from(
        { length: results },
        (_, place) => spanOf(each.options.map(({ effect }) => effect[place] ?? 0)) / unit,
      )
      return { asked: each, spans, width: widthOf(each) / unit }
    })
    // What weighs most comes first.
    .sort((a, b) => isLast(a) - isLast(b) || b.width - a.width)
  const movable = order.length - (last === null ? 0 : 1)
  let least = estimate(order, results)
  for (let [before, looks] = [Infinity, 0]; least < before && looks < mostLooks; looks += 1) {
    before = least
    for (let from = 0; from < movable; from += 1)
      for (let to = 0; to < movable; to += 1) {
        const other = order.toSpliced(from, 1).toSpliced(to, 0, order[from] as Weighed)
        const fewer = estimate(other, results)
        if (fewer < least) [order, least] = [other, fewer]
      }
  }
  return order.map(({ asked: each }) => each)
}
