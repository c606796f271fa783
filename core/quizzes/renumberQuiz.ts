import { answersOf, type QuizAnswer, type QuizContent, type QuizQuestion } from './quiz.ts'

/** The same quiz with ids of its own: what was counted for the one is not counted for the other. */
export function renumberedQuiz(content: QuizContent, newId: () => string): QuizContent {
  const { questions, results, tie } = content
  const ids = new Map<string, string>()
  const fresh = (id: string): string => {
    const known = ids.get(id) ?? newId()
    ids.set(id, known)
    return known
  }
  const answer = <A extends QuizAnswer>(given: A): A => ({
    ...given,
    id: fresh(given.id),
    counts: Object.fromEntries(Object.entries(given.counts).map(([id, count]) => [fresh(id), count])),
  })
  const question = (given: QuizQuestion): QuizQuestion => {
    const shared = { id: fresh(given.id), skippedBy: given.skippedBy.map(fresh) }
    return answersOf(given).length === 0 || given.asks === 'text'
      ? { ...given, ...shared }
      : ({ ...given, ...shared, answers: given.answers.map(answer) } as QuizQuestion)
  }
  return {
    ...content,
    questions: questions.map(question),
    results: results.map((result) => ({ ...result, id: fresh(result.id) })),
    tie: tie.by === 'answer' ? { by: 'answer', question: fresh(tie.question) } : tie,
  }
}
