import { createHash } from 'node:crypto'
import type { Source } from '../../core/audience/people/activity.ts'
import { questionsFor } from '../../core/quizzes/asking.ts'
import type { QuizContent } from '../../core/quizzes/quiz.ts'
import { outcomeOf, type Given } from '../../core/quizzes/scoring.ts'
import type { Queries } from '../database/connect.ts'
import type { Platform } from '../platform.ts'
import { randomToken } from '../signing.ts'

/** A take can be gone on with for so long. */
const takeLasts = 60 * 86_400_000

/** What the address of a take says: which version of which quiz it is, and nothing of who takes it. */
export interface TakeToken {
  token: string
  quiz: number
  version: number
  /** Tells this take from others. */
  name: string
  /** Of what the order of shuffled questions and answers is made; it stays whatever is learned of them meanwhile. */
  order: string
}

/**
 * A new take, of which nothing is kept until its first answer.
 * @param contact who begins it, when they are known: they meet the same order in each take
 */
export function beginTake(
  { signer, clock }: Platform,
  { id, version }: { id: number; version: number },
  contact: number | null,
): TakeToken {
  const name = randomToken()
  const order = contact === null ? name : signer.alias(`order of quiz ${id}`, contact)
  return {
    token: signer.sign('take', [id, version, name, order, clock.now()]),
    quiz: id,
    version,
    name,
    order,
  }
}

/** @returns null when the token was not made here, or is too old */
export function readTake({ signer, clock }: Platform, token: string): TakeToken | null {
  const [quiz, version, name, order, at] = signer.open('take', token) ?? []
  if (name === undefined || order === undefined || clock.now() - Number(at) > takeLasts) return null
  return { token, quiz: Number(quiz), version: Number(version), name, order }
}

/** What is kept of a take. */
export interface Take {
  id: number
  version: number
  contact: number | null
  answers: Given
  finished: boolean
  result: string | null
  /** An address was given for it, or was known: its answers stay. Whether it is somebody's is nobody's business. */
  addressed: boolean
}

const columns = `id, version, contact_id contact, answers, finished_at is not null finished, result,
  addressed_at is not null addressed`

const hashOf = ({ name }: TakeToken): Buffer => createHash('sha256').update(name).digest()

/** What was answered by this token so far; null before the first answer. */
export const takeOf = async (q: Queries, token: TakeToken): Promise<Take | null> =>
  (await q.row<Take>(`select ${columns} from quiz_take where token_hash = $1`, [hashOf(token)])) ?? null

/** The take by which somebody got their result of a quiz that is taken once; null when they have not. */
export const doneTakeOf = async (q: Queries, quiz: number, contact: number): Promise<Take | null> =>
  (await q.row<Take>(
    `select ${columns} from quiz_take where quiz_id = $1 and contact_id = $2 and known_at is not null order by known_at limit 1`,
    [quiz, contact],
  )) ?? null

/** Who answers. */
export interface Answering {
  /** Who they are surely known to be who begin it: a take that somebody else has begun is not theirs. */
  contact: number | null
  rehearsal: boolean
  source: Source
}

/**
 * Keeps what was answered; answers of a take for which an address was given stay as they are.
 * @returns the take as it is then; null when its quiz is gone
 */
export async function keepAnswers(
  { database, clock }: Platform,
  token: TakeToken,
  content: QuizContent,
  answers: Given,
  { contact, rehearsal, source }: Answering,
): Promise<Take | null> {
  const open = questionsFor(content, answers, token.order).filter(({ id }) => answers[id] === undefined)
  const outcome = open.length === 0 ? outcomeOf(content, answers) : null
  const kept = await database.row<Take>(
    `insert into quiz_take (quiz_id, version, token_hash, contact_id, rehearsal, answers, source, began_at, answered_at,
       to_go, next_question, finished_at, result, points)
     select $1, $2, $3, $4, $5, $6, $7, $8, $8, $9, $10, case when $9 = 0 then $8::timestamptz end, $11, $12
     where exists (select from quiz where id = $1)
     on conflict (token_hash) do update set answers = excluded.answers, answered_at = excluded.answered_at,
       to_go = excluded.to_go, next_question = excluded.next_question, finished_at = coalesce(excluded.finished_at, quiz_take.finished_at),
       result = excluded.result, points = excluded.points
     where quiz_take.addressed_at is null
     returning ${columns}`,
    [
      token.quiz,
      token.version,
      hashOf(token),
      contact,
      rehearsal,
      JSON.stringify(answers),
      JSON.stringify(source),
      new Date(clock.now()),
      open.length,
      open[0]?.id ?? null,
      outcome?.result?.id ?? null,
      outcome?.points ?? null,
    ],
  )
  return kept ?? takeOf(database, token)
}

/** An address was given for a take; whose it is may still have to be confirmed. */
export const markAddressed = ({ database, clock }: Platform, take: number): Promise<object[]> =>
  database.rows('update quiz_take set addressed_at = coalesce(addressed_at, $2) where id = $1', [
    take,
    new Date(clock.now()),
  ])
