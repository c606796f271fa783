import type { Request } from 'express'
import { z } from 'zod'
import { answerName, questionName } from '../../core/quizzes/quizHtml.ts'
import { questionsFor } from '../../core/quizzes/asking.ts'
import type { QuizQuestion, QuizResult } from '../../core/quizzes/quiz.ts'
import { questionsAsked, type Given } from '../../core/quizzes/scoring.ts'
import type { Reader } from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import type { PublishedQuiz } from '../../server/quizzes/publishedQuizzes.ts'
import type { Take, TakeToken } from '../../server/quizzes/takes.ts'
import { sourceOf } from '../capture/submission.ts'
import { markOf } from '../pages/readerCookie.ts'

/** Somebody at a quiz. */
export interface Taking {
  site: Site
  /** In the version that they began. */
  quiz: PublishedQuiz
  token: TakeToken
  /** Null before the first answer. */
  take: Take | null
  reader: Reader
  /** They came by a link of their own mail. */
  isOwn: boolean
  /** What all addresses of this visit carry on: the frame, the mark, and where it came from. */
  query: string
  framed: boolean
}

/** What the addresses of a visit carry on. */
export function carriedQuery(request: Request): { query: string; framed: boolean } {
  const { mark, inAddress } = markOf(request)
  const framed = request.query.in === 'frame'
  const values = new URLSearchParams({
    ...(framed && { in: 'frame' }),
    ...(inAddress && mark !== undefined && { me: mark }),
    ...sourceOf(request.query),
  }).toString()
  return { query: values === '' ? '' : `?${values}`, framed }
}

export const givenIn = ({ take }: Pick<Taking, 'take'>): Given => take?.answers ?? {}

/** The questions of a visit, in their own order, as answered so far. */
export const questionsOf = (taking: Taking): QuizQuestion[] =>
  questionsFor(taking.quiz.content, givenIn(taking), taking.token.order)

/** The result of a take that is finished. */
export const resultOf = ({ quiz, take }: Pick<Taking, 'quiz' | 'take'>): QuizResult | null =>
  quiz.content.results.find(({ id }) => id === take?.result) ?? null

/** The address of a question, counted from 1, or of the end. @param more what only this one carries */
export function placeOf(
  { quiz, token, query }: Pick<Taking, 'quiz' | 'token' | 'query'>,
  at: number | 'end',
  more = '',
): string {
  const whole = more === '' ? query : `${query === '' ? '?' : `${query}&`}${more}`
  return `/q/${quiz.path}/t/${token.token}/${at}${whole}`
}

const text = z.string().catch('')
const posted = z.object({
  [questionName]: text,
  [answerName]: z.union([z.string().transform((one) => [one]), z.array(z.string()).max(50)]).catch([]),
})

/** What was posted as the answer to a question. */
export interface PostedAnswer {
  question: string
  /** As it is kept for a question: ids of answers, or what was typed. */
  for(question: QuizQuestion): readonly string[] | string
}

export function readPostedAnswer(body: unknown): PostedAnswer {
  const { question, answer } = posted.parse(body ?? {})
  return {
    question,
    for: ({ asks }) =>
      asks === 'text' || asks === 'number' ? (answer[0] ?? '').trim() : [...new Set(answer.filter(Boolean))],
  }
}

/** What was answered with this answer in it: what is not asked any more is forgotten. */
export function withAnswer(
  { quiz, take }: Taking,
  question: QuizQuestion,
  value: readonly string[] | string,
): Given {
  const given: Given = { ...take?.answers, [question.id]: value }
  const asked = new Set(questionsAsked(quiz.content, given).map(({ id }) => id))
  return Object.fromEntries(Object.entries(given).filter(([id]) => asked.has(id)))
}
