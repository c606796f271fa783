import { describe, expect, it } from 'vitest'
import { readFieldValue, formatFieldValue, typedFieldValue, type Field, type FieldValue } from './field.ts'

const field = (kind: Field['kind']): Field => ({
  id: 1,
  name: 'Binding',
  kind,
  options: [
    { id: 'coptic', label: 'Coptic' },
    { id: 'long', label: 'Long-stitch' },
  ],
})

describe('a value of an own field', () => {
  it.each([
    ['text', '  two words ', 'two words'],
    ['number', '1,5', 1.5],
    ['number', '1,234,567', 1_234_567],
    ['number', '1 234.5', 1234.5],
    ['number', '-3', -3],
    ['date', '2026-11-24', '2026-11-24'],
    ['date', '24.11.2026', '2026-11-24'],
    ['date', '2026/2/3', '2026-02-03'],
    ['date', '2026-11-24T10:00:00Z', '2026-11-24'],
    ['yesNo', 'Yes', true],
    ['yesNo', '0', false],
    ['oneOf', 'coptic', 'coptic'],
    ['oneOf', 'LONG-STITCH', 'long'],
    ['manyOf', 'Coptic; Long-stitch, coptic', ['coptic', 'long']],
    ['number', '   ', null],
  ] as const)('%s: %j is read as %j', (kind, typed, value) => {
    expect(readFieldValue(field(kind), typed)).toEqual({ ok: true, value })
  })

  it.each([
    ['number', 'twelve', '“twelve” is not a number'],
    ['number', '1.2.3', 'is not a number'],
    ['date', '03/04/2026', 'is not a date such as 2026-11-24'],
    ['date', '2026-02-30', 'is not a date'],
    ['yesNo', 'perhaps', 'neither yes nor no'],
    ['oneOf', 'Kettle', 'is not one of Coptic, Long-stitch'],
    ['manyOf', 'Coptic, Kettle', '“Kettle” is not one of'],
    ['text', 'x'.repeat(1001), 'at most 1,000 characters'],
  ] as const)('%s: %j is refused in words that help', (kind, typed, words) => {
    const reading = readFieldValue(field(kind), typed)
    expect(reading.ok ? '' : reading.reason).toContain(words)
  })

  it('has choices whose words hold a comma, as exports write them', () => {
    const sizes: Field = {
      ...field('manyOf'),
      options: [
        { id: 'small', label: 'Small, square' },
        { id: 'tall', label: 'Tall' },
      ],
    }
    expect(readFieldValue(sizes, 'Small, square; Tall')).toEqual({ ok: true, value: ['small', 'tall'] })
    expect(readFieldValue(sizes, 'tall, small')).toEqual({ ok: true, value: ['tall', 'small'] })
  })

  it.each<[Field['kind'], FieldValue]>([
    ['manyOf', ['coptic', 'long']],
    ['oneOf', 'long'],
    ['yesNo', false],
    ['number', -3.5],
    ['date', '2026-11-24'],
    ['text', 'a; b, c'],
  ])('%s: what is shown to be changed is read as the same again', (kind, value) => {
    const own = {
      ...field(kind),
      options: field(kind).options.map((each) => ({ ...each, label: `${each.label}, or so` })),
    }
    expect(readFieldValue(own, typedFieldValue(own, value))).toEqual({ ok: true, value })
  })

  it('is shown in the words of today, also when a choice has lost its words', () => {
    expect(formatFieldValue(field('manyOf'), ['long', 'gone'])).toBe('Long-stitch; gone')
    expect(formatFieldValue(field('yesNo'), false)).toBe('no')
    expect(formatFieldValue(field('text'), null)).toBe('')
  })
})
