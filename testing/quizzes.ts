import type { z } from 'zod'
import type { QuizView } from '../contract/quizzes.ts'
import { quizContent, type QuizContent } from '../core/quizzes/quiz.ts'
import { hiddenValues } from './formPage.ts'
import { made } from './people.ts'
import { computer, lookAt } from './publishing.ts'
import type { Used } from './useInstall.ts'
import { eventually } from './waiting.ts'

export type GivenQuiz = z.input<typeof quizContent>
type GivenQuestion = NonNullable<GivenQuiz['questions']>[number]
type GivenAnswer = Extract<GivenQuestion, { asks: 'one' }>['answers'][number]

/** An id of a part of a quiz by its kind and number. */
export const quizId = (kind: 'question' | 'result', n: number): string => `${kind}${n}`
export const answerId = (question: number, answer: number): string => `answer${question}of${answer}`

/** A result that shows a page without anything on it. */
export const plainResult = (n: number, given: object = {}) => ({
  id: quizId('result', n),
  name: `Result ${n}`,
  shows: { by: 'page' as const, document: { sections: [] } },
  ...given,
})

/** A question with an answer for each row: what it counts for each result, by place. */
export const countingQuestion = (
  n: number,
  rows: readonly (readonly number[])[],
  given: object = {},
): GivenQuestion => ({
  asks: 'one',
  id: quizId('question', n),
  words: `Question ${n}?`,
  answers: rows.map((row, i): GivenAnswer => ({
    id: answerId(n, i),
    words: `Answer ${i}`,
    counts: Object.fromEntries(row.map((count, r) => [quizId('result', r), count])),
  })),
  ...given,
})

/** A question with an answer for each number of points. */
export const pointsQuestion = (n: number, points: readonly number[], given: object = {}): GivenQuestion => ({
  asks: 'one',
  id: quizId('question', n),
  words: `Question ${n}?`,
  answers: points.map((each, i): GivenAnswer => ({ id: answerId(n, i), words: `Answer ${i}`, points: each })),
  ...given,
})

export const quizOf = (given: GivenQuiz): QuizContent => quizContent.parse(given)

/** Makes a quiz. @returns its id */
export const makeQuiz = async (on: Used, name: string, content: QuizContent): Promise<number> =>
  (await made<{ id: number }>(on.mara.post('/quizzes', { name, content }))).id

/** Publishes what is written of a quiz. */
export async function publishQuiz(on: Used, id: number): Promise<void> {
  const { version, revision } = await on.mara.get<QuizView>(`/quizzes/${id}`)
  const answer = await on.mara.post(`/quizzes/${id}/publish`, { version, revision })
  if (answer.status !== 204) throw new Error(await answer.text())
}

/** Makes a quiz that visitors can take, and waits until they can. @returns its id */
export async function liveQuiz(on: Used, path: string, content: QuizContent): Promise<number> {
  const id = await makeQuiz(on, path, content)
  await publishQuiz(on, id)
  await eventually(
    async () => (await lookAt(`${on.install.url}/q/${path}`, { 'user-agent': 'testbot' })).status !== 404,
  )
  return id
}

/** What a visitor's browser shows now. */
export interface Shown {
  url: string
  status: number
  markup: string
}

/** Somebody who takes a quiz with a browser without scripts. */
export function visitorOf(on: Used, headers: Record<string, string> = {}) {
  async function follow(answer: Response, url: string): Promise<Shown> {
    const to = answer.headers.get('location')
    if (to === null) return { url, status: answer.status, markup: await answer.text() }
    const next = new URL(to, on.install.url).href
    return follow(await lookAt(next, headers), next)
  }
  const open = async (url: string): Promise<Shown> => {
    const whole = new URL(url, on.install.url).href
    return follow(await lookAt(whole, headers), whole)
  }
  const post = async (url: string, values: URLSearchParams): Promise<Shown> =>
    follow(
      await fetch(url, {
        method: 'POST',
        redirect: 'manual',
        headers: { 'user-agent': computer, ...headers },
        body: values,
      }),
      url,
    )
  return {
    open,
    post,
    /** Presses the link of the cover; what begins without one is begun. */
    begin: (shown: Shown): Promise<Shown> => {
      const href = /<a class="btn" href="(\/q\/[^"]+\/t\/[^"]+)"/.exec(shown.markup)?.[1]
      return href === undefined ? Promise.resolve(shown) : open(href.replaceAll('&amp;', '&'))
    },
    /** Answers what is shown: with ids of answers, or what is typed. */
    answer: (shown: Shown, ...given: string[]): Promise<Shown> =>
      post(
        shown.url,
        new URLSearchParams([
          ...Object.entries(hiddenValues(shown.markup)),
          ...given.map((each) => ['answer', each] as [string, string]),
        ]),
      ),
    /** Fills in the form that asks for the address. */
    sign: (shown: Shown, typed: Record<string, string>): Promise<Shown> =>
      post(shown.url, new URLSearchParams({ ...hiddenValues(shown.markup), ...typed })),
  }
}
