import { describe, expect, it } from 'vitest'
import type { Block } from '../blocks/block.ts'
import { composer } from '../blocks/compose.ts'
import { numberedIds } from '../../testing/documents.ts'
import { emailContent, emailLinks, emptyEmail, type EmailContent } from './email.ts'
import { findingsOfEmail, shouts } from './emailFindings.ts'
import { wordsHtml, wordsText } from './emailTemplate.ts'
import { parseHtml, parseLine, parseText, templateFields, type MergeValues } from './merge.ts'
import { plainText } from './plainText.ts'

const { block, text, rich, section, document } = composer(numberedIds('email'))
const around = {
  livePages: new Set<number>(),
  pageNames: {},
  liveForms: new Set<number>(),
  livePopUps: new Set<number>(),
  namedLinks: new Set<number>(),
  liveJunctions: new Set<number>(),
  liveQuizzes: new Set<number>(),
  products: new Map<number, ReadonlySet<string>>(),
  videoHosts: [],
  fields: [],
  tags: new Set([1]),
  topics: new Set([2]),
  followups: new Set<number>(),
  mergeNames: new Set(['first name', 'last name', 'email address', 'open day']),
  moments: new Map([['open day', Date.parse('2026-11-20T10:00:00Z')]]),
  pictureDetails: new Set<number>(),
  faint: [],
  htmlBytes: 20_000,
  senders: new Map([
    [1, true],
    [2, false],
  ]),
  now: Date.parse('2026-11-24T10:00:00Z'),
}

const write = (given: Partial<EmailContent>, ...blocks: Block[]): EmailContent =>
  emptyEmail({
    subject: 'Your templates',
    preheader: 'Three sizes.',
    document: document(section([{ blocks }])),
    ...given,
  })

const values = (firstName: string): MergeValues => ({
  person: { first_name: firstName, last_name: '', address: 'a@b.test' },
  business: { name: 'Quillfeather Bindery', postal_address: '4 Sizing Lane', zone: 'Europe/Dublin' },
  ...templateFields(
    {
      own: [
        { id: 1, name: 'Binding', kind: 'text', options: [], formerNames: [] },
        { id: 2, name: 'Shelf', kind: 'number', options: [], formerNames: [] },
        { id: 3, name: 'Begun', kind: 'date', options: [], formerNames: [] },
        { id: 4, name: 'Empty', kind: 'text', options: [], formerNames: [] },
      ],
      junctions: [],
      deadlines: [],
      zone: 'Europe/Dublin',
      details: [
        {
          id: 1,
          name: 'open day',
          formerNames: [],
          kind: 'moment',
          at: Date.parse('2026-07-01T18:30:00Z'),
          zone: 'Europe/Dublin',
        },
      ],
    },
    { builtIn: { zone: 'America/New_York' }, own: { 1: 'Coptic', 2: 1234.5, 3: '2026-02-03' } },
  ),
  base_url: 'https://x.test',
  links: ['https://x.test/go/1', 'https://x.test/go/2', 'https://x.test/go/3'],
  shows: [true, false],
  unsubscribe_url: 'https://x.test/unsubscribe/1',
  preferences_url: 'https://x.test/preferences/1',
  open_url: 'https://x.test/seen/1',
})

const numbersOf = (content: EmailContent) => {
  const links = emailLinks(content)
  return (of: string, part: string): number | null => {
    const n = links.findIndex((link) => link.block === of && link.part === part)
    return n < 0 ? null : n
  }
}
const textOf = (content: EmailContent, firstName = 'Orla'): string =>
  parseText(plainText(content, numbersOf(content), emailLinks(content).length))(values(firstName))

