import type { Queries } from '../../server/database/connect.ts'
import { compose } from '../composer.ts'
import { simpleForm } from '../../core/capture/form.ts'
import { createForm, createPage, type StoryPage } from './create.ts'
import { altOf, type Pictures } from './pictures.ts'

const { block, text, section } = compose

const consentWording =
  'Yes, send me the lesson and, now and then, news about bookbinding from Quillfeather Bindery. I can stop it with one click in every email.'

const lesson = (course: number, given: Omit<StoryPage, 'purpose' | 'course' | 'name'>): StoryPage => ({
  ...given,
  name: `Lesson: ${given.title}`,
  purpose: 'lesson',
  course,
})

const lessonSections = (
  course: number,
  title: string,
  words: string[],
  steps: string[],
  picture?: object,
) => [
  section([
    {
      share: 2,
      blocks: [
        block('heading', { level: 1, words: title }),
        text(...words),
        ...(picture ? [block('picture', picture)] : []),
        block('heading', { words: 'Try it', level: 2 }),
        block('list', { marker: 'numbers', items: steps }),
      ],
    },
    { blocks: [block('lessonList', { course, title: 'In this course' })] },
  ]),
]

/** The three lessons: the first opens at once, the others wait for the learner. */
const lessons = (course: number, { grain }: Pictures): StoryPage[] => [
  lesson(course, {
    path: 'paper-grain/three-tests',
    title: 'Three tests that need no tools',
    sections: lessonSections(
      course,
      'Three tests that need no tools',
      [
        'Paper bends along its grain more willingly than across it, as a bamboo mat does.',
        'You feel it with your bare hands, on any sheet, in a few seconds.',
      ],
      [
        'Bend the sheet, without folding it',
        'Tear a strip from each side',
        'Wet a corner and see which way it curls',
      ],
      { picture: grain, alt: altOf('grain') },
    ),
  }),
  lesson(course, {
    path: 'paper-grain/when-it-goes-wrong',
    title: 'What happens when it goes wrong',
    opens: { when: 'daysAfterStart', days: 2 },
    sections: lessonSections(
      course,
      'What happens when it goes wrong',
      [
        'A book that is glued against the grain fights you: its pages wave, its boards warp, its joint cracks.',
      ],
      ['Find a book that does not lie flat', 'Look for the direction of its pages', 'Bend one of its boards'],
    ),
  }),
  lesson(course, {
    path: 'paper-grain/at-the-bench',
    title: 'A habit for the bench',
    opens: { when: 'previousSeen' },
    sections: lessonSections(
      course,
      'A habit for the bench',
      ['Mark every sheet the moment you open the packet, and never think of it again.'],
      ['Draw a short pencil line along the grain', 'Store all sheets the same way round'],
    ),
  }),
]

/** The landing page and the lessons of the small course. @returns ids of landing page and form */
export async function createPages(
  q: Queries,
  { tag, pictures }: { tag: number; pictures: Pictures },
  at: Date,
): Promise<{ page: number; form: number }> {
  const course = await q.row<{ id: number }>(
    `insert into course (name, created_at) values ('Paper grain', $1) returning id`,
    [at],
  )
  const made = lessons(course?.id ?? 0, pictures)
  const ids: number[] = []
  for (const page of made) ids.push(await createPage(q, page, at))
  const form = await createForm(
    q,
    'Paper grain',
    simpleForm(
      {
        button: 'Send me the lesson',
        actions: [{ does: 'addTag', tag }],
        after: { then: 'go', target: { to: 'page', page: ids[0] ?? 0 } },
      },
      consentWording,
    ),
    at,
  )
  const page = await createPage(
    q,
    {
      path: 'paper-grain',
      name: 'Paper grain',
      purpose: 'landing',
      title: 'Paper grain in ten minutes',
      description: 'A short free course that saves you a warped book.',
      sections: [
        section([
          {
            share: 3,
            blocks: [
              block('heading', { level: 1, words: 'Paper grain in ten minutes' }),
              text(
                'A short course that saves you a warped book: how to find the grain of any sheet with your bare hands.',
              ),
              block('list', {
                items: [
                  'Three tests that need no tools',
                  'What happens when you get it wrong',
                  'A habit for the bench',
                ],
              }),
            ],
          },
          {
            share: 2,
            blocks: [block('form', { form })],
          },
        ]),
        section(
          [{ blocks: [block('picture', { picture: pictures.grain, alt: altOf('grain'), shape: 'wide' })] }],
          { background: 'tinted' },
        ),
      ],
    },
    at,
  )
  return { page, form }
}
