import { chanceFrom } from '../core/chance.ts'
import { proveQuiz } from '../core/quizzes/proof/quizProof.ts'
import type { QuizContent } from '../core/quizzes/quiz.ts'
import { outcomeOf } from '../core/quizzes/scoring.ts'
import { openInstall } from '../testing/install.ts'
import {
  answerId,
  countingQuestion,
  plainResult,
  pointsQuestion,
  quizId,
  quizOf,
} from '../testing/quizzes.ts'
import { setup } from '../testing/template.ts'
import { createQuiz } from '../server/quizzes/quizzes.ts'
import { quizDrafts } from '../server/quizzes/quizDrafts.ts'
import { computer } from '../testing/publishing.ts'
import { eventually } from '../testing/waiting.ts'
import { quantile, report, round } from './report.ts'

const [questions, answers, results] = [20, 6, 8]
const rounds = 7
/** Takes that are drawn by chance beside: so many tell a share to about three in a thousand. */
const drawn = 100_000

const chance = chanceFrom(20261127)

/** Every answer counts for one result. */
const byType = (): QuizContent =>
  quizOf({
    questions: Array.from({ length: questions }, (_, n) =>
      countingQuestion(
        n,
        Array.from({ length: answers }, () => {
          const one = chance.below(results)
          return Array.from({ length: results }, (__, r) => (r === one ? 1 : 0))
        }),
      ),
    ),
    results: Array.from({ length: results }, (_, n) => plainResult(n)),
  })

/** Every answer gives up to nine points; the sum gives the result. */
const byPoints = (): QuizContent => {
  const width = (questions * 9) / results
  return quizOf({
    by: 'points',
    questions: Array.from({ length: questions }, (_, n) =>
      pointsQuestion(
        n,
        Array.from({ length: answers }, () => chance.below(10)),
      ),
    ),
    results: Array.from({ length: results }, (_, n) =>
      plainResult(n, {
        from: n === 0 ? null : Math.ceil(n * width),
        to: n === results - 1 ? null : Math.ceil((n + 1) * width) - 1,
      }),
    ),
  })
}

function timed(work: () => unknown): number {
  const begun = performance.now()
  work()
  return performance.now() - begun
}

function draw(content: QuizContent): void {
  const won = new Map<string, number>()
  for (let i = 0; i < drawn; i += 1) {
    const given = Object.fromEntries(
      content.questions.map((_, n) => [quizId('question', n), [answerId(n, chance.below(answers))]]),
    )
    const id = outcomeOf(content, given).result?.id ?? ''
    won.set(id, (won.get(id) ?? 0) + 1)
  }
}

/** The bytes of a question's page as it is sent, without pictures. */
async function pageWeight(): Promise<number> {
  await setup()
  const install = await openInstall()
  try {
    const { database, clock } = install.platform
    const doing = { by: 'bench', at: new Date(clock.now()) }
    await database.inTransaction(async (tx) => {
      const content = {
        ...byType(),
        title: 'Weighed',
        address: { ask: 'never' as const, form: null, words: '' },
      }
      const told = {
        ...content,
        results: content.results.map((each) => ({
          ...each,
          shows: { by: 'target' as const, target: { to: 'path' as const, path: '/p/template-pack' } },
        })),
      }
      const id = await createQuiz(tx, { name: 'Weighed', content: told }, doing)
      await quizDrafts.publish(tx, id, { version: 1, revision: 1 }, doing)
    })
    const look = (): Promise<Response> =>
      fetch(`${install.url}/q/weighed`, {
        headers: { 'user-agent': computer, 'accept-encoding': 'identity' },
      })
    await eventually(async () => (await look()).status === 200)
    return Buffer.byteLength(await (await look()).text()) / 1_000
  } finally {
    await install.close()
  }
}

/** How long the proof of a large quiz takes, and how heavy a question's page is. */
export async function quizzes(): Promise<void> {
  const sheets = { type: byType(), points: byPoints() }
  const times = (content: QuizContent): number[] =>
    Array.from({ length: rounds }, () => timed(() => proveQuiz(content)))
  const [type, points] = [times(sheets.type), times(sheets.points)]
  const beside = timed(() => draw(sheets.type))
  const kb = await pageWeight()
  report(
    'quizzes',
    [
      {
        what: 'proof, each answer counts for one result: median, slowest',
        ours: `${round(quantile(type, 0.5))} / ${round(quantile(type, 1))} ms`,
        yardstick: `${drawn} takes drawn by chance: ${round(beside)} ms`,
      },
      {
        what: 'proof, answers give points: median, slowest',
        ours: `${round(quantile(points, 0.5))} / ${round(quantile(points, 1))} ms`,
      },
      { what: 'the page of a question, uncompressed', ours: `${round(kb)} kB` },
    ],
    {
      quiz_proof_ms: round(quantile(type, 0.5)),
      quiz_proof_points_ms: round(quantile(points, 0.5)),
      quiz_page_kb: round(kb),
    },
  )
}