describe('merging', () => {
  it('fills names, or what stands in for one', () => {
    const subject = wordsText("Hello {first name or 'there'}")
    expect(parseLine(subject)(values('Orla'))).toBe('Hello Orla')
    expect(parseLine(subject)(values(''))).toBe('Hello there')
  })

  it('escapes values in HTML and leaves them alone in text', () => {
    expect(parseHtml(wordsHtml('{first name}').markup)(values('<i>&'))).toBe('&lt;i&gt;&amp;')
    expect(parseText(wordsText('{first name}'))(values('<i>&'))).toBe('<i>&')
  })

  it('takes what somebody types for words, whatever a template would make of it', () => {
    const typed = 'Use {{ person.address }} and {% if x %} at 5 % {so}'
    expect(parseText(wordsText(typed))(values('x'))).toBe(typed)
    const shown = parseHtml(wordsHtml(typed).markup)(values('x'))
    expect(shown.replaceAll('&#123;', '{').replaceAll('&#125;', '}')).toBe(typed)
  })

  it('says own fields and shared details as they are asked for, on the clock of the reader', () => {
    const said = (words: string): string => parseText(wordsText(words))(values('orla byrne'))
    expect(said('{Binding}, {shelf}, {shelf as whole number}')).toBe('Coptic, 1,234.5, 1,235')
    expect(said('{begun}, {begun as weekday}')).toBe('3 February 2026, Tuesday 3 February')
    // 18:30 UTC is 14:30 in New York in July (America/New_York, UTC−4 in summer).
    expect(said('{open day as time} on {open day as weekday}')).toContain('14:30')
    expect(said("{empty or 'none yet'}{empty}")).toBe('none yet')
    expect(said('{first name as name}')).toBe('Orla Byrne')
    expect(parseHtml(wordsHtml('<{no such}>').markup)(values('x'))).toContain('no such')
  })

  it('lets no value begin another header (RFC 5322 §2.2: a header ends at its line break)', () => {
    expect(parseLine(wordsText('{first name}'))(values('Orla\r\nBcc: all@x.test'))).toBe(
      'Orla Bcc: all@x.test',
    )
  })

  it('refuses a template that cannot be read, and one that works too hard', () => {
    expect(() => parseText('{{ person.first_name')(values('x'))).toThrow()
    expect(() => parseText('{{ person.first_name | no_such_filter }}')(values('x'))).toThrow()
    expect(() => parseText('{% for i in (1..100000000) %}x{% endfor %}')(values('x'))).toThrow()
  })

  it('reaches nothing but the values it was given', () => {
    expect(parseText('{{ person.constructor }}{{ constructor }}')(values('x'))).toBe('')
  })
})

describe('the text part', () => {
  it('says what the blocks say, with every link written out and a way out', () => {
    const target = { to: 'web', url: 'https://quillfeather.example/' } as const
    const content = write(
      { why: 'You asked for it.' },
      block('heading', { words: 'Here it is' }),
      rich([
        {
          type: 'paragraph',
          content: [
            { type: 'text', text: 'See ' },
            {
              type: 'text',
              text: 'the bench',
              marks: [{ type: 'link', attrs: { id: 'benchlink', target } }],
            },
            {
              type: 'text',
              text: ' by night',
              marks: [{ type: 'bold' }, { type: 'link', attrs: { id: 'benchlink', target } }],
            },
            { type: 'text', text: '.' },
          ],
        },
      ]),
      block('list', { marker: 'numbers', items: ['Fold', 'Sew'] }),
      block('button', { label: 'Download', target: { to: 'file', file: 3 } }),
    )
    const said = textOf(content)
    expect(said).toContain('Here it is\n----------')
    expect(said).toContain('See the bench by night (https://x.test/go/1).')
    expect(said).toContain('1. Fold\n2. Sew')
    expect(said).toContain('Download:\nhttps://x.test/go/2')
    expect(said).toContain('You asked for it.\nQuillfeather Bindery\n4 Sizing Lane')
    expect(said).toContain('Unsubscribe: https://x.test/unsubscribe/1')
  })

  it('is what somebody wrote in its place, with the links that they name', () => {
    const content = write(
      { text: "Hello {first name or 'you'}: {link 1}, not {link 9}" },
      block('button', { label: 'Go', target: { to: 'file', file: 3 } }),
    )
    expect(textOf(content)).toContain('Hello Orla: https://x.test/go/1, not {link 9}\n\n--')
  })

  it('has the same distance between all its parts, however somebody spaces them', () => {
    const spaced = write({}, text('One', '', '', 'Two'), block('spacer'), text('Three'))
    expect(textOf(spaced).split('\n\n--')[0]).toBe('One\n\nTwo\n\nThree')
  })
})

