import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fieldKey, mergeParts } from '../blocks/mergeText.ts'
import { fieldHtml, fieldText, namesFields, templateName, wordsHtml, wordsText } from './emailTemplate.ts'
import { parseHtml, parseText, templateFields, type MergeValues } from './merge.ts'

const valuesOf = (fields: MergeValues['fields']): MergeValues => ({
  person: { first_name: '', last_name: '', address: '' },
  business: { name: '', postal_address: '', zone: 'UTC' },
  fields,
  zone: null,
  base_url: '',
  links: [],
  shows: [],
  unsubscribe_url: '',
  preferences_url: '',
  open_url: '',
})
const decoded = (html: string): string =>
  html
    .replace(/&#(\d+);/g, (_, code: string) => String.fromCodePoint(Number(code)))
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&amp;', '&')

describe('a template', () => {
  it('says what somebody typed, letter for letter, whatever a reader of templates would make of it', () => {
    const piece = fc.constantFrom(
      '{',
      '}',
      '{{',
      '}}',
      '{%',
      '%}',
      '{#',
      '|',
      '"',
      "'",
      '\\',
      '&',
      '<b>',
      ' ',
      'é',
      '本',
      'raw',
    )
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 14 }), (pieces) => {
        const typed = pieces.join('')
        expect(parseText(wordsText(typed))(valuesOf({}))).toBe(typed)
        expect(decoded(parseHtml(wordsHtml(typed).markup)(valuesOf({})))).toBe(typed)
      }),
      { numRuns: 500 },
    )
  })

  it('finds a field by its name, whatever letters that has, in both parts alike', () => {
    const name = fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 20 })
      .filter((each) => /^[^{}]+$/.test(each) && fieldKey(each) !== '' && !/\b(as|or)\b|\s$|^\s/i.test(each))
      // Everybody has these, from elsewhere.
      .filter((each) => !['first name', 'last name', 'email address'].includes(fieldKey(each)))
    fc.assert(
      fc.property(name, fc.string({ minLength: 1, maxLength: 20 }), (named, said) => {
        const text = `{${named}}`
        fc.pre('field' in (mergeParts(text)[0] ?? {}) && said.trim() !== '')
        const values = valuesOf({ [templateName(fieldKey(named))]: said })
        expect(parseText(`x${wordsText(text)}x`)(values)).toBe(`x${said}x`.replace(/\n{3,}/g, '\n\n'))
        expect(decoded(parseHtml(wordsHtml(text).markup)(values))).toBe(said)
      }),
    )
  })

  it('names no two fields by the same word, and every word can stand in an attribute', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 12 }), fc.string({ maxLength: 12 }), (a, b) => {
        expect(templateName(a)).toMatch(/^f_[a-z0-9_]*$/)
        if (a !== b) expect(templateName(a)).not.toBe(templateName(b))
      }),
    )
  })

  it('says what stands in for a value that there is none of', () => {
    const field = { name: 'guest', format: null, fallback: '<nobody> & {co}' }
    const none = valuesOf({ f_guest: false })
    expect(parseText(fieldText(field, '{guest}'))(none)).toBe('<nobody> & {co}')
    expect(parseHtml(fieldHtml(field, '{guest}').markup)(none)).toBe('&lt;nobody&gt; &amp; &#123;co&#125;')
  })

  it('tells whether it names more than what everybody has', () => {
    expect(namesFields(wordsText('Hello {first name or "you"}, {last name}'))).toBe(false)
    expect(namesFields(wordsText('Hello {guest}'))).toBe(true)
    expect(namesFields(wordsHtml('Hello {guest as name}').markup)).toBe(true)
  })

  it('has a zone to tell moments by, though it names no field', () => {
    const person = { builtIn: { zone: 'Asia/Kolkata' }, own: {} }
    expect(
      templateFields({ own: [], details: [], junctions: [], deadlines: [], zone: 'Europe/Dublin' }, person)
        .zone,
    ).toBe('Asia/Kolkata')
  })
})
