import { percentOf } from '../followups/share.ts'
import { isStorable } from '../text.ts'
import { answersOf, type QuizAnswer, type QuizContent, type QuizQuestion } from './quiz.ts'
import { questionsAsked, typedNumber, type Given } from './scoring.ts'

/** The longest text that somebody can answer with. */
export const longestAnswer = 500

/** In an order that belongs to the seed for ever. */
function shuffled<T extends { id: string }>(all: readonly T[], seed: string): T[] {
  const places = new Map(all.map(({ id }) => [id, percentOf(`${seed} ${id}`)]))
  return [...all].sort((a, b) => (places.get(a.id) ?? 0) - (places.get(b.id) ?? 0))
}

/** Questions that depend on each other keep their order. */
export const mayShuffle = ({ shuffles, questions }: Pick<QuizContent, 'shuffles' | 'questions'>): boolean =>
  shuffles && questions.every(({ skippedBy }) => skippedBy.length === 0)

/**
 * The questions that somebody is asked, in their own order.
 * @param seed of the person, so that they meet the same order again
 */
export function questionsFor(content: QuizContent, given: Given, seed: string): QuizQuestion[] {
  const asked = questionsAsked(content, given)
  return mayShuffle(content) ? shuffled(asked, seed) : asked
}

/** The answers of a question as one person sees them. */
export const answersFor = (question: QuizQuestion, seed: string): readonly QuizAnswer[] =>
  (question.asks === 'one' || question.asks === 'several') && question.shuffles
    ? shuffled(question.answers, seed)
    : answersOf(question)

/** How many of a question's answers can be chosen. */
export const mostOf = (question: QuizQuestion): number =>
  question.asks === 'several'
    ? Math.min(question.most ?? question.answers.length, question.answers.length)
    : 1

/** Why an answer is not taken, as the person reads it; null when it is. */
export function faultOf(question: QuizQuestion, value: readonly string[] | string): string | null {
  if (question.asks === 'text' || question.asks === 'number') {
    const typed = typeof value === 'string' ? value.trim() : ''
    if (typed === '') return question.required ? 'Please write an answer' : null
    if (typed.length > longestAnswer) return `Please shorten this to ${longestAnswer} letters`
    if (!isStorable(typed)) return 'Please write this without special characters that cannot be kept'
    return question.asks === 'number' && typedNumber(typed) === null
      ? 'Please write a number, such as 12 or 2.5'
      : null
  }
  const chosen = typeof value === 'string' ? [value] : value
  const known = new Set(question.answers.map(({ id }) => id))
  if (chosen.some((id) => !known.has(id))) return 'Please choose one of the answers below'
  if (chosen.length === 0) return question.required ? 'Please choose an answer' : null
  const most = mostOf(question)
  if (new Set(chosen).size > most)
    return most === 1 ? 'Please choose one answer' : `Please choose ${most} at most`
  return null
}

/** The first question that is still to be answered; null when all are. A question left open by choice is answered. */
export const nextQuestion = (content: QuizContent, given: Given, seed: string): QuizQuestion | null =>
  questionsFor(content, given, seed).find(({ id }) => given[id] === undefined) ?? null
