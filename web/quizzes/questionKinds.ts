import type { QuestionKind } from '../../core/quizzes/quiz.ts'

/** The kinds of questions, as one chooses them. */
export const questionKinds: Readonly<Record<QuestionKind, { title: string }>> = {
  one: { title: 'One of several' },
  several: { title: 'Several of them' },
  scale: { title: 'A scale' },
  yesNo: { title: 'Yes or no' },
  number: { title: 'A number' },
  text: { title: 'A few words' },
}
