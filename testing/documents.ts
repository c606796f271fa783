import fc from 'fast-check'
import { blockKinds, freshBlock, type Block, type BlockKind } from '../core/blocks/block.ts'
import { freshSection, type BlockDocument } from '../core/blocks/document.ts'
import type { Section } from '../core/blocks/document.ts'
import type { Target } from '../core/blocks/target.ts'
import type { PageContent } from '../core/pages/page.ts'

/** Ids that are counted. */
export function numberedIds(prefix: string): () => string {
  let made = 0
  return () => `${prefix}${String((made += 1)).padStart(8, '0')}`
}

/** What attackers write where words are expected. Sources: the XSS contexts of the OWASP cheat sheet, from memory. */
export const attacks = [
  '<script>alert(1)</script>',
  '"><img src=x onerror=alert(1)>',
  "'><svg onload=alert(1)>",
  '</style><script>alert(1)</script>',
  '</title><script>alert(1)</script>',
  '<!--<script>',
  'javascript:alert(1)',
  '{{constructor.constructor("alert(1)")()}}',
  "{first name or '<script>alert(1)</script>'}",
  '§token§',
  '\u202e\u0000\ufffe',
  '&lt;b&gt; &amp; &#x27;',
  '<iframe src="https://evil.example/"></iframe>',
  '<link rel=stylesheet href=https://evil.example/a.css>',
  '<a href="javascript:alert(1)">x</a><form action="https://evil.example"><input></form>',
]

const words = fc.oneof(
  fc.constantFrom(...attacks),
  fc.string({ unit: 'grapheme', maxLength: 60 }),
  fc.lorem({ maxCount: 6 }),
)

const short = words.map((each) => each.slice(0, 60))

/** A place that leads somewhere, or tries to lead where it must not. */
const anyTarget: fc.Arbitrary<Target> = fc.oneof(
  fc.constant<Target>({ to: 'nowhere' }),
  fc.constant<Target>({ to: 'nextStep' }),
  fc.nat({ max: 20 }).map((n): Target => ({ to: 'page', page: n + 1 })),
  fc.nat({ max: 20 }).map((n): Target => ({ to: 'file', file: n + 1 })),
  fc.webUrl({ withQueryParameters: true }).map((url): Target => ({ to: 'web', url })),
  fc.constant<Target>({ to: 'path', path: '/p/somewhere?a="><script>' }),
)

