import { z } from 'zod'
import { chosen, referenceId } from '../reference.ts'
import { nowhere, target } from '../target.ts'
import { blockKind, line, sentences } from './blockKind.ts'

const label = z.string().max(80)

/** Invites to a lesson. */
export const lessonCard = blockKind(
  'lessonCard',
  {
    page: referenceId.nullable().default(null),
    /** The lesson's own title when empty. */
    title: line.default(''),
    words: sentences.default(''),
    label,
  },
  () => ({ label: 'Open the lesson' }),
  {
    name: 'lesson card',
    alsoFoundBy: 'course lesson',
    media: ['page', 'email'],
    describe: ({ title }) => (title ? `lesson: ${title}` : 'lesson card'),
    text: ({ title, words, label: button }) => [title, words, button],
    links: ({ page, title, label: button }) =>
      page === null ? [] : [{ part: 'card', label: title || button, target: { to: 'page', page } }],
    references: ({ page }) => chosen('pages', page),
  },
)

/** Shows something that can be bought. It sells nothing yet: its button leads where one says. */
export const productCard = blockKind(
  'productCard',
  {
    picture: referenceId.nullable().default(null),
    alt: sentences.default(''),
    name: line,
    words: sentences.default(''),
    price: z.string().max(60).default(''),
    label,
    target: target.default(nowhere),
  },
  () => ({ name: '', label: 'Have a look' }),
  {
    name: 'product card',
    alsoFoundBy: 'offer buy shop',
    media: ['page', 'email'],
    describe: ({ name }) => (name ? `product: ${name}` : 'product card'),
    text: ({ name, words, price, label: button, alt }) => [name, words, price, button, alt],
    links: ({ name, label: button, target: to }) => [{ part: 'card', label: name || button, target: to }],
    references: ({ picture }) => chosen('pictures', picture),
  },
)

/** Invites to a live session. It registers nobody yet: its button leads where one says. */
export const sessionCard = blockKind(
  'sessionCard',
  {
    title: line,
    at: z.iso.datetime({ offset: true }).nullable().default(null),
    words: sentences.default(''),
    label,
    target: target.default(nowhere),
  },
  () => ({ title: '', label: 'Keep my place' }),
  {
    name: 'session card',
    alsoFoundBy: 'live event date',
    media: ['page', 'email'],
    describe: ({ title }) => (title ? `session: ${title}` : 'session card'),
    text: ({ title, words, label: button }) => [title, words, button],
    links: ({ title, label: button, target: to }) => [{ part: 'card', label: title || button, target: to }],
  },
)
