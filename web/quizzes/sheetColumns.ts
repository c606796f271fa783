import type { QuizContent } from '../../core/quizzes/quiz.ts'

/** Which columns a score sheet has beside the words, and how many. */
export interface SheetColumns {
  /** One for each result: what an answer counts for it. */
  counts: boolean
  points: boolean
  expected: boolean
  count: number
}

/** @param expected whether shares that are expected are typed */
export function sheetColumns({ by, results }: QuizContent, expected: boolean): SheetColumns {
  const counts = by !== 'points'
  const points = by !== 'type'
  return {
    counts,
    points,
    expected,
    count: (counts ? results.length : 0) + Number(points) + Number(expected),
  }
}
