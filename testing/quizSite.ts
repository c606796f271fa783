import { beforeAll } from 'vitest'
import type { PersonView } from '../contract/audience/people.ts'
import { composer } from '../core/blocks/compose.ts'
import type { QuizContent } from '../core/quizzes/quiz.ts'
import { readerMark } from '../server/pages/readers.ts'
import { numberedIds } from './documents.ts'
import { publishForm } from './publishing.ts'
import {
  answerId,
  countingQuestion,
  liveQuiz,
  plainResult,
  quizOf,
  visitorOf,
  type GivenQuiz,
  type Shown,
} from './quizzes.ts'
import type { Used } from './useInstall.ts'

type Visitor = ReturnType<typeof visitorOf>

/** “Which binding?”: two questions, two results, the address before the result. Its first result puts on a tag. */
export function useQuizSite(on: Used) {
  const { block, text, section, document } = composer(numberedIds('quizpage'))
  const site = { form: 0, tag: 0 }
  const visitor = visitorOf(on)

  /** A page of a result, which greets whoever is known. */
  const page = (words: string) => ({
    by: 'page' as const,
    document: document(
      section([{ blocks: [block('heading', { words }), text("Hello {first name or 'there'}.")] }]),
    ),
  })
  const coptic = (given: object = {}) =>
    plainResult(0, {
      name: 'Coptic',
      shows: page('You are a Coptic'),
      actions: [{ does: 'addTag', tag: site.tag }],
      ...given,
    })
  const longStitch = (given: object = {}) =>
    plainResult(1, { name: 'Long-stitch', shows: page('You are a Long-stitch'), ...given })
  const either = [
    [2, 0],
    [0, 2],
  ]
  const content = (given: Partial<GivenQuiz> = {}): QuizContent =>
    quizOf({
      title: 'Which binding?',
      cover: { words: 'Two questions, one binding.', button: 'Find out' },
      questions: [
        countingQuestion(0, either),
        countingQuestion(
          1,
          either.map((row) => row.map((count) => count / 2)),
          { help: 'Think of your desk.' },
        ),
      ],
      results: [coptic(), longStitch()],
      address: { ask: 'before', form: site.form, words: 'We send you how to begin.' },
      ...given,
    })

  beforeAll(async () => {
    site.form = await publishForm(on, {}, 'Where shall we send it?')
    const row = await on.q.row<{ id: number }>(
      `insert into tag (name, created_at) values ('Quiz: Coptic', now()) returning id`,
    )
    site.tag = row?.id ?? 0
    await liveQuiz(on, 'which-binding', content())
  })

  return {
    site,
    visitor,
    content,
    coptic,
    longStitch,
    /** Somebody who came by a link of their own mail. */
    known: (contact: number): Visitor =>
      visitorOf(on, { cookie: `consent=yes; reader=${readerMark(on.install.platform, contact)}` }),
    /** Through the questions of a quiz to what comes behind them. */
    through: async (
      path = 'which-binding',
      as: Visitor = visitor,
      answers: readonly string[] = [answerId(0, 0), answerId(1, 0)],
    ): Promise<Shown> => {
      let shown = await as.begin(await as.open(`/q/${path}`))
      for (const answer of answers) shown = await as.answer(shown, answer)
      return shown
    },
    person: async (address: string): Promise<PersonView | null> => {
      const [row] = (await on.find({ search: address, rehearsal: 'no' })).rows
      return row ? on.view(row.id) : null
    },
    /** The titles of a journal that speak of a quiz. */
    journal: async (contact: number): Promise<string[]> => {
      return (await on.view(contact)).journal
        .map(({ title }) => title)
        .filter((title) => title.includes('quiz'))
    },
  }
}
