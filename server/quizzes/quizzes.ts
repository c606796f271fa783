import type { QuizRow, QuizView } from '../../contract/quizzes.ts'
import type { ThingState } from '../../contract/drafts.ts'
import { renumberedQuiz } from '../../core/quizzes/renumberQuiz.ts'
import type { QuizContent } from '../../core/quizzes/quiz.ts'
import type { Doing } from '../blocks/drafts.ts'
import { publicPathsOf } from '../blocks/publicPaths.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { notFound, Problem } from '../http/problems.ts'
import { randomPartId } from '../pages/partIds.ts'
import { usesOf } from '../pages/usage.ts'
import { quizDrafts } from './quizDrafts.ts'

const month = 30 * 86_400_000

export const quizPaths = publicPathsOf('quiz')

/** Makes a quiz whose first version is a draft. @returns its id */
export async function createQuiz(
  q: Queries,
  { name, content, labels = [] }: { name: string; content: QuizContent; labels?: readonly string[] },
  doing: Doing,
): Promise<number> {
  const row = await q.row<{ id: number }>(
    'insert into quiz (name, path, labels, created_at) values ($1, $2, $3, $4) returning id',
    [name, await quizPaths.free(q, name), labels, doing.at],
  )
  if (!row) throw new Error('an insert returned no row')
  await quizDrafts.begin(q, row.id, content, doing)
  await announce(q, 'pages')
  return row.id
}

interface Row extends Omit<QuizRow, 'usedIn' | 'changedAt'> {
  state: ThingState
  changedAt: Date
}

/** Every quiz with its numbers of the last 30 days, the one changed last first. */
export async function listQuizzes(q: Queries, now: number): Promise<QuizRow[]> {
  const rows = await q.rows<Row>(
    `select quiz.id, name, path, to_json(labels) labels,
       case when archived_at is not null then 'archived' when published_version is null then 'draft' else 'live' end state,
       published_version is not null and newest.number > published_version "hasDraft",
       jsonb_array_length(newest.content->'questions') questions, newest.made_at "changedAt",
       taken.began, taken.finished, taken.known
     from quiz join lateral (select number, content, made_at from quiz_version where quiz_id = quiz.id
       order by number desc limit 1) newest on true
     cross join lateral (select count(*)::int began, count(finished_at)::int finished, count(addressed_at)::int known
       from quiz_take where quiz_id = quiz.id and began_at >= $1 and not rehearsal) taken
     order by newest.made_at desc, quiz.id desc`,
    [new Date(now - month)],
  )
  const uses = await usesOf(
    q,
    'quiz',
    rows.map(({ id }) => id),
  )
  return rows.map(({ changedAt, ...row }) => ({
    ...row,
    usedIn: uses.get(row.id) ?? [],
    changedAt: changedAt.toISOString(),
  }))
}

/** A quiz with its draft, as its editor opens it. @throws Problem 404 */
export async function viewQuiz(q: Queries, id: number, doing: Doing): Promise<QuizView> {
  const row = await q.row<{ path: string; labels: string[] }>(
    'select path, to_json(labels) labels from quiz where id = $1',
    [id],
  )
  if (!row) throw notFound('This quiz')
  const usedIn = (await usesOf(q, 'quiz', [id])).get(id) ?? []
  return { ...(await quizDrafts.view(q, id, doing)), ...row, usedIn }
}

/** Makes a draft that asks the same. @returns its id */
export async function copyQuiz(q: Queries, id: number, doing: Doing): Promise<number> {
  const { name } = await quizDrafts.thing(q, id)
  const { content } = await quizDrafts.newest(q, id)
  const row = await q.row<{ labels: string[] }>('select to_json(labels) labels from quiz where id = $1', [id])
  return createQuiz(
    q,
    {
      name: `${name} (copy)`.slice(0, 120),
      content: renumberedQuiz(content, randomPartId),
      labels: row?.labels ?? [],
    },
    doing,
  )
}

/** Deletes a quiz with all its takes. @throws Problem 404, 409 while something leads to it */
export async function deleteQuiz(q: Queries, id: number): Promise<void> {
  const found = await q.row<{ name: string }>('select name from quiz where id = $1 for update', [id])
  if (!found) throw notFound('This quiz')
  const usedIn = (await usesOf(q, 'quiz', [id])).get(id)
  if (usedIn && usedIn.length > 0)
    throw new Problem(409, 'This quiz is in use', `Take it out of these first: ${usedIn.join(', ')}.`)
  await q.rows('delete from quiz where id = $1', [id])
  await announce(q, 'pages')
}
