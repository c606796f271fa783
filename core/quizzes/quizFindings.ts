import { findingsOfDocument, type Finding, type Surroundings } from '../pages/findings.ts'
import { isQuizActionOpen, type QuizAction, type QuizThings } from './quizAction.ts'
import { answersOf, type QuizContent, type QuizQuestion, type QuizResult } from './quiz.ts'
import type { QuizProof, SumRange } from './proof/quizProof.ts'

/** What the rest of the install says about the things that a quiz speaks of. */
export interface QuizSurroundings extends Surroundings, QuizThings {}

const error = (words: string, part: string | null = null): Finding => ({ level: 'error', words, part })
const advice = (words: string, part: string | null = null): Finding => ({ level: 'advice', words, part })

const openActions = (actions: readonly QuizAction[], part: string, around: QuizSurroundings): Finding[] =>
  actions.some((action) => isQuizActionOpen(action, around))
    ? [error('Choose what is still open under “What it does”', part)]
    : []

function findingsOfQuestion(
  question: QuizQuestion,
  at: number,
  content: QuizContent,
  around: QuizSurroundings,
): Finding[] {
  const { id, words, skippedBy } = question
  const answers = answersOf(question)
  const here = `Question ${at + 1}`
  const earlier = new Set(
    content.questions.slice(0, at).flatMap((each) => answersOf(each).map((answer) => answer.id)),
  )
  const fewest = question.asks === 'text' || question.asks === 'number' ? 0 : 2
  return [
    ...(words.trim() ? [] : [error(`${here}: write what you ask`, id)]),
    ...(answers.length < fewest ? [error(`${here}: give it two answers at least`, id)] : []),
    ...(question.asks === 'yesNo' && answers.length > 2
      ? [error(`${here}: yes and no are two answers`, id)]
      : []),
    ...answers.flatMap((answer, i) => [
      ...(answer.words.trim() || answer.picture !== null || question.asks === 'number'
        ? []
        : [error(`${here}: write answer ${i + 1}`, answer.id)]),
      ...openActions(answer.actions, answer.id, around),
    ]),
    ...(skippedBy.every((each) => earlier.has(each))
      ? []
      : [error(`${here} is skipped by an answer that does not come before it`, id)]),
    ...('field' in question &&
    question.field !== null &&
    !around.fields.some((field) => field.id === question.field)
      ? [error(`${here}: the field that takes the answer was deleted`, id)]
      : []),
  ]
}

const called = ({ name }: QuizResult, at: number): string => (name.trim() ? `“${name}”` : `Result ${at + 1}`)

function findingsOfResult(result: QuizResult, at: number, around: QuizSurroundings): Finding[] {
  const { id, name, shows, from, to } = result
  const here = called(result, at)
  const page = (): Finding[] => {
    if (shows.by === 'page')
      return [
        ...(shows.document.sections.some(({ columns }) => columns.some(({ blocks }) => blocks.length > 0))
          ? []
          : [error(`${here} has no page: write what people see who get it`, id)]),
        ...findingsOfDocument(shows.document, around).map((each) => ({
          ...each,
          words: `${here}: ${each.words}`,
          part: id,
        })),
      ]
    const { target } = shows
    if (target.to === 'nowhere') return [error(`${here}: choose where it leads`, id)]
    if (target.to === 'page' && !around.livePages.has(target.page))
      return [error(`${here} leads to a page that is not live`, id)]
    if (target.to === 'junction' && !around.liveJunctions.has(target.junction))
      return [error(`${here} leads to a junction that is not live`, id)]
    return []
  }
  return [
    ...(name.trim() ? [] : [error(`Result ${at + 1}: give it a name`, id)]),
    ...(from !== null && to !== null && from > to
      ? [error(`${here}: its points begin above their end`, id)]
      : []),
    ...page(),
    ...openActions(result.actions, id, around),
  ]
}

function findingsOfAddress({ address, results }: QuizContent, { liveForms }: QuizSurroundings): Finding[] {
  if (address.ask === 'never')
    return [advice('It asks for no address: you learn what people want, and not who they are')]
  if (address.form === null) return [error('Choose the form that asks for the address')]
  if (!liveForms.has(address.form)) return [error('Publish the form that asks for the address first')]
  return address.words.trim() || results.length === 0
    ? []
    : [advice('Say why it is worth giving the address')]
}

const rangeWords = ({ from, to }: SumRange): string =>
  from === to ? `${from} points` : `${from} to ${to} points`

/** What the proof makes of it, in words: as findings. */
export function provedFindings(content: QuizContent, proof: QuizProof): Finding[] {
  const names = new Map(content.results.map((result, at) => [result.id, called(result, at)]))
  const nameOf = (id: string): string => names.get(id) ?? ''
  return [
    ...proof.results
      .filter(({ isReached }) => isReached === false)
      .map(({ id }) => error(`Nobody can get ${nameOf(id)}: no way to answer gives it`, id)),
    ...proof.gaps.map((range) => error(`${rangeWords(range)} give no result: close the gap`)),
    ...proof.overlaps.map((range) =>
      error(`${rangeWords(range)} give several results: ${range.results.map(nameOf).join(' and ')}`),
    ),
    ...proof.idleQuestions.map((id) => {
      const at = content.questions.findIndex((question) => question.id === id)
      return advice(`Question ${at + 1} changes nothing: whatever is answered, the result is the same`, id)
    }),
  ]
}

/** Everything about a quiz that would go wrong or could be better, errors first. @param proof null where there is none */
export function findingsOfQuiz(
  content: QuizContent,
  around: QuizSurroundings,
  proof: QuizProof | null,
): Finding[] {
  const { questions, results, tie, shuffles, title } = content
  const found = [
    ...(title.trim() ? [] : [error('Give the quiz a title')]),
    ...(questions.length > 0 ? [] : [error('Ask a question')]),
    ...(results.length > 0 ? [] : [error('Give it a result')]),
    ...questions.flatMap((question, at) => findingsOfQuestion(question, at, content, around)),
    ...results.flatMap((result, at) => findingsOfResult(result, at, around)),
    ...findingsOfAddress(content, around),
    ...(tie.by === 'answer' && !questions.some(({ id }) => id === tie.question)
      ? [error('The question that decides ties was deleted: choose another rule')]
      : []),
    ...(shuffles && questions.some(({ skippedBy }) => skippedBy.length > 0)
      ? [advice('Some questions are skipped by others: all keep their order')]
      : []),
    ...(questions.length > 0 && results.length > 0 && proof ? provedFindings(content, proof) : []),
  ]
  return found.sort((a, b) => Number(b.level === 'error') - Number(a.level === 'error'))
}
