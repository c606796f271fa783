import { beforeAll, describe, expect, it } from 'vitest'
import type { ProblemDetails } from '../../contract/problems.ts'
import type { QuizRow, QuizView } from '../../contract/quizzes.ts'
import { composer } from '../../core/blocks/compose.ts'
import type { QuizContent } from '../../core/quizzes/quiz.ts'
import { numberedIds } from '../../testing/documents.ts'
import { junctionOf, makeJunction } from '../../testing/junctions.ts'
import { made } from '../../testing/people.ts'
import { publish, publishForm } from '../../testing/publishing.ts'
import {
  answerId,
  countingQuestion,
  liveQuiz,
  makeQuiz,
  plainResult,
  pointsQuestion,
  quizOf,
  type GivenQuiz,
} from '../../testing/quizzes.ts'
import { useInstall } from '../../testing/useInstall.ts'
import { eventually } from '../../testing/waiting.ts'

const on = useInstall({ worker: false })
const { block, section, document } = composer(numberedIds('quizlibrary'))
let form = 0
beforeAll(async () => {
  form = await publishForm(on, {}, 'Where to?')
})

const shows = (words: string) => ({
  shows: { by: 'page', document: document(section([{ blocks: [block('heading', { words })] }])) },
})
const either = [
  [1, 0],
  [0, 1],
]
const sound = (given: Partial<GivenQuiz> = {}): QuizContent =>
  quizOf({
    title: 'Which one?',
    questions: [countingQuestion(0, either), countingQuestion(1, either)],
    results: [plainResult(0, shows('One')), plainResult(1, shows('Two'))],
    address: { ask: 'before', form, words: 'It comes with a plan.' },
    ...given,
  })
const view = (id: number): Promise<QuizView> => on.mara.get<QuizView>(`/quizzes/${id}`)
const faultsOf = async (content: QuizContent): Promise<[string, string | null, string][]> =>
  (await view(await makeQuiz(on, 'Faulty', content))).findings.map(({ level, part, words }) => [
    level,
    part,
    words,
  ])
const nextStep = { shows: { by: 'target', target: { to: 'nowhere' } } }

describe('what keeps a quiz from going live', () => {
  it('is nothing where it is sound', async () => {
    expect(await faultsOf(sound())).toEqual([])
  })

  it('is what is missing, each with its place', async () => {
    expect(await faultsOf(quizOf({}))).toEqual([
      ['error', null, 'Give the quiz a title'],
      ['error', null, 'Ask a question'],
      ['error', null, 'Give it a result'],
      ['error', null, 'Choose the form that asks for the address'],
    ])
    const faulty = sound({
      questions: [
        { ...countingQuestion(0, [[1, 0]]), words: ' ' },
        countingQuestion(1, either, { skippedBy: [answerId(2, 0)] }),
        { ...countingQuestion(2, either), asks: 'yesNo', answers: [{ id: answerId(2, 0), words: '' }] },
      ],
      results: [
        plainResult(0),
        plainResult(1, { ...nextStep, name: '', actions: [{ does: 'addTag', tag: 9_999 }] }),
        plainResult(2, { shows: { by: 'target', target: { to: 'page', page: 9_999 } } }),
      ],
      tie: { by: 'answer', question: 'question9' },
      address: { ask: 'after', form: 9_999, words: '' },
    })
    const found = await faultsOf(faulty)
    expect(found.filter(([level]) => level === 'error')).toEqual([
      ['error', 'question0', 'Question 1: write what you ask'],
      ['error', 'question0', 'Question 1: give it two answers at least'],
      ['error', 'question1', 'Question 2 is skipped by an answer that does not come before it'],
      ['error', 'question2', 'Question 3: give it two answers at least'],
      ['error', answerId(2, 0), 'Question 3: write answer 1'],
      ['error', 'result0', '“Result 0” has no page: write what people see who get it'],
      ['error', 'result1', 'Result 2: give it a name'],
      ['error', 'result1', 'Result 2: choose where it leads'],
      ['error', 'result1', 'Choose what is still open under “What it does”'],
      ['error', 'result2', '“Result 2” leads to a page that is not live'],
      ['error', null, 'Publish the form that asks for the address first'],
      ['error', null, 'The question that decides ties was deleted: choose another rule'],
      ['error', 'result1', 'Nobody can get Result 2: no way to answer gives it'],
      ['error', 'result2', 'Nobody can get “Result 2”: no way to answer gives it'],
    ])
  })

  it('is a range of points that nobody takes or two take, and what can never come about', async () => {
    const ranges = (given: readonly { from: number | null; to: number | null }[]): QuizContent =>
      sound({
        by: 'points',
        questions: [pointsQuestion(0, [0, 5]), pointsQuestion(1, [0, 5])],
        results: given.map((range, n) => plainResult(n, { ...shows(`Range ${n}`), ...range })),
      })
    const words = async (given: readonly { from: number | null; to: number | null }[]): Promise<string[]> =>
      (await faultsOf(ranges(given))).map(([, , each]) => each)
    expect(
      await words([
        { from: null, to: 4 },
        { from: 5, to: null },
      ]),
    ).toEqual([])
    expect(
      await words([
        { from: null, to: 4 },
        { from: 6, to: null },
      ]),
    ).toEqual(['5 points give no result: close the gap'])
    expect(
      await words([
        { from: null, to: 5 },
        { from: 5, to: null },
      ]),
    ).toEqual(['5 points give several results: “Result 0” and “Result 1”'])
    expect(
      await words([
        { from: null, to: 10 },
        { from: 11, to: null },
      ]),
    ).toEqual(['Nobody can get “Result 1”: no way to answer gives it'])
  })

  it('is said once more when somebody publishes, and nothing goes live', async () => {
    const id = await makeQuiz(on, 'Half done', quizOf({ title: 'Half done' }))
    const { version, revision } = await view(id)
    const refused = await on.mara.post(`/quizzes/${id}/publish`, { version, revision })
    expect([refused.status, (await view(id)).state]).toEqual([422, 'draft'])
  })
})

