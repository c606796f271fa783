import { HtmlValidate } from 'html-validate'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { composer } from '../../core/blocks/compose.ts'
import { noMergeFields } from '../../core/blocks/mergeValues.ts'
import { emptyEmail } from '../../core/email/email.ts'
import { parseHtml, parseText, templateFields, type MergeValues } from '../../core/email/merge.ts'
import { plainBrand } from '../../core/pages/brand.ts'
import { siteSettings } from '../../core/pages/site.ts'
import { anyDocument, numberedIds } from '../../testing/documents.ts'
import { dangersIn } from '../../testing/markup.ts'
import { taxSettings } from '../../core/commerce/tax.ts'
import type { Site } from '../pages/site.ts'
import { drawEmail, renderEmail } from './renderEmail.ts'

const { block, text, section, document } = composer(numberedIds('render'))
const site: Site = {
  business: { name: 'Quillfeather Bindery', postalAddress: '4 Sizing Lane', zone: 'Europe/Dublin' },
  brand: plainBrand,
  settings: siteSettings.parse({}),
  pages: new Map(),
  pictures: new Map([
    [1, { base: '/pictures/1-abcd', width: 1600, height: 1100, widths: [320, 640, 1000, 1600] }],
  ]),
  mergeFields: noMergeFields,
  forms: new Map(),
  popUps: [],
  media: new Set(),
  junctions: new Map(),
  quizzes: new Map(),
  products: new Map(),
  orderPages: new Map(),
  selling: { currency: 'EUR', zone: 'Europe/Dublin', tax: taxSettings.parse({}), takes: 'test' },
  deadlines: new Map(),
  namedLinks: new Map(),
  funnels: [],
  courses: new Map(),
  courseInfo: new Map(),
}
const values: MergeValues = {
  person: { first_name: 'Orla', last_name: '', address: 'orla@postbox.test' },
  business: { name: 'Quillfeather Bindery', postal_address: '4 Sizing Lane', zone: 'Europe/Dublin' },
  fields: {},
  zone: null,
  base_url: 'https://x.test',
  links: Array.from({ length: 40 }, (_, n) => `https://x.test/go/${n}`),
  shows: [true, false],
  unsubscribe_url: 'https://x.test/unsubscribe/1',
  preferences_url: 'https://x.test/preferences/1',
  open_url: 'https://x.test/seen/1',
}
const shown = async (...blocks: Parameters<typeof section>[0][number]['blocks']): Promise<string> => {
  const content = emptyEmail({
    subject: 'x',
    preheader: 'Three sizes',
    document: document(section([{ blocks }])),
  })
  return parseHtml((await renderEmail(content, site)).html ?? '')(values)
}

describe('the HTML part', () => {
  it('greets by name, leads by its own links, and names the business and the ways out', async () => {
    const html = await shown(
      block('heading', { words: "Hello {first name or 'there'}" }),
      text('Some words.'),
      block('button', { label: 'Go', target: { to: 'web', url: 'https://quillfeather.example/' } }),
      block('picture', { picture: 1, alt: 'a needle', target: { to: 'file', file: 3 } }),
    )
    expect(html).toMatch(/<h2[^>]*>Hello Orla<\/h2>/)
    expect(html).toContain('href="https://x.test/go/0"')
    expect(html).toContain('href="https://x.test/go/1"')
    expect(html).toMatch(/src="https:\/\/x\.test\/pictures\/1-abcd-1600\.jpg"/)
    expect(html).toContain('alt="a needle"')
    expect(html).toContain('https://x.test/unsubscribe/1')
    expect(html).toContain('4 Sizing Lane')
    expect(html).not.toContain('quillfeather.example/')
  })

  it('has one distance between paragraphs, wherever they stand, and none for empty ones', async () => {
    const together = await shown(text('One', 'Two', 'Three'))
    const empty = await shown(text('One', '', 'Two', '', '', 'Three', ''))
    expect(empty).toBe(together)
    const margins = [...together.matchAll(/<p style="([^"]*)"/g)].map(([, style]) => style)
    expect(margins).toHaveLength(3)
    expect(margins[0]).toMatch(/margin: 0 0 16px/)
    expect(margins[2]).toMatch(/margin-bottom: 0/)
  })

  it('says merge fields of its subject wherever the subject stands in it', async () => {
    const content = emptyEmail({
      subject: "{first name or 'reader'}, {guest or 'nobody'} & {no such}",
      document: document(section([{ blocks: [text('x')] }])),
    })
    const guest = { id: 1, name: 'guest', formerNames: [], kind: 'text' as const, text: 'A "B" <C>' }
    const named = templateFields(
      { own: [], details: [guest], junctions: [], deadlines: [], zone: 'Europe/Dublin' },
      null,
    )
    const html = parseHtml((await renderEmail(content, site)).html ?? '')({ ...values, ...named })
    const said = 'Orla, A &#34;B&#34; &lt;C&gt; &amp; &#123;no such&#125;'
    expect(html).toContain(`<title>${said}</title>`)
    expect(html).toContain(`aria-label="${said}"`)
  })

  it('has the parts that its reader sees, and what others see in their place', async () => {
    const people = { kind: 'all' as const, of: [] }
    const seen = { ...text('For you.'), shownTo: { people, instead: 'For others.' } }
    const unseen = { ...text('A secret.'), shownTo: { people, instead: 'Instead {of} it.' } }
    const html = await shown(seen, unseen, text('For all.'))
    for (const words of ['For you.', 'Instead &#123;of&#125; it.', 'For all.']) expect(html).toContain(words)
    for (const words of ['For others.', 'A secret.', '{%', '<!--shows']) expect(html).not.toContain(words)
  })

  it('is written so that no template can be typed into it', async () => {
    const html = await shown(
      text('{{ business.name }} {% raw %}'),
      block('ownHtml', { markup: '<p>{{ base_url }}</p>' }),
    )
    expect(html).not.toContain('<p>https://x.test')
    expect(html).toContain('&#123;&#123;business.name&#125;&#125;')
  })

  it('runs nothing and breaks out of nothing, whatever is written (fast-check)', async () => {
    const validate = new HtmlValidate({
      rules: {
        'close-order': 'error',
        'no-dup-attr': 'error',
        'void-content': 'error',
        'no-raw-characters': 'off',
      },
    })
    await fc.assert(
      fc.asyncProperty(anyDocument, async (any) => {
        const content = emptyEmail({ subject: 'x', document: any })
        const { html, text: plain } = await renderEmail(content, site)
        const merged = parseHtml(html ?? '')(values)
        expect(dangersIn(merged, 'https://x.test')).toEqual([])
        const { results } = await validate.validateString(merged.replace(/<!--[\s\S]*?-->/g, ''))
        expect(results.flatMap(({ messages }) => messages.map(({ message }) => message))).toEqual([])
        expect(plain).toContain('{{ unsubscribe_url }}')
      }),
      { numRuns: 25 },
    )
  })
})

