import type { Logger } from 'pino'
import type { Clock } from '../clock.ts'
import type { Database } from '../database/connect.ts'
import { gather, type Gathered } from '../work/gatheredWrites.ts'

interface QuizView {
  quiz: number
  at: number
}

/** Counts who saw a quiz, without standing in the way of a request. */
export interface QuizViews extends Pick<Gathered<QuizView>, 'close'> {
  seen(quiz: number): void
}

export function openQuizViews(database: Database, clock: Clock, log: Logger): QuizViews {
  const gathered = gather<QuizView>(
    {
      called: 'views of quizzes',
      write: async (views) => {
        await database.rows(
          `insert into quiz_seen (quiz_id, day, seen)
           select quiz, (to_timestamp(at) at time zone (select zone from business))::date, count(*)
           from unnest($1::bigint[], $2::float8[]) t (quiz, at)
           where exists (select from quiz where id = t.quiz)
           group by 1, 2 order by 1, 2
           on conflict (quiz_id, day) do update set seen = quiz_seen.seen + excluded.seen`,
          [views.map(({ quiz }) => quiz), views.map(({ at }) => at / 1_000)],
        )
      },
      atOnce: 500,
      after: 300,
      mostWaiting: 100_000,
    },
    log,
  )
  return { seen: (quiz) => gathered.add({ quiz, at: clock.now() }), close: () => gathered.close() }
}