describe('the checks of an email', () => {
  const said = (content: EmailContent, level?: 'error' | 'advice'): string[] =>
    findingsOfEmail(content, around)
      .filter((each) => level === undefined || each.level === level)
      .map(({ words }) => words)

  it('say what is hard to read, and what mailboxes would cut off', () => {
    const faint = block('ownHtml', { markup: '<p style="color:#777777;background:#eeeeee">x</p>' })
    const found = findingsOfEmail(write({}, faint), {
      ...around,
      faint: ['Text on tint (3.9)'],
      htmlBytes: 120_000,
    }).map(({ words }) => words)
    expect(found).toContain('Text on tint (3.9) is hard to read: choose other colours under Brand')
    expect(found).toContain(
      'Its HTML has 120 kB: some mailboxes cut off what is over 102 kB (common practice)',
    )
    // 3.87 by the formula of WCAG 2.2.
    expect(found).toContain('Text in #777777 on #eeeeee (contrast 3.9, 4.5 is needed) is hard to read')
  })

  it('find nothing in one that says something and leads somewhere', () => {
    const good = write(
      {},
      text('It is on its way.'),
      block('button', { label: 'Download the templates', target: { to: 'file', file: 3 } }),
    )
    expect(said(good)).toEqual([])
  })

  it.each([
    [{ subject: '' }, 'Write a subject'],
    [{ subject: 'x'.repeat(61) }, 'The subject has 61 letters: most lists show about 60'],
    [{ subject: 'LAST CHANCE TO SEW' }, 'The subject shouts: write it in small letters'],
    [{ subject: 'Now!!' }, 'One mark at the end of the subject is enough'],
    [{ preheader: '' }, 'Write a preheader: otherwise mailboxes show the first words of the email'],
    [{ sender: 2 }, 'The sender has not confirmed the address yet: open the link that was sent there'],
    [{ sender: 3 }, 'The sender was deleted: choose another one'],
    [
      { subject: 'Hello {firstname}' },
      '{firstname} is no merge field: write it as “Insert merge field” does',
    ],
    [{ text: ' ' }, 'The text part is empty: write it, or let it be made of the blocks'],
  ])('say of %j what is wrong', (given, words) => {
    const content = write(
      given,
      text('Words'),
      block('button', { label: 'Go on', target: { to: 'file', file: 3 } }),
    )
    expect(said(content)).toContain(words)
  })

  it.each([
    [block('button', { label: 'Click here', target: { to: 'file', file: 3 } }), '“Click here” says nothing'],
    [block('button', { label: 'Go' }), 'Choose where the button leads'],
    [block('picture'), 'Choose a picture'],
    [block('form', { form: 1 }), 'An email cannot have this: form'],
    [block('button', { label: 'Open', target: { to: 'popUp', popUp: 1 } }), 'opens on pages only'],
    [block('heading', { words: 'BUY THE BOOK' }), 'This heading shouts'],
    [block('heading', { words: 'Dear {surname}' }), '{surname} is no merge field'],
  ])('name the part that is wrong (%#)', (part, words) => {
    const found = findingsOfEmail(write({}, text('Words'), part), around)
    expect(found.find((each) => each.words.includes(words))?.part).toBe(part.id)
  })

  it('refuse one that says nothing, and advise against pictures alone', () => {
    expect(said(write({}), 'error')).toContain('Nothing is written yet')
    const picture = block('picture', { picture: 1, alt: 'a needle' })
    expect(said(write({}, picture)).join()).toContain('Only pictures')
  })

  it('know shouting from a name (common practice)', () => {
    expect(shouts('NEW: the A5 kit')).toBe(false)
    expect(shouts('{first name}, IT IS HERE')).toBe(true)
  })
})

it('takes no subject of ten thousand letters, and no address that is none', () => {
  expect(emailContent.safeParse({ ...write({}), subject: 'x'.repeat(10_000) }).success).toBe(false)
  expect(emailContent.safeParse({ ...write({}), replyTo: 'a\r\nBcc: b@c.test' }).success).toBe(false)
  expect(emailContent.safeParse({ ...write({}), replyTo: 'mara@quillfeather.example' }).success).toBe(true)
})
