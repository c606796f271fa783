import { quizContent, type QuizContent } from '../../core/quizzes/quiz.ts'
import { compose } from '../composer.ts'

const { block, text, section, document } = compose

/** The results, with the words of the field that asks for the same, and how many of a hundred get them. */
export const bindings = [
  { id: 'longstitch', name: 'Long-stitch', option: 'long-stitch', weight: 40 },
  { id: 'copticbook', name: 'Coptic', option: 'coptic', weight: 35 },
  { id: 'casebound', name: 'Case-bound', option: 'case-bound', weight: 25 },
] as const
export type Binding = (typeof bindings)[number]['id']

/** What a binding is, and how one begins. */
const pages: Record<Binding, [first: string, then: string]> = {
  longstitch: [
    'You like to begin, and to see it. The thread stays on the outside, where everybody can admire it.',
    'Begin with the Five-Hole Pamphlet: what your hands learn there is half of a long-stitch.',
  ],
  copticbook: [
    'You want a book that lies flat and is written in. The chains along the spine hold it, and are all the ornament it needs.',
    'Begin with folding and pricking: a Coptic forgives much, but not uneven holes.',
  ],
  casebound: [
    'You mean it to last. Boards, cloth, a title: a book as one finds it in a library, and made by you.',
    'Begin with paper grain. A case that fights its own boards never closes.',
  ],
}

const question = (
  n: number,
  words: string,
  answers: readonly (readonly [words: string, counts: readonly number[]])[],
  more: object = {},
) => ({
  asks: 'one',
  id: `binding${n}`,
  words,
  answers: answers.map(([said, counts], i) => ({
    id: `binding${n}answer${i + 1}`,
    words: said,
    counts: Object.fromEntries(bindings.flatMap(({ id }, r) => (counts[r] ? [[id, counts[r]]] : []))),
  })),
  ...more,
})

/** What the quiz stands on. */
interface Around {
  form?: number
  tags?: Record<Binding, number>
  field?: number
  pictures?: { cover: number; answers: readonly number[] }
}

/** “Which binding suits you?”: seven questions, three results. */
export function bindingQuiz(form: number | null, { tags, field, pictures }: Around): QuizContent {
  const pictured = question(2, 'Which spine would you leave on the table?', [
    ['The one with long stitches', [2, 0, 0]],
    ['The one sewn in chains', [0, 2, 0]],
    ['The one with a label', [0, 0, 2]],
  ])
  return quizContent.parse({
    by: 'type',
    title: 'Which binding suits you?',
    cover: {
      words:
        'Seven questions about your bench, your evenings and your patience. At the end you know what to sew first.',
      picture: pictures?.cover ?? null,
      button: 'Show me',
    },
    questions: [
      question(1, 'What will the first book be for?', [
        ['A gift, by the weekend', [2, 1, 0]],
        ['Notes that I carry around', [1, 2, 0]],
        ['Something that outlives me', [0, 0, 2]],
      ]),
      {
        ...pictured,
        answers: pictured.answers.map((answer, i) => ({ ...answer, picture: pictures?.answers[i] ?? null })),
      },
      question(
        3,
        'What is on your bench already?',
        [
          ['Thread and a needle', [1, 1, 0]],
          ['A bone folder', [0, 1, 1]],
          ['A press, or two boards and a stack of dictionaries', [0, 0, 2]],
        ],
        { asks: 'several', most: 2, required: false, help: 'Choose up to two. Nothing is an answer too.' },
      ),
      question(4, 'How do you feel about glue?', [
        ['We do not speak', [2, 1, 0]],
        ['A little, where it helps', [0, 2, 1]],
        ['I own a brush for it', [0, 0, 2]],
      ]),
      question(
        5,
        'Should it lie flat when it is open?',
        [
          ['Yes', [0, 2, 0]],
          ['It need not', [1, 0, 1]],
        ],
        {
          asks: 'yesNo',
        },
      ),
      question(
        6,
        'How much patience is there, on a weekday evening?',
        [
          ['1', [2, 0, 0]],
          ['2', [1, 1, 0]],
          ['3', [0, 1, 0]],
          ['4', [0, 1, 1]],
          ['5', [0, 0, 2]],
        ],
        { asks: 'scale', low: 'hardly any', high: 'a whole pot of it' },
      ),
      question(7, 'And when something goes wrong?', [
        ['I sew on: it will be a feature', [2, 0, 0]],
        ['I unpick it once', [0, 2, 0]],
        ['I begin anew', [0, 0, 2]],
      ]),
    ],
    results: bindings.map(({ id, name }, i) => ({
      id,
      name,
      shows: {
        by: 'page',
        document: document(
          section(
            [
              {
                blocks: [
                  block('heading', { level: 1, words: `Yours is the ${name.toLowerCase()}` }),
                  block('picture', { picture: pictures?.answers[i] ?? null, decorative: true, alt: '' }),
                  text(...pages[id]),
                  block('button', {
                    label: 'See how it begins',
                    target: { to: 'path', path: '/p/template-pack' },
                  }),
                ],
              },
            ],
            { width: 'narrow' },
          ),
        ),
      },
      actions: [
        ...(tags?.[id] ? [{ does: 'addTag', tag: tags[id] }] : []),
        ...(field ? [{ does: 'setField', field, value: name }] : []),
      ],
      sharing: {
        title: `I am a ${name.toLowerCase()} person`,
        words: 'Which binding suits you?',
        picture: null,
      },
    })),
    tie: { by: 'answer', question: 'binding2' },
    address: {
      ask: form === null ? 'never' : 'before',
      form,
      words:
        'Your binding comes with a sheet that shows the first ten minutes of it. Where shall we send it?',
    },
    showsShares: true,
    share: { buttons: ['copy', 'email', 'device'], place: 'below' },
  })
}

/** One question that sorts whoever comes by; each answer leads to a page of its own. */
export const interestQuiz = (form: number, pages: readonly number[]): QuizContent => {
  const results = ['Templates', 'Paper', 'Company']
  return quizContent.parse({
    by: 'type',
    title: 'What brings you to the bench?',
    cover: { words: 'One question, and you are where you wanted to be.', button: 'Ask me' },
    questions: [
      {
        asks: 'one',
        id: 'interest',
        words: 'What would you like most?',
        shuffles: true,
        answers: [
          'Something to fold tonight',
          'To understand my paper',
          'A table full of people who bind',
        ].map((words, i) => ({ id: `interest${i + 1}`, words, counts: { [`interestin${i + 1}`]: 1 } })),
      },
    ],
    results: results.map((name, i) => ({
      id: `interestin${i + 1}`,
      name,
      shows: { by: 'target', target: { to: 'page', page: pages[i] } },
      sharing: { title: `At the bench for: ${name.toLowerCase()}`, words: 'And you?', picture: null },
    })),
    address: { ask: 'before', form, words: 'Then we can write when there is something of the kind.' },
    takes: 'once',
    share: { buttons: ['copy'], place: 'below' },
  })
}
