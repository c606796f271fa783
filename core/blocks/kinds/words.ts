import { richText, plainRichText, richTextLinks, richTextParagraphs } from '../richText.ts'
import { z } from 'zod'
import { alignment, blockKind, line, sentences } from './blockKind.ts'

/** Begins a page or a part of it. */
export const heading = blockKind(
  'heading',
  { words: line, level: z.literal([1, 2, 3]).default(2), align: alignment.default('start') },
  () => ({ words: '' }),
  {
    name: 'heading',
    alsoFoundBy: 'title headline',
    media: ['page', 'email'],
    describe: ({ words }) => words,
    text: ({ words }) => [words],
  },
)

/** Paragraphs and lists that one writes. */
export const text = blockKind('text', { content: richText }, () => ({ content: plainRichText('') }), {
  name: 'text',
  alsoFoundBy: 'paragraph words write',
  media: ['page', 'email'],
  describe: ({ content }) => richTextParagraphs(content).join(' '),
  text: ({ content }) => richTextParagraphs(content),
  links: ({ content }) =>
    richTextLinks(content).map(({ id, target }) => ({ part: id, label: 'link', target })),
})

/** Points with ticks or numbers before them. */
export const list = blockKind(
  'list',
  { marker: z.enum(['ticks', 'numbers']).default('ticks'), items: z.array(line).min(1).max(40) },
  () => ({ items: [''] }),
  {
    name: 'list',
    alsoFoundBy: 'points ticks numbers steps',
    media: ['page', 'email'],
    describe: ({ items }) => items.filter(Boolean).join(', '),
    text: ({ items }) => items,
  },
)

/** What customers say. */
export const quotes = blockKind(
  'quotes',
  {
    quotes: z
      .array(
        z.strictObject({
          words: sentences,
          name: line,
          about: line.default(''),
          picture: z.number().int().positive().nullable().default(null),
        }),
      )
      .min(1)
      .max(12),
  },
  () => ({ quotes: [{ words: '', name: '' }] }),
  {
    name: 'quotes from customers',
    alsoFoundBy: 'testimonial review praise',
    media: ['page', 'email'],
    describe: ({ quotes: all }) => all.map(({ words, name }) => words || name).join(' · '),
    text: ({ quotes: all }) => all.flatMap(({ words, name, about }) => [words, name, about]),
    references: ({ quotes: all }) =>
      all.flatMap(({ picture }) => (picture === null ? [] : [{ kind: 'pictures' as const, id: picture }])),
  },
)

/** Questions that open to their answers. */
export const questions = blockKind(
  'questions',
  {
    items: z
      .array(z.strictObject({ question: line, answer: sentences }))
      .min(1)
      .max(40),
  },
  () => ({ items: [{ question: '', answer: '' }] }),
  {
    name: 'questions and answers',
    alsoFoundBy: 'faq details',
    describe: ({ items }) =>
      items
        .map(({ question }) => question)
        .filter(Boolean)
        .join(' · '),
    text: ({ items }) => items.flatMap(({ question, answer }) => [question, answer]),
  },
)
