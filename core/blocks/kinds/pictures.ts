import { z } from 'zod'
import { chosen, referenceId } from '../reference.ts'
import { nowhere, target, webAddress } from '../target.ts'
import { alignment, blockKind, line, sentences } from './blockKind.ts'

/** A picture of the Library and what it says to who cannot see it; a decorative one says nothing. */
const pictureShape = {
  picture: referenceId.nullable().default(null),
  alt: sentences.default(''),
  decorative: z.boolean().default(false),
  target: target.default(nowhere),
}

const pictureWords = ({ alt, decorative }: { alt: string; decorative: boolean }): string =>
  decorative ? 'decorative picture' : alt ? `picture of ${alt}` : 'picture'

export const picture = blockKind(
  'picture',
  {
    ...pictureShape,
    /** A shared detail whose picture stands here. */
    detail: referenceId.nullable().default(null),
    shape: z.enum(['original', 'square', 'wide', 'circle']).default('original'),
    size: z.enum(['small', 'half', 'full']).default('full'),
    caption: line.default(''),
  },
  () => ({}),
  {
    name: 'picture',
    alsoFoundBy: 'image photo drawing',
    media: ['page', 'email'],
    describe: pictureWords,
    text: ({ alt, caption }) => [alt, caption],
    links: ({ target: to, alt }) => [{ part: 'picture', label: alt, target: to }],
    references: ({ picture: id, detail }) =>
      detail === null ? chosen('pictures', id) : chosen('details', detail),
  },
)

/** The logo of the brand. */
export const logo = blockKind(
  'logo',
  { size: z.enum(['small', 'medium', 'large']).default('medium'), align: alignment.default('start') },
  () => ({}),
  {
    name: 'logo',
    alsoFoundBy: 'brand',
    media: ['page', 'email'],
    describe: () => 'logo',
    text: () => [],
  },
)

/** Several pictures beside each other. */
export const pictureRow = blockKind(
  'pictureRow',
  { pictures: z.array(z.strictObject(pictureShape)).min(1).max(6) },
  () => ({ pictures: [{}, {}, {}] }),
  {
    name: 'picture row',
    alsoFoundBy: 'images gallery logos',
    describe: ({ pictures: all }) => `${all.length} pictures`,
    text: ({ pictures: all }) => all.map(({ alt }) => alt),
    links: ({ pictures: all }) =>
      all.map(({ target: to, alt }, i) => ({ part: String(i), label: alt, target: to })),
    references: ({ pictures: all }) => chosen('pictures', ...all.map(({ picture: id }) => id)),
  },
)

/** A film: a file of the Library, or one at a host that the business allows. */
export const video = blockKind(
  'video',
  {
    source: z
      .discriminatedUnion('from', [
        z.strictObject({ from: z.literal('file'), file: referenceId, captions: referenceId.nullable() }),
        z.strictObject({ from: z.literal('web'), url: webAddress }),
      ])
      .nullable()
      .default(null),
    poster: referenceId.nullable().default(null),
    title: line,
  },
  () => ({ title: '' }),
  {
    name: 'video',
    alsoFoundBy: 'film movie clip',
    describe: ({ title }) => (title ? `video: ${title}` : 'video'),
    text: ({ title }) => [title],
    references: ({ source, poster }) => [
      ...chosen('pictures', poster),
      ...(source?.from === 'file' ? chosen('files', source.file, source.captions) : []),
    ],
  },
)
