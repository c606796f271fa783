import { canonical } from '../blocks/canonical.ts'
import type { QuizContent } from './quiz.ts'

const isOther = (a: unknown, b: unknown): boolean => canonical(a) !== canonical(b)

/** What is different in a list of parts that have ids, in words. */
function changedParts<Part extends { id: string }>(
  before: readonly Part[],
  after: readonly Part[],
  word: string,
  nameOf: (part: Part) => string,
): string[] {
  const old = new Map(before.map((part) => [part.id, part]))
  const now = new Map(after.map((part) => [part.id, part]))
  const named = (part: Part): string => `${word} “${nameOf(part)}”`
  const kept = after.filter(({ id }) => old.has(id))
  const order = before.filter(({ id }) => now.has(id)).map(({ id }) => id)
  return [
    ...after.filter(({ id }) => !old.has(id)).map((part) => `Added the ${named(part)}`),
    ...before.filter(({ id }) => !now.has(id)).map((part) => `Deleted the ${named(part)}`),
    ...kept.filter((part) => isOther(part, old.get(part.id))).map((part) => `Changed the ${named(part)}`),
    ...(isOther(
      order,
      kept.map(({ id }) => id),
    )
      ? [`Changed the order of the ${word}s`]
      : []),
  ]
}

/** What is different from the version before, in words. */
export function describeQuizChanges(before: QuizContent, after: QuizContent): string[] {
  const said = (key: keyof QuizContent, words: string): string[] =>
    isOther(before[key], after[key]) ? [words] : []
  return [
    ...said('title', 'Changed the title'),
    ...said('cover', 'Changed the cover'),
    ...said('by', 'Changed what the result is counted by'),
    ...changedParts(before.questions, after.questions, 'question', ({ words }) => words),
    ...changedParts(before.results, after.results, 'result', ({ name }) => name),
    ...said('tie', 'Changed the rule for ties'),
    ...said('shuffles', 'Changed the order of questions'),
    ...said('address', 'Changed how the address is asked for'),
    ...said('takes', 'Changed how often somebody can take it'),
    ...said('showsShares', 'Changed whether the shares of results are shown'),
    ...said('share', 'Changed how a result is passed on'),
  ]
}
