import type { QuizAction } from '../../core/quizzes/quizAction.ts'
import { recordActivities } from '../audience/people/activities.ts'
import { personAppliers, sendEmailOf, type Apply, type Deed } from '../audience/people/personActions.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { queueJobs } from '../work/jobs.ts'

/** Whose take it is, and how the journal tells of it. */
export interface Taker extends Deed {
  quiz: number
  /** What the team is told. */
  note: string
  /** It is surely them. */
  trusted: boolean
}

const appliers: { readonly [K in QuizAction['does']]: Apply<Extract<QuizAction, { does: K }>, Taker> } = {
  ...personAppliers,
  async givePoints({ scorecard, points }, { contact, by, at }, { q }) {
    if (scorecard === null || !(await q.row('select from scorecard where id = $1', [scorecard]))) return
    await recordActivities(q, [{ contact, kind: 'pointsGiven', at, details: { scorecard, points, by } }])
  },
  sendEmail: ({ email }, { contact, at }, { q }) => sendEmailOf(q, email, contact, at),
  notifyTeam: (_action, { contact, quiz, note }, { q }) =>
    queueJobs(q, 'tellTeam', [{ contact, quiz, words: note }]),
}

/** May it be done by whoever only typed an address? Own fields may be filled in, as by a form, and not changed. */
const byAnybody: Record<QuizAction['does'], 'yes' | 'whenBlank' | 'no'> = {
  addTag: 'yes',
  removeTag: 'no',
  setField: 'whenBlank',
  startFollowup: 'yes',
  joinTopic: 'no',
  leaveTopic: 'no',
  givePoints: 'yes',
  sendEmail: 'yes',
  notifyTeam: 'yes',
}

/** What of it may be done in the name of somebody who has not shown that it is them. */
async function allowed(
  q: Queries,
  actions: readonly QuizAction[],
  { contact, trusted }: Taker,
): Promise<readonly QuizAction[]> {
  if (trusted) return actions
  const known = await q.row<{ fields: Record<string, unknown> }>('select fields from contact where id = $1', [
    contact,
  ])
  return actions.filter(
    (action) =>
      byAnybody[action.does] === 'yes' ||
      (action.does === 'setField' && action.field !== null && known?.fields[action.field] === undefined),
  )
}

/** Does what a take does with whoever took it, in the transaction of `q`; they have been locked. */
export async function applyQuizActions(
  platform: Platform,
  q: Queries,
  actions: readonly QuizAction[],
  taker: Taker,
): Promise<void> {
  for (const action of await allowed(q, actions, taker))
    await (appliers[action.does] as Apply<QuizAction, Taker>)(action, taker, { platform, q })
}
