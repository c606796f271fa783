import { quizContent, type QuizContent } from '../../core/quizzes/quiz.ts'
import type { Queries } from '../database/connect.ts'
import { notFound } from '../http/problems.ts'

/** A version of a quiz that visitors take. */
export interface PublishedQuiz {
  id: number
  name: string
  path: string
  version: number
  content: QuizContent
}

interface Row extends Omit<PublishedQuiz, 'content'> {
  content: unknown
}

const columns = 'quiz.id, name, path, number as version, content'
const read = (row: Row): PublishedQuiz => ({ ...row, content: quizContent.parse(row.content) })

/** Every quiz as it is published, by its number. */
export async function loadQuizzes(q: Queries): Promise<ReadonlyMap<number, PublishedQuiz>> {
  const rows = await q.rows<Row>(
    `select ${columns} from quiz join quiz_version on quiz_id = quiz.id and number = published_version
     where archived_at is null order by quiz.id`,
  )
  return new Map(rows.map((row) => [row.id, read(row)]))
}

/** A quiz in the version that somebody began; null when it is gone. */
export async function quizVersion(q: Queries, quiz: number, version: number): Promise<PublishedQuiz | null> {
  const row = await q.row<Row>(
    `select ${columns} from quiz join quiz_version on quiz_id = quiz.id
     where quiz.id = $1 and number = $2 and archived_at is null`,
    [quiz, version],
  )
  return row ? read(row) : null
}

/** What visitors get of a quiz now, or its draft before anybody did; put away or not. @throws Problem 404 */
export async function currentContent(q: Queries, quiz: number): Promise<QuizContent> {
  const row = await q.row<{ content: unknown }>(
    `select content from quiz_version join quiz on quiz.id = quiz_id where quiz_id = $1
     order by number = published_version desc nulls last, number desc limit 1`,
    [quiz],
  )
  if (!row) throw notFound('This quiz')
  return quizContent.parse(row.content)
}
