import { computed, ref, type ComputedRef, type Ref } from 'vue'
import * as edits from '../../core/quizzes/quizEdits.ts'
import type {
  QuestionKind,
  QuizAnswer,
  QuizContent,
  QuizQuestion,
  QuizResult,
} from '../../core/quizzes/quiz.ts'
import { useContentHistory, type ContentHistory } from '../blocks/contentHistory.ts'
import { newPartId } from '../blocks/editing.ts'

/** A quiz that is being edited; every edit can be undone. */
export interface QuizEditing extends Omit<ContentHistory<QuizContent>, 'apply'> {
  /** Begins with another content, which can be undone. */
  replace: (content: QuizContent) => void
  /** The id of a question or a result; none for the quiz itself. */
  selected: Ref<string | null>
  question: ComputedRef<QuizQuestion | null>
  result: ComputedRef<QuizResult | null>
  set: (given: Partial<QuizContent>) => void
  setQuestion: (question: QuizQuestion, of?: string) => void
  setAnswer: (question: string, answer: QuizAnswer, of?: string) => void
  setCount: (question: string, answer: string, result: string, count: number) => void
  setResult: (result: QuizResult, of?: string) => void
  addQuestion: (asks: QuestionKind, at: number) => void
  addAnswer: (question: string) => void
  addResult: () => void
  remove: (id: string) => void
  removeAnswer: (question: string, id: string) => void
  shift: (id: string, by: -1 | 1) => void
  shiftAnswer: (question: string, id: string, by: -1 | 1) => void
}

export function useQuizEditing(initial: QuizContent): QuizEditing {
  const { content, apply, ...history } = useContentHistory(initial)
  const selected = ref<string | null>(null)
  const now = (): QuizContent => content.value
  const isResult = (id: string): boolean => now().results.some((each) => each.id === id)

  return {
    content,
    ...history,
    replace: (next) => apply(next),
    selected,
    question: computed(() => content.value.questions.find(({ id }) => id === selected.value) ?? null),
    result: computed(() => content.value.results.find(({ id }) => id === selected.value) ?? null),
    set: (given) => apply({ ...now(), ...given }, `quiz ${Object.keys(given).join(' ')}`),
    setQuestion: (question, of) => apply(edits.setQuestion(now(), question), of ?? null),
    setAnswer: (question, answer, of) => apply(edits.setAnswer(now(), question, answer), of ?? null),
    setCount: (question, answer, result, count) =>
      apply(edits.setCount(now(), question, answer, result, count), `count ${answer} ${result}`),
    setResult: (result, of) => apply(edits.setResult(now(), result), of ?? null),
    addQuestion(asks, at) {
      const question = edits.freshQuestion(asks, newPartId)
      apply(edits.insertQuestion(now(), question, at))
      selected.value = question.id
    },
    addAnswer: (question) => apply(edits.insertAnswer(now(), question, newPartId())),
    addResult() {
      const result = edits.freshResult(`Result ${now().results.length + 1}`, newPartId)
      apply(edits.insertResult(now(), result))
      selected.value = result.id
    },
    remove(id) {
      apply(isResult(id) ? edits.removeResult(now(), id) : edits.removeQuestion(now(), id))
      selected.value = null
    },
    removeAnswer: (question, id) => apply(edits.removeAnswer(now(), question, id)),
    shift: (id, by) =>
      apply(isResult(id) ? edits.shiftResult(now(), id, by) : edits.shiftQuestion(now(), id, by)),
    shiftAnswer: (question, id, by) => apply(edits.shiftAnswer(now(), question, id, by)),
  }
}