/** A block of each kind with whatever may be written in it. */
const given: { [K in BlockKind]: fc.Arbitrary<object> } = {
  heading: fc.record({ words, level: fc.constantFrom(1, 2, 3), align: fc.constantFrom('start', 'centre') }),
  text: fc.tuple(words, words, anyTarget).map(([a, b, to]) => ({
    content: {
      type: 'doc',
      content: [
        {
          type: 'paragraph',
          content: [
            ...(a ? [{ type: 'text', text: a, marks: [{ type: 'bold' }] }] : []),
            ...(b
              ? [{ type: 'text', text: b, marks: [{ type: 'link', attrs: { id: 'linkid', target: to } }] }]
              : []),
            {
              type: 'mergeField',
              attrs: { name: 'first name', format: null, fallback: a.slice(0, 100) },
            },
            { type: 'hardBreak' },
          ],
        },
        ...(b
          ? [
              {
                type: 'bulletList',
                content: [
                  {
                    type: 'listItem',
                    content: [{ type: 'paragraph', content: [{ type: 'text', text: b }] }],
                  },
                ],
              },
            ]
          : []),
      ],
    },
  })),
  picture: fc.record({
    picture: fc.constantFrom(null, 1, 99),
    alt: words,
    caption: words,
    target: anyTarget,
  }),
  button: fc.record({ label: short, target: anyTarget, newWindow: fc.boolean() }),
  form: fc.record({ form: fc.constantFrom(null, 1, 9) }),
  quiz: fc.record({ quiz: fc.constantFrom(null, 1, 9) }),
  orderForm: fc.record({
    offers: fc.array(fc.record({ product: fc.constantFrom(null, 1, 9) }), { maxLength: 3 }),
    extraWords: words,
    label: short,
    terms: words,
    trust: words,
  }),
  nextOffer: fc.record({ label: short, decline: short, yes: anyTarget, no: anyTarget }),
  purchase: fc.record({ greeting: words, words }),
  list: fc.record({
    items: fc.array(words, { minLength: 1, maxLength: 4 }),
    marker: fc.constantFrom('ticks', 'numbers'),
  }),
  quotes: fc.record({
    quotes: fc.array(fc.record({ words, name: words, about: words, picture: fc.constantFrom(null, 1) }), {
      minLength: 1,
      maxLength: 3,
    }),
  }),
  questions: fc.record({
    items: fc.array(fc.record({ question: words, answer: words }), { minLength: 1, maxLength: 3 }),
  }),
  video: fc.record({
    title: words,
    poster: fc.constantFrom(null, 1),
    source: fc.oneof(
      fc.constant(null),
      fc.constant({ from: 'file', file: 3, captions: 4 }),
      fc
        .constantFrom('https://films.example/a', 'https://evil.example/"><script>')
        .map((url) => ({ from: 'web', url })),
    ),
  }),
  countdown: fc.record({
    until: fc.constantFrom(null, '2027-01-01T09:00:00Z', '2020-01-01T09:00:00Z'),
    words,
    after: words,
  }),
  lessonCard: fc.record({ page: fc.constantFrom(null, 1, 99), title: words, words, label: short }),
  productCard: fc.record({
    picture: fc.constantFrom(null, 1, 99),
    alt: words,
    name: words,
    words,
    price: short,
    label: short,
    target: anyTarget,
  }),
  sessionCard: fc.record({
    title: words,
    at: fc.constantFrom(null, '2027-01-01T09:00:00Z'),
    words,
    label: short,
    target: anyTarget,
  }),
  pictureRow: fc.record({
    pictures: fc.array(fc.record({ picture: fc.constantFrom(null, 1), alt: words, target: anyTarget }), {
      minLength: 1,
      maxLength: 3,
    }),
  }),
  logo: fc.record({ size: fc.constantFrom('small', 'medium', 'large') }),
  priceCard: fc.record({
    name: words,
    price: short,
    points: fc.array(words, { maxLength: 3 }),
    label: short,
    note: words,
  }),
  lessonList: fc.record({ course: fc.constantFrom(null, 1), title: words }),
  socialLinks: fc.record({
    links: fc.array(fc.record({ name: short.map((each) => each || 'Profile'), url: fc.webUrl() }), {
      maxLength: 3,
    }),
  }),
  divider: fc.constant({}),
  spacer: fc.constant({}),
  ownHtml: fc.record({ markup: words }),
}

const anyBlock: fc.Arbitrary<{ kind: BlockKind; given: object }> = fc
  .constantFrom(...blockKinds)
  .chain((kind) => given[kind].map((held) => ({ kind, given: held })))

/** Any document with a few sections: every kind of block, and whatever may be written in it. */
export const anyDocument: fc.Arbitrary<BlockDocument> = fc
  .array(
    fc.record({
      columns: fc.array(fc.array(anyBlock, { maxLength: 4 }), { minLength: 1, maxLength: 4 }),
      background: fc.constantFrom('plain', 'tinted', 'picture'),
      hiddenOnPhones: fc.boolean(),
    }),
    { minLength: 1, maxLength: 4 },
  )
  .map((sections) => {
    const newId = numberedIds('any')
    return {
      sections: sections.map(({ columns, background, hiddenOnPhones }): Section => ({
        ...freshSection(
          newId,
          columns.map(() => 1),
          columns.map((blocks) =>
            blocks.map(({ kind, given: held }): Block => freshBlock(kind, newId(), held)),
          ),
        ),
        look: { background: background, picture: 1, width: 'page' },
        hiddenOnPhones,
      })),
    }
  })

/** A content with that document, and everything else plain. */
export const contentOf = (document: BlockDocument, title = 'A page'): PageContent => ({
  title,
  description: '',
  language: 'en',
  listed: true,
  sharing: { title: '', words: '', picture: null },
  icon: null,
  limitedTo: null,
  opens: { when: 'atOnce' },
  deadline: null,
  document,
})
