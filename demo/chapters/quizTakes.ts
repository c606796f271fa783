import type { Queries } from '../../server/database/connect.ts'
import type { Platform } from '../../server/platform.ts'
import { quizDrafts } from '../../server/quizzes/quizDrafts.ts'
import { createQuiz } from '../../server/quizzes/quizzes.ts'
import { signInOf } from '../accounts.ts'
import type { Quiz } from './quiz.ts'
import { interestQuiz } from './quizContent.ts'

const day = 86_400_000

/** The takes of people whose journals tell of them, with all that they answered. */
const takesOfPeople = (q: Queries, { id }: Quiz): Promise<object[]> =>
  q.rows(
    `insert into quiz_take (quiz_id, version, token_hash, contact_id, answers, source, began_at, answered_at, to_go,
       finished_at, result, points, known_at, addressed_at)
     select $1, 1, sha256(convert_to('take ' || activity.id, 'utf8')), contact_id, answers, contact.source,
       at - interval '4 minutes', at, 0, at, details->>'result', 0, at, at
     from activity join contact on contact.id = contact_id and not contact.rehearsal
     cross join lateral (
       select '{"binding3": []}'::jsonb || jsonb_object_agg(question, chosen) answers from (
         select split_part(answer, 'answer', 1) question, jsonb_agg(answer) chosen
         from jsonb_array_elements_text(details->'answers') answer group by 1) by_question) asked
     where kind = 'quizFinished' and (details->>'quiz')::bigint = $1`,
    [id],
  )

/** Others leave on the way, or keep their address: most of them at the third question, and at the end. */
async function takesOfStrangers(q: Queries, { id, content }: Quiz): Promise<void> {
  const order = content.questions.map((question) => question.id)
  await q.rows(
    `insert into quiz_take (quiz_id, version, token_hash, answers, source, began_at, answered_at, to_go, next_question)
     select $1, 1, sha256(convert_to('left ' || id, 'utf8')),
       (select coalesce(jsonb_object_agg(key, value), '{}') from jsonb_each(answers) where array_position($2::text[], key) <= reached),
       source, began_at + interval '3 hours', began_at + interval '3 hours 2 minutes', cardinality($2::text[]) - reached,
       ($2::text[])[reached + 1]
     from (select *, 1 + (case when id % 3 = 0 then 1 else id % 6 end)::int reached from quiz_take where quiz_id = $1 and id % 5 < 2) known`,
    [id, order],
  )
  await q.rows(
    `insert into quiz_take (quiz_id, version, token_hash, answers, source, began_at, answered_at, to_go, finished_at, result, points)
     select $1, 1, sha256(convert_to('quiet ' || id, 'utf8')), answers, source, began_at + interval '5 hours',
       began_at + interval '5 hours 4 minutes', 0, began_at + interval '5 hours 4 minutes', result, 0
     from quiz_take where quiz_id = $1 and contact_id is not null and id % 4 = 1`,
    [id],
  )
}

/** How many saw a quiz on each day: some look at the cover and go. */
const seenByDay = (q: Queries, quiz: number): Promise<object[]> =>
  q.rows(
    `insert into quiz_seen (quiz_id, day, seen)
     select $1, (began_at at time zone (select zone from business))::date, count(*) + count(*) / 2 + 1
     from quiz_take where quiz_id = $1 group by 2`,
    [quiz],
  )

/** The one-question quiz, which has been there for two months. */
async function makeInterest(q: Queries, form: number, now: number): Promise<void> {
  const page = async (path: string): Promise<number> => {
    const row = await q.row<{ id: number }>('select id from page where path = $1', [path])
    if (!row) throw new Error(`the story has no page ${path}`)
    return row.id
  }
  const pages = [await page('template-pack'), await page('letter'), await page('bindery-circle')]
  const doing = { by: signInOf.name, at: new Date(now - 60 * day) }
  const quiz = await createQuiz(
    q,
    { name: 'What brings you to the bench?', content: interestQuiz(form, pages), labels: ['fairs'] },
    doing,
  )
  await quizDrafts.publish(q, quiz, { version: 1, revision: 1 }, doing)
  await q.rows(
    `insert into quiz_take (quiz_id, version, token_hash, answers, began_at, answered_at, to_go, finished_at, result, points)
     select $1, 1, sha256(convert_to('interest ' || n, 'utf8')), jsonb_build_object('interest', jsonb_build_array('interest' || choice)),
       at, at, 0, at, 'interestin' || choice, 0
     from (select n, 1 + (case when n % 7 < 4 then 0 when n % 7 < 6 then 1 else 2 end) choice, $2::timestamptz - n * interval '4 hours 10 minutes' as at
       from generate_series(1, 330) n) made`,
    [quiz, new Date(now)],
  )
  await seenByDay(q, quiz)
}

/** Fourteen months of takes, and the quiz of one question. */
export async function create({ database, clock }: Platform, quiz: Quiz): Promise<void> {
  await database.inTransaction(async (tx) => {
    await takesOfPeople(tx, quiz)
    await takesOfStrangers(tx, quiz)
    await seenByDay(tx, quiz.id)
    await makeInterest(tx, quiz.content.address.form ?? 0, clock.now())
  })
}
