import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fieldsIn, mergeFormat, mergeParts, writtenField } from './mergeText.ts'
import { formatMerged, mergeWords, readerValues, sharedNames, type MergeFields } from './mergeValues.ts'

const fields: MergeFields = {
  own: [
    { id: 1, name: "Child's name", kind: 'text', options: [], formerNames: ['Kid'] },
    { id: 2, name: 'Shelves', kind: 'number', options: [], formerNames: [] },
    {
      id: 3,
      name: 'Binding',
      kind: 'oneOf',
      options: [{ id: 'long', label: 'Long-stitch' }],
      formerNames: [],
    },
  ],
  junctions: [],
  deadlines: [],
  zone: 'Europe/Dublin',
  details: [
    { id: 1, name: 'guest', formerNames: ['speaker'], kind: 'text', text: 'Ines Vidal' },
    {
      id: 2,
      name: 'workshop',
      formerNames: [],
      kind: 'moment',
      at: Date.parse('2026-10-25T00:30:00Z'),
      zone: 'Europe/Dublin',
    },
    { id: 3, name: 'poster', formerNames: [], kind: 'picture', picture: 7, alt: 'A poster' },
  ],
}
const orla = readerValues(fields, {
  builtIn: { firstName: 'Orla', lastName: ' ', address: 'orla@postbox.test', zone: 'Asia/Kolkata' },
  own: { 1: 'Finn', 2: 1200, 3: 'long' },
})
const stranger = readerValues(fields, null)

describe('merge fields in a text', () => {
  it('are found with their formats and fall-backs; other braces are text', () => {
    expect(mergeParts("Thank you, {first name as name or 'dear reader'}!")).toEqual([
      { text: 'Thank you, ' },
      {
        field: { name: 'first name', format: 'name', fallback: 'dear reader' },
        written: "{first name as name or 'dear reader'}",
      },
      { text: '!' },
    ])
    expect(mergeWords('{First  Name or "you"} { }', stranger)).toBe('you { }')
    expect(mergeWords('{first name}{last name}', orla)).toBe('Orla')
  })

  it('say what is known, by the names of today and those of before', () => {
    expect(mergeWords('{child’s name}, {Kid}, {shelves}, {binding}', orla)).toBe(
      'Finn, Finn, 1,200, Long-stitch',
    )
    expect(mergeWords("{Kid or 'your child'}", stranger)).toBe('your child')
    expect(mergeWords('{guest} {speaker}', stranger)).toBe('Ines Vidal Ines Vidal')
  })

  it('that name nothing, or a picture, stay as they were written', () => {
    expect(mergeWords('{shoe size or "big"} {poster}', orla)).toBe('{shoe size or "big"} {poster}')
  })

  it('are read as they are written, whatever they say', () => {
    const name = fc
      .stringMatching(/^[A-Za-zäß][A-Za-zäß0-9 -]{0,30}[a-z0-9]$/)
      .filter((each) => !/\b(as|or)\b/i.test(each))
    const fallback = fc.stringMatching(/^[^{}'"\\s]{0,20}$/)
    fc.assert(
      fc.property(
        name,
        fc.option(fc.constantFrom(...mergeFormat.options)),
        fallback,
        (named, format, said) => {
          const field = { name: named, format, fallback: said }
          expect(fieldsIn(`Hello ${writtenField(field)}.`)).toEqual([field])
        },
      ),
    )
  })

  it('of those that all read alike are the details but moments', () => {
    expect([...sharedNames(fields)]).toEqual(['guest', 'speaker'])
  })
})

describe('a moment', () => {
  const at = fields.details[1]!
  const moment = at.kind === 'moment' ? { moment: at.at, zone: at.zone } : ''

  // The clocks of the European Union go back on 25 October 2026 at 01:00 UTC (Directive 2000/84/EC); India has UTC+5:30.
  it('is told on the clock of the reader, or where it is meant when nobody knows theirs', () => {
    expect(formatMerged(moment, 'time', null)).toMatch(/^01:30 (GMT\+1|IST)$/)
    expect(formatMerged(moment, 'time', 'Asia/Kolkata')).toMatch(/^06:00/)
    expect(mergeWords('{workshop as date}', stranger)).toBe('25 October 2026')
    expect(mergeWords('{workshop as weekday}', orla)).toBe('Sunday 25 October')
    expect(formatMerged(moment, null, 'America/New_York')).toContain('Saturday 24 October')
  })
})
