import { describe, expect, it } from 'vitest'
import { numberedIds } from '../../testing/documents.ts'
import { composer } from './compose.ts'
import { renewLinkIds, richTextLinks, richTextParagraphs, type RichText } from './richText.ts'
import { blockKinds, kindsIn, traitsOf } from './block.ts'
import {
  describeBlock,
  describeSection,
  documentLinks,
  documentReferences,
  documentText,
  isDocumentPersonal,
  unknownMergeFields,
  walk,
} from './walk.ts'

const { block, text, rich, section, document } = composer(numberedIds('walk'))

const linkTo = (id: string, page: number): RichText['content'] => [
  {
    type: 'paragraph',
    content: [
      { type: 'text', text: 'Read ' },
      { type: 'text', text: 'the ', marks: [{ type: 'link', attrs: { id, target: { to: 'page', page } } }] },
      {
        type: 'text',
        text: 'lesson',
        marks: [{ type: 'bold' }, { type: 'link', attrs: { id, target: { to: 'page', page } } }],
      },
    ],
  },
]

const sample = document(
  section(
    [
      {
        blocks: [block('heading', { words: 'Sew your first pamphlet tonight' }), rich(linkTo('linkone', 7))],
      },
      { blocks: [block('form', { form: 3 })] },
    ],
    { background: 'picture', picture: 12 },
  ),
  section([
    {
      blocks: [
        block('button', { label: 'Download', target: { to: 'file', file: 5 } }),
        block('picture', { picture: 13, alt: 'a needle' }),
        { ...text('For buyers'), shownTo: { people: { kind: 'hasTag', tag: 4 }, instead: '' } },
      ],
    },
  ]),
)

describe('a document in words', () => {
  it('is what its parts say', () => {
    expect([...walk(sample)].map(({ block: each }) => describeBlock(each))).toEqual([
      'Sew your first pamphlet tonight',
      'Read the lesson',
      'form',
      'button: Download',
      'picture of a needle',
      'For buyers',
    ])
    expect(sample.sections.map(describeSection)).toEqual([
      'Sew your first pamphlet tonight',
      'button: Download',
    ])
  })

  it('has every text that somebody reads', () => {
    expect(documentText(sample)).toEqual(
      expect.arrayContaining(['Sew your first pamphlet tonight', 'Read the lesson', 'Download', 'a needle']),
    )
  })

  it('has its links, told by block and mark, a broken-up link once', () => {
    expect(documentLinks(sample).map(({ part, target }) => [part, target.to])).toEqual([
      ['linkone', 'page'],
      ['button', 'file'],
    ])
  })

  it('names everything that it refers to, once', () => {
    expect(
      documentReferences(sample)
        .map(({ kind, id }) => `${kind} ${id}`)
        .sort(),
    ).toEqual(['files 5', 'forms 3', 'pages 7', 'pictures 12', 'pictures 13', 'tags 4'].sort())
  })

  it('is personal when it names its reader, hides something, or hands out a file', () => {
    const plain = document(section([{ blocks: [text('For all'), block('heading', { words: 'Hello' })] }]))
    const greeting = document(section([{ blocks: [block('heading', { words: '{first name}' })] }]))
    expect([isDocumentPersonal(plain), isDocumentPersonal(greeting), isDocumentPersonal(sample)]).toEqual([
      false,
      true,
      true,
    ])
  })
})

describe('merge fields of a document', () => {
  it('that name nothing are found at their place, in rich text too; braces of own HTML are no fields', () => {
    const wrong = block('button', { label: 'Hello {shoe size}' })
    const said = text('Dear {frist name or "you"}')
    const own = block('ownHtml', { markup: '<p>{x}</p>' })
    const names = new Set(['first name'])
    expect(unknownMergeFields(document(section([{ blocks: [wrong, said, own] }])), names)).toEqual([
      { block: wrong.id, field: '{shoe size}' },
      { block: said.id, field: "{frist name or 'you'}" },
    ])
  })

  it('make it personal, unless all read them alike', () => {
    const place = document(section([{ blocks: [text('Come to {Studio Address}')] }]))
    expect(isDocumentPersonal(place)).toBe(true)
    expect(isDocumentPersonal(place, new Set(['studio address']))).toBe(false)
  })
})

describe('rich text', () => {
  it('gives its paragraphs as text, and new ids to the links of a copy', () => {
    const content: RichText = { type: 'doc', content: linkTo('linkone', 7) }
    expect(richTextParagraphs(content)).toEqual(['Read the lesson'])
    const copy = renewLinkIds(content, numberedIds('copy'))
    expect(richTextLinks(copy)).toEqual([{ id: 'copy00000001', target: { to: 'page', page: 7 } }])
  })
})

describe('every kind of block', () => {
  it('has a name of its own, and pages have them all', () => {
    const names = blockKinds.map((kind) => traitsOf(kind).name)
    expect(new Set(names).size).toBe(names.length)
    expect(kindsIn('page')).toEqual(blockKinds)
    expect(kindsIn('email')).not.toContain('form')
  })
})
