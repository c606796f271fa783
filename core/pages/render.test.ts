import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyDocument, attacks, contentOf, numberedIds } from '../../testing/documents.ts'
import { dangersIn, faultsOf } from '../../testing/markup.ts'
import { pageContextOf } from '../../testing/pageContext.ts'
import { blockKinds, freshBlock } from '../blocks/block.ts'
import { composer } from '../blocks/compose.ts'
import { freshSection } from '../blocks/document.ts'
import { noMergeFields, readerValues } from '../blocks/mergeValues.ts'
import type { PageContext } from './context.ts'
import { bodyHtml, needsOf } from './render.ts'
import { contentFrom, startingPointsFor } from './startingPoints.ts'
import { pagePurpose } from './page.ts'
import { wholePage, type PageHead } from './wholePage.ts'

const context = pageContextOf()
const head: PageHead = {
  canonical: 'https://pages.example/here',
  siteName: 'Quillfeather Bindery',
  icon: '/assets/icon.svg',
  sharingPicture: null,
  code: '',
  scriptUrl: '/assets/page.js',
  orderScriptUrl: '/assets/order.js',
  popUps: null,
  consent: null,
}

describe('a page, whatever is written in it', () => {
  it('is valid HTML, runs no script, and asks nobody else for anything', () => {
    fc.assert(
      fc.property(anyDocument, fc.constantFrom(...attacks), (document, title) => {
        const { markup } = wholePage({ ...contentOf(document, title), description: title }, head, context)
        expect(faultsOf(markup)).toEqual([])
        expect(dangersIn(markup, 'https://pages.example')).toEqual([])
      }),
      { numRuns: 80 },
    )
  })

  it.each(blockKinds)('with a new block of the kind %s is valid and quiet', (kind) => {
    const newId = numberedIds('one')
    const document = { sections: [freshSection(newId, [1], [[freshBlock(kind, newId())]])] }
    expect(faultsOf(wholePage(contentOf(document), head, context).markup)).toEqual([])
  })
})

const newId = numberedIds('ren')
const { block, text, section, document } = composer(newId)
const bodyOf = (blocks: ReturnType<typeof block>[], given: Partial<PageContext> = {}): string =>
  bodyHtml({ document: document(section([{ blocks }])) }, { ...context, ...given }).markup

describe('the sheet of the editor', () => {
  it('shows the very markup of the published page, but for the marks of where one writes', () => {
    const words = 'Words'
    const blocks = [
      block('heading', { words }),
      text(words),
      block('list', { items: [words] }),
      block('quotes', { quotes: [{ words, name: words, about: words, picture: 1 }] }),
      block('questions', { items: [{ question: words, answer: words }] }),
      block('picture', { picture: 1, alt: words, caption: words }),
      block('button', { label: words, target: { to: 'page', page: 1 } }),
      block('form', { form: 1 }),
      block('priceCard', { name: words, price: '€1', points: [words], label: words, note: words }),
      block('countdown', { until: '2027-01-01T09:00:00Z', words, after: words }),
      block('logo'),
      block('divider'),
      block('spacer'),
      block('ownHtml', { markup: '<p>Own</p>' }),
      block('lessonList', { course: 1, title: words }),
      block('socialLinks', { links: [{ name: words, url: 'https://example.com/a' }] }),
      block('pictureRow', {
        pictures: [{ picture: 1, alt: words, decorative: false, target: { to: 'nowhere' } }],
      }),
    ]
    const content = { document: document(section([{ blocks }])) }
    const unmarked = bodyHtml(content, { ...context, editing: true })
      .markup.replace(/ data-(?:edit|column)="[^"]*"/g, '')
      .replaceAll('<details open>', '<details>')
    expect(unmarked).toBe(bodyHtml(content, context).markup)
  })
})

describe('merge fields', () => {
  const thanks = block('heading', { words: "Thank you, {first name or 'dear reader'}" })
  it('name who is known, and say the fall-back to everybody else, escaped', () => {
    expect(bodyOf([thanks])).toContain('Thank you, dear reader</h2>')
    expect(
      bodyOf([thanks], {
        reader: readerValues(noMergeFields, { builtIn: { firstName: 'Orla <b>' }, own: {} }),
      }),
    ).toContain('Thank you, Orla &lt;b&gt;</h2>')
  })
})