describe('the sheet', () => {
  it('has an id for each part, and texts that can be written in', async () => {
    const heading = block('heading', { words: 'Hello {first name}' })
    const button = block('button', { label: 'Go' })
    const words = text('Hello {first name}')
    const part = section([{ blocks: [heading, words, button] }])
    const { body } = await drawEmail(emptyEmail({ document: document(part) }), site)
    for (const id of [`s-${part.id}`, `b-${heading.id}`, `b-${words.id}`, `b-${button.id}`])
      expect(body).toContain(`id="${id}"`)
    expect(body).toMatch(/<h2[^>]* data-edit="words"[^>]*>Hello \{first name\}<\/h2>/)
    expect(body).toMatch(/data-edit="label"/)
    expect(body).not.toContain('{{')
  })
})

describe('cards and countdowns', () => {
  const at = '2027-07-01T17:00:00Z'
  const cards = [
    block('lessonCard', { page: 7, words: 'Eight minutes.', label: 'Watch it' }),
    block('productCard', {
      name: 'Starter kit',
      price: '€ 24',
      label: 'See it',
      picture: 1,
      alt: 'a kit',
      target: { to: 'web', url: 'https://x.test/kit' },
    }),
    block('sessionCard', {
      title: 'Stitch-Along',
      at,
      label: 'Keep my place',
      target: { to: 'path', path: '/p/live' },
    }),
    block('countdown', { words: 'Ends in', until: at }),
  ]
  const here = { ...site, pages: new Map([[7, { title: 'Paper grain' }]]) } as unknown as Site

  it('lead where they should, and tell moments on the clock of the reader', async () => {
    const content = emptyEmail({ subject: 'x', document: document(section([{ blocks: cards }])) })
    const { html, text: plain } = await renderEmail(content, here)
    const inNewYork = { ...values, zone: 'America/New_York' }
    const shown = parseHtml(html ?? '')(inNewYork)
    for (const words of ['Paper grain', 'Eight minutes.', 'Starter kit', '€ 24', 'alt="a kit"'])
      expect(shown).toContain(words)
    expect([0, 1, 2].every((n) => shown.includes(`href="https://x.test/go/${n}"`))).toBe(true)
    // 17:00 UTC in July is 18:00 in Dublin and 13:00 in New York.
    expect(shown).toMatch(/Thursday 1 July at 13:00/)
    expect(parseHtml(html ?? '')(values)).toMatch(/Thursday 1 July at 18:00/)
    expect(shown).toContain(`src="https://x.test/countdown/${Date.parse(at)}.png"`)
    expect(parseText(plain)(inNewYork)).toMatch(/Ends in Thursday 1 July at 13:00/)
  })

  it('stand in the sheet of the editor, where their words can be written', async () => {
    const content = emptyEmail({ subject: 'x', document: document(section([{ blocks: cards }])) })
    const { body } = await drawEmail(content, here)
    for (const { id } of cards) expect(body).toContain(`id="b-${id}"`)
    expect(body).toContain('data-edit="price"')
  })
})
