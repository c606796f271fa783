import type { QuizAction } from '../../core/quizzes/quizAction.ts'
import { sharedActionKinds, topicActionKinds, type ActionKinds } from '../blocks/inspector/actionKinds.ts'

/** What an answer or a result can do. */
export const quizActionKinds: ActionKinds<QuizAction> = {
  ...sharedActionKinds,
  ...topicActionKinds,
  givePoints: {
    title: 'Give points',
    inputs: [
      { path: 'scorecard', label: 'Scorecard', as: 'thing', thing: 'scorecard' },
      { path: 'points', label: 'Points', as: 'number', least: -1_000, most: 1_000 },
    ],
    fresh: { does: 'givePoints', scorecard: null, points: 10 },
  },
  sendEmail: {
    title: 'Send an email',
    inputs: [{ path: 'email', label: 'Email', as: 'thing', thing: 'email' }],
    fresh: { does: 'sendEmail', email: null },
  },
  notifyTeam: { title: 'Tell the team', inputs: [], fresh: { does: 'notifyTeam' } },
}
