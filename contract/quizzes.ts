import { z } from 'zod'
import { quizContent } from '../core/quizzes/quiz.ts'
import {
  draftState,
  labelledRow,
  publicView,
  settingsRoute,
  libraryName,
  saveOf,
  versionRoutes,
} from './drafts.ts'
import { created, get, post } from './route.ts'
import { shareView } from './share.ts'

const count = z.number().int()

export const quizRow = labelledRow.extend({
  path: z.string(),
  questions: count,
  /** Takes within 30 days: begun, finished, with an address. */
  began: count,
  finished: count,
  known: count,
})
export type QuizRow = z.infer<typeof quizRow>

export const quizView = publicView.extend({ content: quizContent })
export type QuizView = z.infer<typeof quizView>

const newQuiz = z.object({ name: libraryName, content: quizContent })

/** How a quiz does: of the takes that began within a time. */
export const quizReport = z.object({
  seen: count,
  began: count,
  /** Question by question: who came to it and answered it, of all who began. */
  questions: z.array(z.object({ id: z.string(), words: z.string(), answered: count, left: count })),
  finished: shareView,
  addressed: shareView,
  results: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      share: shareView,
      /** Of those who got it: who gave an address, who was new to the list, and who bought something since. */
      addressed: shareView,
      added: shareView,
      bought: shareView,
    }),
  ),
  /** How often each answer was given by who got each result. */
  answers: z.array(
    z.object({
      question: z.string(),
      answer: z.string(),
      words: z.string(),
      share: shareView,
      byResult: z.record(z.string(), count),
    }),
  ),
  /** How often each answer was chosen, of 1: for the proof. */
  shares: z.record(z.string(), z.number()),
})
export type QuizReport = z.infer<typeof quizReport>

export const quizzes = {
  ...versionRoutes('/quizzes'),
  list: get('/quizzes', { answer: z.array(quizRow) }),
  view: get('/quizzes/:id', { answer: quizView }),
  create: post('/quizzes', { body: newQuiz, answer: created }),
  settings: settingsRoute('/quizzes'),
  save: post('/quizzes/:id/save', { body: saveOf(quizContent), answer: draftState }),
  takesCsv: get('/quizzes/:id/takes.csv', {}),
  report: get('/quizzes/:id/report', {
    query: z.object({ days: z.coerce.number().int().min(1).max(1_000).default(365) }),
    answer: quizReport,
  }),
} as const
