import { freshQuestion, freshResult } from './quizEdits.ts'
import { quizContent, type QuizContent } from './quiz.ts'

/** A quiz to begin with. */
export interface QuizStart {
  id: string
  name: string
  about: string
  make: (newId: () => string) => QuizContent
}

/** A question with answers, each with what it counts for each result, and its points. */
const asking = (
  newId: () => string,
  words: string,
  answers: readonly (readonly [string, readonly number[], number?])[],
  results: readonly { id: string }[],
) => ({
  ...freshQuestion('one', newId),
  words,
  answers: answers.map(([said, counts, points = 0]) => ({
    id: newId(),
    words: said,
    counts: Object.fromEntries(results.flatMap(({ id }, i) => (counts[i] ? [[id, counts[i]] as const] : []))),
    points,
  })),
})

const whichOne = (newId: () => string): QuizContent => {
  const results = ['The first kind', 'The second kind', 'The third kind'].map((name) =>
    freshResult(name, newId),
  )
  return quizContent.parse({
    by: 'type',
    title: 'Which one suits you?',
    cover: { words: 'A few questions, and you know where to begin.', button: 'Let’s see' },
    results,
    questions: [
      asking(
        newId,
        'What do you want to have made by the end of the month?',
        [
          ['Something small and quick', [2, 0, 0]],
          ['Something to give away', [0, 2, 0]],
          ['Something to be proud of', [0, 0, 2]],
        ],
        results,
      ),
      asking(
        newId,
        'How much time do you have for it?',
        [
          ['An evening', [2, 1, 0]],
          ['A weekend', [0, 2, 1]],
          ['As long as it takes', [0, 0, 2]],
        ],
        results,
      ),
      asking(
        newId,
        'What would stop you?',
        [
          ['Too many tools', [1, 0, 0]],
          ['Nobody to ask', [0, 1, 0]],
          ['Not knowing whether it is right', [0, 0, 1]],
        ],
        results,
      ),
    ],
  })
}

const howReady = (newId: () => string): QuizContent => {
  const [early, halfway, ready] = ['Just beginning', 'On the way', 'Ready'].map((name) =>
    freshResult(name, newId),
  )
  const scale = (words: string) => {
    const question = freshQuestion('scale', newId)
    if (question.asks !== 'scale') throw new Error('a scale is a scale')
    return {
      ...question,
      words,
      low: 'not at all',
      high: 'completely',
      answers: question.answers.map((answer, i) => ({ ...answer, points: i })),
    }
  }
  return quizContent.parse({
    by: 'points',
    title: 'How ready are you?',
    cover: { words: 'Four honest answers show you what comes next.', button: 'Find out' },
    results: [
      { ...early, from: null, to: 5 },
      { ...halfway, from: 6, to: 11 },
      { ...ready, from: 12, to: null },
    ],
    questions: [
      scale('I know what I want to reach.'),
      scale('I have what I need for it.'),
      scale('I know what to do first.'),
      scale('I have set time aside.'),
    ],
  })
}

const oneQuestion = (newId: () => string): QuizContent => {
  const results = ['First interest', 'Second interest', 'Third interest'].map((name) =>
    freshResult(name, newId),
  )
  return quizContent.parse({
    by: 'type',
    title: 'What brings you here?',
    results,
    questions: [
      asking(
        newId,
        'What would you like to hear about?',
        [
          ['The first thing', [1, 0, 0]],
          ['The second thing', [0, 1, 0]],
          ['The third thing', [0, 0, 1]],
        ],
        results,
      ),
    ],
  })
}

const empty = (): QuizContent => quizContent.parse({ cover: {} })

/** What a quiz can begin with, in our own words. */
export const quizStarts: readonly QuizStart[] = [
  {
    id: 'which',
    name: 'Which one suits you?',
    about: 'Answers count for one of several results.',
    make: whichOne,
  },
  {
    id: 'ready',
    name: 'How ready are you?',
    about: 'Answers give points; the sum gives the result.',
    make: howReady,
  },
  {
    id: 'one',
    name: 'One question',
    about: 'Sorts people by what they are interested in.',
    make: oneQuestion,
  },
  { id: 'empty', name: 'Nothing', about: 'An empty score sheet.', make: empty },
]
