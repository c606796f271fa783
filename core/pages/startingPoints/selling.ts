import type { StartingPoint } from './startingPoint.ts'

/** Pages that sell, and pages that teach. */
export const sellingPoints: StartingPoint[] = [
  {
    id: 'sales-letter',
    purpose: 'sales',
    name: 'A letter',
    words: 'Tells a story, answers doubts, and names the price at the end.',
    document: ({ block, text, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, guidance: 'What will they have made when they are through?' }),
                { ...text(''), guidance: 'Where they are now, and what they have tried.' },
                block('list', { items: ['', '', ''], guidance: 'What they get, in their words.' }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
        section(
          [{ blocks: [block('quotes', { quotes: [{ words: '', name: '', about: '', picture: null }] })] }],
          {
            background: 'tinted',
          },
        ),
        section(
          [
            {
              blocks: [
                block('priceCard', { guidance: 'What it costs, and what is in it.' }),
                block('questions', { guidance: 'The doubts people have before they buy.' }),
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ),
  },
  {
    id: 'sales-side-by-side',
    purpose: 'sales',
    name: 'Side by side',
    words: 'Picture and promise beside each other, two prices below.',
    document: ({ block, text, section, document }) =>
      document(
        section([
          {
            blocks: [
              block('heading', { level: 1, guidance: 'The result, not the tool.' }),
              { ...text(''), guidance: 'For whom it is, and for whom not.' },
              block('button', { label: '', guidance: 'Leads down to the prices.' }),
            ],
          },
          { blocks: [block('picture', { guidance: 'The finished thing in somebody’s hands.' })] },
        ]),
        section([{ blocks: [block('priceCard')] }, { blocks: [block('priceCard')] }], {
          background: 'tinted',
        }),
      ),
  },
  {
    id: 'lesson-video',
    purpose: 'lesson',
    name: 'Watch and do',
    words: 'A video, the steps to follow, and the lessons of the course.',
    document: ({ block, text, section, document }) =>
      document(
        section([
          {
            share: 2,
            blocks: [
              block('heading', { level: 1, guidance: 'What they can do after this lesson.' }),
              block('video', { guidance: 'Five to ten minutes is plenty.' }),
              { ...text(''), guidance: 'What they need at hand.' },
              block('list', { marker: 'numbers', items: ['', '', ''], guidance: 'The steps.' }),
            ],
          },
          { blocks: [block('lessonList', { title: 'In this course' })] },
        ]),
      ),
  },
  {
    id: 'lesson-reading',
    purpose: 'lesson',
    name: 'Read and try',
    words: 'Words and pictures, and one thing to try.',
    document: ({ block, text, section, document }) =>
      document(
        section(
          [
            {
              blocks: [
                block('heading', { level: 1, guidance: 'One idea a lesson.' }),
                { ...text(''), guidance: 'The idea, in a few short paragraphs.' },
                block('picture', { guidance: 'What it looks like when it is right.' }),
                block('heading', { words: 'Try it', level: 2 }),
                { ...text(''), guidance: 'One thing to do before the next lesson.' },
                block('lessonList'),
              ],
            },
          ],
          { width: 'narrow' },
        ),
      ),
  },
  {
    id: 'any-empty',
    purpose: 'any',
    name: 'An empty page',
    words: 'One heading and a text; the rest is yours.',
    document: ({ block, text, section, document }) =>
      document(
        section([
          {
            blocks: [
              block('heading', { level: 1, guidance: 'What the page is about.' }),
              { ...text(''), guidance: 'Begin to write.' },
            ],
          },
        ]),
      ),
  },
]
