import { describe, expect, it } from 'vitest'
import { emailContent, linksOf, type EmailContent } from './content.ts'
import { mergeHtml, mergeLine, mergeText, type MergeValues } from './merge.ts'
import { plainText } from './plainText.ts'

const content: EmailContent = {
  subject: 'Hello {{ person.first_name | default: "there" }}',
  preheader: '',
  blocks: [
    { kind: 'heading', words: 'Here it is' },
    { kind: 'button', label: 'Download', target: { file: 3 } },
    { kind: 'button', label: 'Read on', target: { url: 'https://quillfeather.example/read' } },
  ],
}

const values = (firstName: string): MergeValues => ({
  person: { first_name: firstName, last_name: '', address: 'a@b.test' },
  business: { name: 'Quillfeather Bindery', postal_address: '4 Sizing Lane' },
  links: ['https://x.test/go/1', 'https://x.test/go/2'],
  unsubscribe_url: 'https://x.test/unsubscribe/1',
  preferences_url: 'https://x.test/preferences/1',
  open_url: 'https://x.test/seen/1',
})

it('numbers the links of a letter in reading order', () => {
  expect(linksOf(content).map(({ position, label }) => [position, label])).toEqual([
    [0, 'Download'],
    [1, 'Read on'],
  ])
})

it('lets buttons lead only to the web, to files, or to this install', () => {
  const to = (target: unknown): boolean =>
    emailContent.safeParse({ ...content, blocks: [{ kind: 'button', label: 'x', target }] }).success
  expect(to({ url: 'javascript:alert(1)' })).toBe(false)
  expect(to({ url: 'ftp://files.test/x' })).toBe(false)
  expect(to({ path: '//elsewhere.test' })).toBe(false)
  expect(to({ path: '/p/template-pack' })).toBe(true)
})

describe('merging', () => {
  it('fills names, or what stands in for one', () => {
    expect(mergeLine(content.subject, values('Orla'))).toBe('Hello Orla')
    expect(mergeLine(content.subject, values(''))).toBe('Hello there')
  })

  it('escapes values in HTML and leaves them alone in text', () => {
    expect(mergeHtml('<b>{{ person.first_name }}</b>', values('<i>&'))).toBe('<b>&lt;i&gt;&amp;</b>')
    expect(mergeText('{{ person.first_name }}', values('<i>&'))).toBe('<i>&')
  })

  it('lets no value begin another header (RFC 5322 §2.2: a header ends at its line break)', () => {
    expect(mergeLine('{{ person.first_name }}', values('Orla\r\nBcc: all@x.test'))).toBe(
      'Orla Bcc: all@x.test',
    )
  })

  it('refuses a template that cannot be read, and one that works too hard', () => {
    expect(() => mergeText('{{ person.first_name', values('x'))).toThrow()
    expect(() => mergeText('{{ person.first_name | no_such_filter }}', values('x'))).toThrow()
    expect(() => mergeText('{% for i in (1..100000000) %}x{% endfor %}', values('x'))).toThrow()
  })

  it('reaches nothing but the values it was given', () => {
    expect(mergeText('{{ person.constructor }}{{ constructor }}', values('x'))).toBe('')
  })
})

it('says in plain text what the letter says, with every link and a way out', () => {
  const text = mergeText(plainText(content), values('Orla'))
  expect(text).toContain('Here it is')
  expect(text).toContain('Download:\nhttps://x.test/go/1')
  expect(text).toContain('Read on:\nhttps://x.test/go/2')
  expect(text).toContain('Unsubscribe: https://x.test/unsubscribe/1')
})
