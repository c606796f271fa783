import { freshQuestion, freshResult } from '../../quizzes/quizEdits.ts'
import { quizContent } from '../../quizzes/quiz.ts'
import { days, morning, send } from '../../followups/usualSteps.ts'
import type { FunnelStarter } from './starter.ts'
import { button, column, greeting, heading, said } from './words.ts'
import type { FunnelWriter } from './writer.ts'

const kinds = ['first', 'second', 'third'] as const

/** What whoever got a result is written. */
function lettersFor(to: FunnelWriter, kind: string, page: number): [soon: number, later: number] {
  const soon = to.email({
    name: `${kind} result, at once`,
    subject: 'Your result, and where to begin',
    preheader: 'One thing that you can do tonight.',
    purpose: 'transactional',
    blocks: (compose) => [
      compose.text(greeting),
      said(compose, 'What their result says about them, as you would tell a friend. Two sentences.'),
      button(compose, 'Begin here', { to: 'page', page }, 'Change this to lead to the first step for them.'),
    ],
  })
  const later = to.email({
    name: `${kind} result, next`,
    subject: 'The next step for you',
    preheader: 'What others like you did next.',
    blocks: (compose) => [
      compose.text(greeting),
      said(compose, 'What fits this result best of all that you have, and why.'),
      button(compose, 'Have a look', { to: 'page', page }, 'Change this to lead to what fits them.'),
    ],
  })
  return [soon, later]
}

/** A quiz that sorts people by what suits them; each result has a page, emails and a follow-up of its own. */
export const quizFunnel: FunnelStarter = {
  id: 'quiz',
  goal: 'list',
  name: 'A quiz with three results',
  words:
    'A page that invites to the quiz, the quiz with a cover and three questions, a page for each result, and a follow-up with two emails for each.',
  write(to, { name }) {
    const landing = to.page({
      name: 'invitation',
      purpose: 'landing',
      description: `${name}: a few questions.`.slice(0, 300),
      sections: (compose) => [
        column(compose, [
          heading(compose, name, 'The question that they ask themselves.'),
          said(compose, 'What they know at the end, and how long it takes. Two sentences.'),
          button(compose, 'Begin', { to: 'nextStep' }),
        ]),
      ],
    })
    const form = to.form('form', { button: 'Show me my result' })
    const results = kinds.map((kind) => ({
      kind,
      of: {
        ...freshResult(`The ${kind} kind`, to.newId),
        shows: {
          by: 'page',
          document: to.compose.document(
            column(to.compose, [
              heading(to.compose, `You are the ${kind} kind`, 'Name it so that they tell others.'),
              said(to.compose, 'What is typical of them, and what they are good at. Three sentences.'),
              said(
                to.compose,
                'What to do first, tonight.',
                'Look into your mailbox: we have sent you how to begin.',
              ),
            ]),
          ),
        },
      },
    }))
    const question = (words: string, answers: readonly string[]) => ({
      ...freshQuestion('one', to.newId),
      words,
      answers: answers.map((said, i) => ({
        id: to.newId(),
        words: said,
        counts: { [results[i]?.of.id ?? '']: 2 },
      })),
    })
    const quiz = to.quiz(
      'quiz',
      quizContent.parse({
        title: name,
        cover: { words: 'Three questions, and you know where to begin.', button: 'Let’s see' },
        questions: [
          question('What would you like to have reached in a month?', [
            'A first result',
            'A habit',
            'A masterpiece',
          ]),
          question('How do you like to learn?', ['By doing', 'With others', 'By the book']),
          question('What has stopped you so far?', ['Where to begin', 'Nobody to ask', 'Not enough time']),
        ],
        results: results.map(({ of }) => of),
        address: {
          ask: 'before',
          form,
          words: 'Your result comes with the first step for you. Where shall we send it?',
        },
        tie: { by: 'order' },
      }),
    )
    to.station(landing)
    to.sorter({ kind: 'quiz', quiz })
    for (const { kind, of } of results) {
      const [soon, later] = lettersFor(to, kind, landing)
      to.belongs(
        to.followup(`${kind} result`, {
          startsWhen: [{ kind: 'quizFinished', quiz, result: of.id }],
          steps: [send('soon', soon), days('two-days', 2), morning('morning'), send('later', later)],
        }),
      )
    }
  },
}
