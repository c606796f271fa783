import { z } from 'zod'
import { deadlineName } from '../../commerce/deadlineState.ts'
import { chosen, referenceId } from '../reference.ts'
import { nowhere, target, webAddress } from '../target.ts'
import { alignment, blockKind, line } from './blockKind.ts'

export const button = blockKind(
  'button',
  {
    label: z.string().max(80),
    target: target.default(nowhere),
    newWindow: z.boolean().default(false),
    look: z.enum(['filled', 'outlined']).default('filled'),
    align: alignment.default('start'),
  },
  () => ({ label: '' }),
  {
    name: 'button',
    alsoFoundBy: 'link call to action',
    media: ['page', 'email'],
    describe: ({ label }) => (label ? `button: ${label}` : 'button'),
    text: ({ label }) => [label],
    links: ({ label, target: to }) => [{ part: 'button', label, target: to }],
  },
)

/** A form of the Library. */
export const form = blockKind('form', { form: referenceId.nullable().default(null) }, () => ({}), {
  name: 'form',
  alsoFoundBy: 'sign up opt-in capture',
  describe: () => 'form',
  text: () => [],
  references: ({ form: id }) => chosen('forms', id),
})

/** A quiz of the Library, taken where it stands. */
export const quiz = blockKind('quiz', { quiz: referenceId.nullable().default(null) }, () => ({}), {
  name: 'quiz',
  alsoFoundBy: 'questions answers test which suits',
  describe: () => 'quiz',
  text: () => [],
  references: ({ quiz: id }) => chosen('quizzes', id),
})

/** Counts down to a date. */
export const countdown = blockKind(
  'countdown',
  {
    until: z.iso.datetime({ offset: true }).nullable().default(null),
    /** In place of the date: a personal deadline, by its name. */
    deadline: deadlineName.nullable().default(null),
    words: line,
    after: line,
  },
  () => ({ words: '', after: '' }),
  {
    name: 'countdown',
    alsoFoundBy: 'timer deadline date',
    media: ['page', 'email'],
    describe: ({ words }) => (words ? `countdown: ${words}` : 'countdown'),
    text: ({ words, after }) => [words, after],
  },
)

/** What something costs, and where it is bought. */
export const priceCard = blockKind(
  'priceCard',
  {
    name: line,
    price: z.string().max(60),
    points: z.array(line).max(20),
    label: z.string().max(80),
    target: target.default(nowhere),
    note: line.default(''),
  },
  () => ({ name: '', price: '', points: [''], label: '' }),
  {
    name: 'price card',
    alsoFoundBy: 'offer buy product',
    describe: ({ name, price }) => ['price', name, price].filter(Boolean).join(': '),
    text: ({ name, price, points, label, note }) => [name, price, ...points, label, note],
    links: ({ name, label, target: to }) => [{ part: 'card', label: name || label, target: to }],
  },
)

/** Where else one finds the business. */
export const socialLinks = blockKind(
  'socialLinks',
  {
    links: z
      .array(z.strictObject({ name: z.string().min(1, 'Give it a name').max(60), url: webAddress }))
      .max(12),
    align: alignment.default('start'),
  },
  () => ({ links: [] }),
  {
    name: 'social profile links',
    alsoFoundBy: 'networks profiles follow',
    describe: ({ links }) => (links.length ? links.map(({ name }) => name).join(', ') : 'profile links'),
    text: ({ links }) => links.map(({ name }) => name),
    links: ({ links }) =>
      links.map(({ name, url }, i) => ({ part: String(i), label: name, target: { to: 'web', url } })),
  },
)

/** The lessons of a course: open, locked until a day, or done. */
export const lessonList = blockKind(
  'lessonList',
  { course: referenceId.nullable().default(null), title: line.default('') },
  () => ({}),
  {
    name: 'lesson list',
    alsoFoundBy: 'course lessons',
    describe: ({ title }) => title || 'lessons of the course',
    text: ({ title }) => [title],
    references: ({ course }) => chosen('courses', course),
  },
)

/** Markup of one's own; what could do harm is taken out when it is saved and when it is shown. */
export const ownHtml = blockKind(
  'ownHtml',
  { markup: z.string().max(200_000, 'This is too long: at most 200,000 signs') },
  () => ({ markup: '' }),
  {
    name: 'own HTML',
    alsoFoundBy: 'code markup embed',
    media: ['page', 'email'],
    describe: () => 'own HTML',
    text: ({ markup }) => [markup.replace(/<[^>]*>/g, ' ')],
  },
)

export const divider = blockKind('divider', {}, () => ({}), {
  name: 'divider',
  alsoFoundBy: 'line rule',
  media: ['page', 'email'],
  describe: () => 'divider',
  text: () => [],
})

export const spacer = blockKind(
  'spacer',
  { size: z.enum(['small', 'medium', 'large']).default('medium') },
  () => ({}),
  {
    name: 'space',
    alsoFoundBy: 'spacer gap distance',
    media: ['page', 'email'],
    describe: ({ size }) => `${size} space`,
    text: () => [],
  },
)