describe('what only some see', () => {
  const people = { kind: 'hasTag', tag: 1 } as const
  it('is left out for others, who see what was written for them', () => {
    const hidden = { ...text('For buyers'), shownTo: { people, instead: 'Buy <first>' } }
    expect(bodyOf([hidden], { shows: () => false })).toContain('<p>Buy &lt;first&gt;</p>')
    expect(bodyOf([hidden], { shows: () => false })).not.toContain('For buyers')
    expect(bodyOf([hidden])).toContain('For buyers')
  })
})

describe('a video', () => {
  const of = (url: string) => block('video', { title: 'Folding', source: { from: 'web', url } })
  const contentWith = (url: string) => ({ document: document(section([{ blocks: [of(url)] }])) })
  it('of a host on the list is a still with a button; the frame is allowed and not yet there', () => {
    const url = 'https://films.example/folding'
    expect(bodyOf([of(url)])).toContain(`data-frame="${url}"`)
    expect(bodyOf([of(url)])).not.toContain('<iframe')
    expect(needsOf(contentWith(url), context)).toMatchObject({
      script: true,
      frames: ['https://films.example'],
    })
  })
  it('of any other host is neither shown nor allowed', () => {
    const url = 'https://elsewhere.example/folding'
    expect(bodyOf([of(url)])).not.toContain('elsewhere')
    expect(needsOf(contentWith(url), context)).toMatchObject({ script: false, frames: [] })
  })
})

describe('what nobody has written', () => {
  it('is left out of lists, questions and voices, and stands in the sheet to be written', () => {
    const blocks = [
      block('list', { items: ['', 'Thread', ' '] }),
      block('questions', { items: [{ question: '', answer: 'Nothing' }] }),
      block('quotes', { quotes: [{ words: '', name: 'Ada', about: '', picture: null }] }),
    ]
    const drawn = (editing: boolean): string => bodyOf(blocks, { editing })
    const count = (markup: string, tag: string): number => markup.split(`<${tag}`).length - 1
    expect(['li', 'details', 'figure'].map((tag) => count(drawn(false), tag))).toEqual([1, 0, 0])
    expect(['li', 'details', 'figure'].map((tag) => count(drawn(true), tag))).toEqual([3, 1, 1])
  })
})

describe('a countdown', () => {
  const until = '2026-12-01T09:00:00Z'
  it('tells the date itself to who runs no script, in the zone of the business', () => {
    const shown = bodyOf([block('countdown', { until, words: 'Opens', after: 'Open now' })])
    expect(shown).toContain('Tuesday 1 December 2026 at 09:00')
    expect(shown).toContain('Europe/Dublin')
  })
  it('of each reader’s own deadline tells their end, and says that it is over', () => {
    const own = block('countdown', { deadline: 'Early', words: 'Open for', after: 'Over' })
    const shown = (over: boolean): string =>
      bodyOf([own], { deadlineOf: () => ({ until: '2026-12-01T09:00:00Z', over }) })
    expect(shown(false)).toContain('data-until="2026-12-01T09:00:00Z"')
    expect(shown(true)).toContain('<p class="count">Over</p>')
    // Who has none sees none; the sheet says whose it is.
    expect(bodyOf([own])).not.toContain('class="count"')
    expect(bodyOf([own], { editing: true })).toContain('each one’s own: Early')
  })
  it('says that it is over once it is, by the server’s clock', () => {
    const over = bodyOf([block('countdown', { until, words: 'Opens', after: 'Open now' })], {
      now: Date.parse(until),
    })
    expect(over).toContain('Open now')
    expect(over).not.toContain('data-until')
  })
})

describe('starting points', () => {
  it.each(
    pagePurpose.options.filter((purpose) =>
      ['landing', 'thankYou', 'file', 'sales', 'confirm', 'lesson'].includes(purpose),
    ),
  )('for a %s are two at least, of valid HTML, with guidance', (purpose) => {
    const own = startingPointsFor(purpose).filter((point) => point.purpose === purpose)
    expect(own.length).toBeGreaterThanOrEqual(2)
    for (const point of own) {
      const content = contentFrom(point, purpose, 'New', numberedIds('start'))
      expect(faultsOf(wholePage(content, head, context).markup)).toEqual([])
      expect(JSON.stringify(content)).toMatch(/"guidance":"[A-Z]/)
    }
  })
})
