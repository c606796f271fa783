import type { QuizReport } from '../../contract/quizzes.ts'
import { answersOf, type QuizContent } from '../../core/quizzes/quiz.ts'
import { wilson } from '../../core/results/wilson.ts'
import type { Queries } from '../database/connect.ts'
import { currentContent } from './publishedQuizzes.ts'

const day = 86_400_000

interface Totals {
  began: number
  finished: number
  addressed: number
}

interface ResultRow extends Totals {
  result: string
  takes: number
  added: number
  bought: number
}

/** Takes that began within the time, rehearsals apart. */
const within = 'quiz_id = $1 and began_at >= $2 and not quiz_take.rehearsal'

const totalsOf = async (q: Queries, given: unknown[]): Promise<Totals> =>
  (await q.row<Totals>(
    `select count(*)::int began, count(finished_at)::int finished,
       count(*) filter (where finished_at is not null and addressed_at is not null)::int addressed
     from quiz_take where ${within}`,
    given,
  )) ?? { began: 0, finished: 0, addressed: 0 }

/** Who got each result: how many gave an address, came onto the list by it, and bought something since. */
const resultsOf = (q: Queries, given: unknown[]): Promise<ResultRow[]> =>
  q.rows<ResultRow>(
    `select result, count(*)::int takes, count(addressed_at)::int addressed,
       -- On the list since they took it.
       count(*) filter (where contact.created_at >= began_at)::int added,
       count(*) filter (where exists (select from activity where activity.contact_id = quiz_take.contact_id
         and kind = 'productBought' and at >= finished_at))::int bought
     from quiz_take left join contact on contact.id = contact_id
     where ${within} and finished_at is not null and result is not null group by result`,
    given,
  )

interface QuestionRow {
  question: string
  answered: number
  left: number
}

const questionsOf = (q: Queries, given: unknown[]): Promise<QuestionRow[]> =>
  q.rows<QuestionRow>(
    `with takes as (select answers, finished_at, next_question from quiz_take where ${within})
     select question, sum(answered)::int answered, sum(gone)::int "left" from (
       select jsonb_object_keys(answers) question, 1 answered, 0 gone from takes
       union all select next_question, 0, 1 from takes where finished_at is null and next_question is not null) counted
     group by question`,
    given,
  )

interface AnswerRow {
  question: string
  answer: string
  result: string | null
  takes: number
}

const answersGiven = (q: Queries, given: unknown[]): Promise<AnswerRow[]> =>
  q.rows<AnswerRow>(
    `select key question, chosen answer, result, count(*)::int takes
     from quiz_take, jsonb_each(answers), jsonb_array_elements_text(case when jsonb_typeof(value) = 'array' then value else '[]' end) chosen
     where ${within} group by 1, 2, 3`,
    given,
  )

function answerRows(
  content: QuizContent,
  rows: readonly AnswerRow[],
  asked: ReadonlyMap<string, QuestionRow>,
) {
  return content.questions.flatMap((question) =>
    (question.asks === 'number' ? [] : answersOf(question)).map(({ id, words }) => {
      const mine = rows.filter(({ answer }) => answer === id)
      const takes = mine.reduce((sum, each) => sum + each.takes, 0)
      const byResult = Object.fromEntries(
        mine.flatMap((each) => (each.result === null ? [] : [[each.result, each.takes] as const])),
      )
      const among = asked.get(question.id)?.answered ?? 0
      return {
        question: question.id,
        answer: id,
        words,
        share: wilson(Math.min(takes, among), among),
        byResult,
      }
    }),
  )
}

/**
 * How a quiz does, by what visitors get now, or its draft before.
 * @param days so many days back
 * @throws Problem 404
 */
export async function reportOfQuiz(q: Queries, id: number, days: number, now: number): Promise<QuizReport> {
  const content = await currentContent(q, id)
  const given = [id, new Date(now - days * day)]
  const { began, finished, addressed } = await totalsOf(q, given)
  const seen = await q.row<{ seen: number }>(
    'select coalesce(sum(seen), 0)::int seen from quiz_seen where quiz_id = $1 and day >= $2::date',
    given,
  )
  const asked = new Map((await questionsOf(q, given)).map((each) => [each.question, each]))
  const results = new Map((await resultsOf(q, given)).map((each) => [each.result, each]))
  const answers = answerRows(content, await answersGiven(q, given), asked)
  const all = [...results.values()].reduce((sum, { takes }) => sum + takes, 0)
  return {
    seen: seen?.seen ?? 0,
    began,
    questions: content.questions.map((question) => ({
      id: question.id,
      words: question.words,
      answered: asked.get(question.id)?.answered ?? 0,
      left: asked.get(question.id)?.left ?? 0,
    })),
    finished: wilson(finished, began),
    addressed: wilson(addressed, finished),
    results: content.results.map((result) => {
      const of = results.get(result.id)
      const takes = of?.takes ?? 0
      return {
        id: result.id,
        name: result.name,
        share: wilson(takes, all),
        addressed: wilson(of?.addressed ?? 0, takes),
        added: wilson(of?.added ?? 0, takes),
        bought: wilson(of?.bought ?? 0, takes),
      }
    }),
    answers,
    shares: Object.fromEntries(answers.map(({ answer, share }) => [answer, share.rate])),
  }
}
