import type { Instant } from '../../core/audience/people/activity.ts'
import type { QuizAction } from '../../core/quizzes/quizAction.ts'
import type { QuizContent } from '../../core/quizzes/quiz.ts'
import { chosenAnswers, outcomeOf, questionsAsked, type Given } from '../../core/quizzes/scoring.ts'
import { recordActivities } from '../audience/people/activities.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { quizVersion } from './publishedQuizzes.ts'
import { applyQuizActions, type Taker } from './quizActions.ts'

/** A take that turns out to be somebody's. */
export interface KnownTake {
  take: number
  contact: number
  at: Instant
  /** It is surely them: they came by a link of their mail, said yes in it, or were just put on the list. */
  trusted: boolean
}

interface Stored {
  quiz: number
  version: number
  answers: Given
}

const answerWords = (content: QuizContent, given: Given): string =>
  questionsAsked(content, given)
    .map((question) => {
      const value = given[question.id]
      const said =
        typeof value === 'string'
          ? value
          : chosenAnswers(question, given)
              .map(({ words }) => words)
              .join(', ')
      return `${question.words} ${said || '(left open)'}`
    })
    .join('\n')

/** What was typed for own fields, as actions that set them. */
const typedForFields = (content: QuizContent, given: Given): QuizAction[] =>
  questionsAsked(content, given).flatMap((question): QuizAction[] => {
    const value = given[question.id]
    return 'field' in question && question.field !== null && typeof value === 'string' && value !== ''
      ? [{ does: 'setField', field: question.field, value }]
      : []
  })

/**
 * It is known whose take it is: the activity that starts follow-ups, and what answers and result do. Once for a take;
 * of a quiz that is taken once, for the first take alone. In the transaction of `q`; the person has been locked.
 */
export async function finishTake(platform: Platform, q: Queries, known: KnownTake): Promise<void> {
  const { take, contact, at, trusted } = known
  const stored = await q.row<Stored>(
    // Whoever gave the address has it, not who answered the first question.
    `update quiz_take set contact_id = $2, addressed_at = coalesce(addressed_at, $3), known_at = $3,
       rehearsal = rehearsal or (select rehearsal from contact where id = $2)
     where id = $1 and known_at is null and finished_at is not null
     returning quiz_id quiz, version, answers`,
    [take, contact, new Date(at)],
  )
  if (!stored) return
  const quiz = await quizVersion(q, stored.quiz, stored.version)
  if (!quiz) return
  const { content } = quiz
  const before =
    content.takes === 'once' &&
    (await q.row(
      'select from quiz_take where quiz_id = $1 and contact_id = $2 and id <> $3 and known_at is not null',
      [stored.quiz, contact, take],
    ))
  if (before) return
  const { result } = outcomeOf(content, stored.answers)
  const chosen = questionsAsked(content, stored.answers).flatMap((question) => [
    ...chosenAnswers(question, stored.answers),
  ])
  const note = `Took the quiz “${quiz.name}”${result ? ` and got “${result.name}”` : ''}.\n\n${answerWords(content, stored.answers)}`
  const taker: Taker = {
    contact,
    at,
    quiz: quiz.id,
    note,
    trusted,
    by: `quiz ${quiz.name}`,
    wording: `Took the quiz “${quiz.name}”`,
  }
  await recordActivities(q, [
    {
      contact,
      kind: 'quizFinished',
      at,
      details: { quiz: quiz.id, result: result?.id ?? '', answers: chosen.map(({ id }) => id) },
    },
  ])
  const actions = [
    ...typedForFields(content, stored.answers),
    ...chosen.flatMap((answer) => answer.actions),
    ...(result?.actions ?? []),
  ]
  await applyQuizActions(platform, q, actions, taker)
}

/** Somebody left a quiz whose answers are kept for so long without going on (ms). */
const leftAfter = 3_600_000

/** Notes who has left a quiz they began: that can start a follow-up. */
export async function noteLeftQuizzes({ database, clock }: Platform): Promise<void> {
  await database.inTransaction(async (tx) => {
    const now = new Date(clock.now())
    const left = await tx.rows<{ contact: number; quiz: number; toGo: number }>(
      // People are locked with what is theirs: who is busy with one of them is waited for by the next look.
      `with due as (
         select quiz_take.id from quiz_take join contact on contact.id = contact_id
         where finished_at is null and left_at is null and contact_id is not null and answered_at < $1
         order by quiz_take.id limit 500 for no key update of contact, quiz_take skip locked)
       update quiz_take set left_at = $2 from due where quiz_take.id = due.id
       returning contact_id contact, quiz_id quiz, to_go "toGo"`,
      [new Date(clock.now() - leftAfter), now],
    )
    await recordActivities(
      tx,
      left.map(({ contact, quiz, toGo }) => ({
        contact,
        kind: 'quizLeft',
        at: now.getTime(),
        details: { quiz, toGo },
      })),
    )
  })
}
