import { z } from 'zod'
import {
  isActionOpen,
  personActions,
  topicActions,
  type KnownThings,
} from '../audience/people/personAction.ts'
import { referenceId } from '../blocks/reference.ts'

const one = referenceId.nullable().default(null)

/** What an answer or a result does with whoever has given or got it. */
export const quizAction = z.discriminatedUnion('does', [
  ...personActions,
  ...topicActions,
  z.strictObject({
    does: z.literal('givePoints'),
    scorecard: one,
    points: z.number().int().min(-1_000).max(1_000).default(10),
  }),
  z.strictObject({ does: z.literal('sendEmail'), email: one }),
  z.strictObject({ does: z.literal('notifyTeam') }),
])
export type QuizAction = z.infer<typeof quizAction>

/** What quizzes can do something with, besides what forms can. */
export interface QuizThings extends KnownThings {
  scorecards: ReadonlySet<number>
  liveEmails: ReadonlySet<number>
}

/** Is nothing chosen for it, or something that is gone? */
export function isQuizActionOpen(action: QuizAction, known: QuizThings): boolean {
  switch (action.does) {
    case 'givePoints':
      return action.scorecard === null || !known.scorecards.has(action.scorecard)
    case 'sendEmail':
      return action.email === null || !known.liveEmails.has(action.email)
    case 'notifyTeam':
      return false
    case 'joinTopic':
    case 'leaveTopic':
    case 'addTag':
    case 'removeTag':
    case 'setField':
    case 'startFollowup':
      return isActionOpen(action, known)
  }
}
