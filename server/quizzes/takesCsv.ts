import { chosenAnswers, type Given } from '../../core/quizzes/scoring.ts'
import { csvLines } from '../audience/people/exports.ts'
import type { Queries } from '../database/connect.ts'
import { currentContent } from './publishedQuizzes.ts'

/** Takes read at a time. */
const batch = 2_000

interface TakeRow {
  id: number
  began: Date
  finished: Date | null
  address: string | null
  result: string | null
  points: number | null
  answers: Given
  source: Record<string, string>
}

/** All takes of a quiz as CSV, with a column for each question of what visitors get now. @throws Problem 404 */
export async function* takesCsv(q: Queries, id: number): AsyncGenerator<string> {
  const { questions, results } = await currentContent(q, id)
  yield csvLines([
    ['Began', 'Finished', 'Address', 'Result', 'Points', ...questions.map(({ words }) => words), 'Source'],
  ])
  for (let last = 0; ;) {
    const takes = await q.rows<TakeRow>(
      `select quiz_take.id, began_at began, finished_at finished, contact.address, result, points::float8 points, answers,
         quiz_take.source
       from quiz_take left join contact on contact.id = contact_id
       where quiz_id = $1 and quiz_take.id > $2 and not quiz_take.rehearsal order by quiz_take.id limit $3`,
      [id, last, batch],
    )
    if (takes.length === 0) return
    last = takes.at(-1)?.id ?? last
    yield csvLines(
      takes.map((take) => [
        take.began.toISOString(),
        take.finished?.toISOString() ?? '',
        take.address ?? '',
        results.find((each) => each.id === take.result)?.name ?? '',
        take.points ?? '',
        ...questions.map((question) => {
          const value = take.answers[question.id]
          if (typeof value === 'string') return value
          return chosenAnswers(question, take.answers)
            .map(({ words }) => words)
            .join('; ')
        }),
        take.source.utm_source ?? '',
      ]),
    )
  }
}
