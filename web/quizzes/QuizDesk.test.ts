import { flushPromises } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { computed, defineComponent, h, ref, type Ref } from 'vue'
import type { QuizReport, QuizRow, QuizView } from '../../contract/quizzes.ts'
import type { Shares } from '../../core/quizzes/proof/options.ts'
import { proveQuiz } from '../../core/quizzes/proof/quizProof.ts'
import { answersOf, type QuizContent } from '../../core/quizzes/quiz.ts'
import { wilson } from '../../core/results/wilson.ts'
import { answerId, countingQuestion, plainResult, quizId, quizOf } from '../../testing/quizzes.ts'
import {
  emptySite,
  type FakeServer,
  fakeServer,
  show,
  type Shown,
  submitDialog,
  typeInDialog,
} from '../../testing/screen.ts'
import { vocabulary } from '../../testing/vocabulary.ts'
import QuizEditor from './QuizEditor.vue'
import QuizList from './QuizList.vue'
import QuizReportScreen from './QuizReport.vue'

// There is no worker here: the same proof, at once.
vi.mock('./proving.ts', () => ({
  useQuizProof: (content: Ref<QuizContent>, shares: Ref<Shares>) => ({
    proof: computed(() => proveQuiz(content.value, shares.value)),
    busy: ref(false),
  }),
}))

// Frames load nothing here.
vi.mock('./QuestionPreview.vue', () => ({ default: defineComponent({ render: () => h('div') }) }))

const content = quizOf({
  title: 'Which one?',
  questions: [
    countingQuestion(0, [
      [2, 0, 1],
      [0, 2, 1],
    ]),
    countingQuestion(1, [
      [2, 0, 0],
      [0, 2, 0],
    ]),
  ],
  results: [
    plainResult(0, { name: 'Coptic' }),
    plainResult(1, { name: 'Long-stitch' }),
    plainResult(2, { name: 'Case-bound' }),
  ],
})
const quiz: QuizView = {
  id: 4,
  name: 'Which one?',
  path: 'which-one',
  labels: [],
  state: 'draft',
  publishedVersion: null,
  version: 1,
  revision: 1,
  savedAt: '2026-11-24T09:00:00.000Z',
  savedBy: 'Mara Ellery',
  changes: [],
  findings: [],
  others: [],
  usedIn: [],
  versions: [],
  content,
}
const report: QuizReport = {
  seen: 300,
  began: 200,
  questions: [
    { id: quizId('question', 0), words: 'Question 0?', answered: 200, left: 30 },
    { id: quizId('question', 1), words: 'Question 1?', answered: 170, left: 20 },
  ],
  finished: wilson(150, 200),
  addressed: wilson(120, 150),
  results: [
    {
      id: quizId('result', 0),
      name: 'Coptic',
      share: wilson(90, 150),
      addressed: wilson(70, 90),
      added: wilson(50, 90),
      bought: wilson(9, 90),
    },
  ],
  answers: [
    {
      question: quizId('question', 0),
      answer: answerId(0, 0),
      words: 'Answer 0',
      share: wilson(120, 200),
      byResult: { [quizId('result', 0)]: 90 },
    },
  ],
  shares: { [answerId(0, 0)]: 0.9, [answerId(0, 1)]: 0.1, [answerId(1, 0)]: 0.5, [answerId(1, 1)]: 0.5 },
}

let server: FakeServer
let shown: Shown
const settle = async (): Promise<void> => {
  await vi.advanceTimersByTimeAsync(1_200)
  await flushPromises()
}
beforeEach(() => {
  vi.useFakeTimers()
  server = fakeServer()
  server.answers('GET /quizzes/4', quiz)
  for (const days of [365, 1_000]) server.answers(`GET /quizzes/4/report?days=${days}`, report)
  server.answers('GET /vocabulary', vocabulary)
  server.answers('GET /site', emptySite())
  server.answers('POST /quizzes/4/save', ({ body }: { body: unknown }) => ({
    ...quiz,
    revision: (body as { revision: number }).revision + 1,
  }))
})
afterEach(() => vi.useRealTimers())