describe('quizzes of the Library', () => {
  it('are copied as drafts with parts of their own, that speak of each other', async () => {
    const content = sound({
      questions: [countingQuestion(0, either), countingQuestion(1, either, { skippedBy: [answerId(0, 1)] })],
      tie: { by: 'answer', question: 'question0' },
    })
    const id = await liveQuiz(on, 'to-copy', content)
    await on.mara.post(`/quizzes/${id}/settings`, { name: 'to-copy', path: 'to-copy', labels: ['spring'] })
    const { id: copied } = await made<{ id: number }>(on.mara.post(`/quizzes/${id}/copy`))
    const rows = await on.mara.get<QuizRow[]>('/quizzes')
    expect(rows.find((row) => row.id === copied)).toMatchObject({
      name: 'to-copy (copy)',
      path: 'to-copy-copy',
      labels: ['spring'],
      state: 'draft',
      questions: 2,
    })
    const copy = await view(copied)
    const [one, two] = copy.content.questions
    const ids = [one, two].flatMap((each) => (each && 'answers' in each ? each.answers : [])).map((a) => a.id)
    expect(ids.some((each) => each.startsWith('answer'))).toBe(false)
    expect(two?.skippedBy).toEqual([ids[1]])
    expect(copy.content.tie).toEqual({ by: 'answer', question: one?.id })
    expect(copy.findings).toEqual([])
    expect((await view(id)).content).toEqual(content)
  })

  it('have a path that is theirs alone, and keep what was typed when it is taken', async () => {
    await makeQuiz(on, 'The first', sound())
    const second = await makeQuiz(on, 'The first', sound())
    expect((await view(second)).path).toBe('the-first-2')
    const taken = await on.mara.post(`/quizzes/${second}/settings`, {
      name: 'The first',
      path: 'the-first',
      labels: [],
    })
    expect([taken.status, Object.keys(((await taken.json()) as ProblemDetails).fields ?? {})]).toEqual([
      409,
      ['path'],
    ])
  })

  it('are not deleted while a page, a junction or a button leads to them', async () => {
    const id = await liveQuiz(on, 'wanted', sound())
    const target = { to: 'quiz' as const, quiz: id }
    await publish(on, 'asks', [block('button', { label: 'Ask me', target })])
    await makeJunction(on, 'To the quiz', junctionOf({ otherwise: target }))
    const refused = await on.mara.post(`/quizzes/${id}/delete`)
    expect([refused.status, ((await refused.json()) as ProblemDetails).detail]).toEqual([
      409,
      'Take it out of these first: junction To the quiz, page asks.',
    ])
    expect((await view(id)).usedIn).toEqual(['junction To the quiz', 'page asks'])
    const free = await makeQuiz(on, 'Free to go', sound())
    expect((await on.mara.post(`/quizzes/${free}/delete`)).status).toBe(204)
    expect((await on.mara.get<QuizRow[]>('/quizzes')).map((row) => row.id)).not.toContain(free)
  })

  it('say what is different from what visitors get, overwrite nobody, and go back', async () => {
    const content = sound()
    const id = await liveQuiz(on, 'changes', content)
    const { version, revision } = await view(id)
    const [one, two] = content.questions
    const next = { ...content, questions: [two!, { ...one!, words: 'Another question?' }] }
    const saved = await made<QuizView>(
      on.mara.post(`/quizzes/${id}/save`, { version, revision, content: next }),
    )
    expect(saved.changes).toEqual([
      'Changed the question “Another question?”',
      'Changed the order of the questions',
    ])
    const stale = await on.mara.post(`/quizzes/${id}/save`, { version, revision, content })
    expect(stale.status).toBe(409)
    expect((await view(id)).content).toEqual(next)
    await on.mara.post(`/quizzes/${id}/go-back`, { version: 1 })
    await eventually(async () => (await view(id)).changes.length === 0)
  })

  it('are put away and taken out again: visitors get them no more, and again', async () => {
    const id = await liveQuiz(on, 'put-away', sound())
    const found = async (): Promise<boolean> =>
      (await fetch(`${on.install.url}/q/put-away`, { redirect: 'manual' })).status !== 404
    await on.mara.post(`/quizzes/${id}/archive`, { archived: true })
    await eventually(async () => !(await found()))
    await on.mara.post(`/quizzes/${id}/archive`, { archived: false })
    await eventually(found)
  })

  it('take weights of a billion, negative and fractional ones, and refuse what is more', async () => {
    const weights = (weight: number) => ({
      name: 'Weights',
      content: {
        ...sound(),
        questions: [
          countingQuestion(0, [
            [weight, 0.125],
            [-1e9, 0],
          ]),
        ],
      },
    })
    expect((await on.mara.post('/quizzes', weights(1e9))).status).toBe(201)
    for (const weight of [1e9 + 1, 0.00001, Number.NaN]) {
      const refused = await on.mara.post('/quizzes', weights(weight))
      expect([weight, refused.status]).toEqual([weight, 422])
    }
  })
})
