import { freshBlock } from '../blocks/block.ts'
import { freshSection } from '../blocks/document.ts'
import {
  answersOf,
  quizQuestion,
  quizResult,
  type QuestionKind,
  type QuizAnswer,
  type QuizContent,
  type QuizQuestion,
  type QuizResult,
} from './quiz.ts'

type NewId = () => string

const answer = (newId: NewId, words: string): { id: string; words: string } => ({ id: newId(), words })

/** What a new question of a kind begins with. */
const beginnings: { readonly [K in QuestionKind]: (newId: NewId) => object } = {
  one: (newId) => ({ answers: [answer(newId, ''), answer(newId, '')] }),
  several: (newId) => ({ answers: [answer(newId, ''), answer(newId, '')] }),
  scale: (newId) => ({ answers: ['1', '2', '3', '4', '5'].map((words) => answer(newId, words)) }),
  yesNo: (newId) => ({ answers: [answer(newId, 'Yes'), answer(newId, 'No')] }),
  number: (newId) => ({
    answers: [
      { ...answer(newId, ''), from: null },
      { ...answer(newId, ''), from: 10 },
    ],
  }),
  text: () => ({}),
}

export const freshQuestion = (asks: QuestionKind, newId: NewId): QuizQuestion =>
  quizQuestion.parse({ asks, id: newId(), ...beginnings[asks](newId) })

/** A new result, with a page that says what it is. */
export const freshResult = (name: string, newId: NewId): QuizResult =>
  quizResult.parse({
    id: newId(),
    name,
    shows: {
      by: 'page',
      document: {
        sections: [
          freshSection(
            newId,
            [1],
            [
              [
                freshBlock('heading', newId(), {
                  words: name,
                  guidance: 'What they are, as you would tell a friend',
                }),
                freshBlock('text', newId(), { guidance: 'Why it suits them, and what to do next' }),
              ],
            ],
          ),
        ],
      },
    },
  })

const withQuestion = (
  content: QuizContent,
  id: string,
  change: (question: QuizQuestion) => QuizQuestion,
): QuizContent => ({
  ...content,
  questions: content.questions.map((each) => (each.id === id ? change(each) : each)),
})

/** Puts answers in the place of those of a question; what is written freely has none. */
const withAnswers = (question: QuizQuestion, answers: readonly QuizAnswer[]): QuizQuestion =>
  question.asks === 'text' ? question : ({ ...question, answers } as QuizQuestion)

export const setQuestion = (content: QuizContent, next: QuizQuestion): QuizContent =>
  withQuestion(content, next.id, () => next)

export const setAnswer = (content: QuizContent, question: string, next: QuizAnswer): QuizContent =>
  withQuestion(content, question, (each) =>
    withAnswers(
      each,
      answersOf(each).map((known) => (known.id === next.id ? { ...known, ...next } : known)),
    ),
  )

export const insertQuestion = (content: QuizContent, question: QuizQuestion, at: number): QuizContent => ({
  ...content,
  questions: content.questions.toSpliced(at, 0, question),
})

/** Adds an answer behind the last one; a number's begins where the last one does not reach. */
export function insertAnswer(content: QuizContent, question: string, id: string): QuizContent {
  return withQuestion(content, question, (each) => {
    const fresh: QuizAnswer = {
      id,
      words: '',
      picture: null,
      counts: {},
      points: 0,
      expected: null,
      actions: [],
    }
    if (each.asks !== 'number') return withAnswers(each, [...answersOf(each), fresh])
    const last = each.answers.at(-1)?.from ?? null
    return { ...each, answers: [...each.answers, { ...fresh, from: last === null ? 10 : last + 10 }] }
  })
}

/** Nothing speaks of an answer that is gone. */
const withoutSkips = (content: QuizContent, gone: readonly string[]): QuizContent => ({
  ...content,
  questions: content.questions.map((each) => ({
    ...each,
    skippedBy: each.skippedBy.filter((id) => !gone.includes(id)),
  })),
})

export function removeQuestion(content: QuizContent, id: string): QuizContent {
  const gone = content.questions.find((each) => each.id === id)
  const left = { ...content, questions: content.questions.filter((each) => each.id !== id) }
  return gone
    ? withoutSkips(
        left,
        answersOf(gone).map((each) => each.id),
      )
    : content
}

export const removeAnswer = (content: QuizContent, question: string, id: string): QuizContent =>
  withoutSkips(
    withQuestion(content, question, (each) =>
      withAnswers(
        each,
        answersOf(each).filter((known) => known.id !== id),
      ),
    ),
    [id],
  )

/** One place up or down, within its list. */
function shifted<T extends { id: string }>(all: readonly T[], id: string, by: -1 | 1): T[] {
  const at = all.findIndex((each) => each.id === id)
  const moving = all[at]
  const to = at + by
  return !moving || to < 0 || to >= all.length ? [...all] : all.toSpliced(at, 1).toSpliced(to, 0, moving)
}

export const shiftQuestion = (content: QuizContent, id: string, by: -1 | 1): QuizContent => ({
  ...content,
  questions: shifted(content.questions, id, by),
})

export const shiftAnswer = (content: QuizContent, question: string, id: string, by: -1 | 1): QuizContent =>
  withQuestion(content, question, (each) => withAnswers(each, shifted(answersOf(each), id, by)))

export const shiftResult = (content: QuizContent, id: string, by: -1 | 1): QuizContent => ({
  ...content,
  results: shifted(content.results, id, by),
})

export const setResult = (content: QuizContent, next: QuizResult): QuizContent => ({
  ...content,
  results: content.results.map((each) => (each.id === next.id ? next : each)),
})

export const insertResult = (content: QuizContent, result: QuizResult): QuizContent => ({
  ...content,
  results: [...content.results, result],
})

/** Takes a result out, with what answers count for it. */
export const removeResult = (content: QuizContent, id: string): QuizContent => ({
  ...content,
  results: content.results.filter((each) => each.id !== id),
  questions: content.questions.map((question) =>
    withAnswers(
      question,
      answersOf(question).map((each) => {
        const { [id]: _gone, ...counts } = each.counts
        return { ...each, counts }
      }),
    ),
  ),
})

/** Sets what an answer counts for a result; nothing takes it out. */
export function setCount(
  content: QuizContent,
  question: string,
  answerId: string,
  result: string,
  count: number,
): QuizContent {
  const found = content.questions.find((each) => each.id === question)
  const known = found && answersOf(found).find((each) => each.id === answerId)
  if (!known || !content.results.some(({ id }) => id === result)) return content
  const { [result]: _old, ...rest } = known.counts
  return setAnswer(content, question, { ...known, counts: count === 0 ? rest : { ...rest, [result]: count } })
}