const button = (words: string) => shown.wrapper.findAll('button').find((each) => each.text() === words)
const cell = (label: string) => shown.wrapper.get<HTMLInputElement>(`input[aria-label="${label}"]`)
const saved = (): QuizContent =>
  (server.sent('POST /quizzes/4/save').at(-1) as { content: QuizContent }).content

describe('the score sheet', () => {
  beforeEach(async () => {
    shown = await show(QuizEditor, { id: 4 })
    await settle()
  })

  it('has a column for each result with its chance, and says what is proved', () => {
    const text = shown.wrapper.text()
    for (const each of ['Coptic', 'Long-stitch', 'Case-bound', 'never']) expect(text).toContain(each)
    expect(text).toContain('Nobody can get “Case-bound”: no way to answer gives it')
    expect(text).toContain('Nearest with “Answer 0”, “Answer 1”')
    expect(text).toContain('2 questions for everybody')
  })

  it('is typed like a table: keys go from cell to cell, and what is no number is taken back', async () => {
    const first = cell('“Answer 0” for Coptic')
    await first.setValue('3,5')
    await first.trigger('change')
    await settle()
    expect(answersOf(saved().questions[0]!)[0]?.counts[quizId('result', 0)]).toBe(3.5)
    await first.setValue('lots')
    await first.trigger('change')
    expect(first.element.value).toBe('3.5')
    first.element.focus()
    first.element.setSelectionRange(0, 3)
    await first.trigger('keydown', { key: 'ArrowDown' })
    expect(document.activeElement?.getAttribute('aria-label')).toBe('“Answer 1” for Coptic')
    await shown.wrapper.get('button[aria-label="Undo"]').trigger('click')
    await settle()
    expect(answersOf(saved().questions[0]!)[0]?.counts[quizId('result', 0)]).toBe(2)
  })

  it('goes by measured shares where there are takes', async () => {
    await button('As measured')?.trigger('click')
    await settle()
    // Nine of ten choose the first answer: a tie goes to the first result.
    expect(shown.wrapper.text()).toContain('95 %')
  })

  it('gets answers and results more, and loses a question with what speaks of it', async () => {
    await button('Answer')?.trigger('click')
    await settle()
    expect(answersOf(saved().questions[0]!)).toHaveLength(3)
    await button('Add a result')?.trigger('click')
    await settle()
    expect(saved().results).toHaveLength(4)
    expect(shown.wrapper.text()).toContain('Write the page')
    await button('Question 1?')?.trigger('click')
    await settle()
    await button('Remove this question')?.trigger('click')
    await settle()
    expect(saved().questions).toHaveLength(1)
  })
})

describe('the report of a quiz', () => {
  it('says where people leave and what they get, with intervals', async () => {
    shown = await show(QuizReportScreen, { id: 4 })
    await settle()
    const text = shown.wrapper.text()
    expect(text).toContain('30 left here')
    expect(text).toContain('75 %')
    expect(text).toContain('(69 to 80)')
    expect(shown.wrapper.get('a[href="/api/quizzes/4/takes.csv"]').text()).toContain('CSV')
  })
})

describe('the list of quizzes', () => {
  it('shows how each does, and makes one from a starting point', async () => {
    const row: QuizRow = {
      ...quiz,
      hasDraft: false,
      questions: 2,
      began: 41,
      finished: 30,
      known: 22,
      changedAt: quiz.savedAt,
    }
    server.answers('GET /quizzes', [row])
    shown = await show(QuizList, {})
    await settle()
    expect(shown.wrapper.text()).toContain('/q/which-one')
    server.answers('POST /quizzes', { id: 9 })
    await button('New quiz')?.trigger('click')
    await settle()
    typeInDialog('How far along?')
    await settle()
    submitDialog()
    await settle()
    expect(server.sent('POST /quizzes')[0]).toMatchObject({ name: 'How far along?', content: { by: 'type' } })
  })
})
