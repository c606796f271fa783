import { parse } from 'csv-parse/sync'
import spectrum from 'csv-spectrum'
import { describe, expect, it } from 'vitest'
import { guessColumns, lineReader } from '../../../core/audience/imports/columns.ts'
import type { Field } from '../../../core/audience/describing/field.ts'
import { csvOptions, encodingWatch, readFormat } from './fileFormat.ts'

interface Case {
  name: string
  csv: Buffer
  json: Buffer
}

const cases = await new Promise<Case[]>((done, fail) =>
  spectrum((error: Error | null, found: Case[]) => (error ? fail(error) : done(found))),
)

describe('reading CSV', () => {
  // The npm package csv-spectrum: files with their meaning as JSON, made to test any reader of RFC 4180. One of them,
  // location_coordinates, has another phone number in its JSON than in its CSV, and is left out.
  it.each(
    cases.filter(({ name }) => name !== 'location_coordinates').map((each) => [each.name, each] as const),
  )('%s', (_name, { csv, json }) => {
    const wanted = JSON.parse(json.toString()) as Record<string, string>[]
    const { delimiter, columns, samples } = readFormat(csv, 'utf-8')
    expect(delimiter).toBe(',')
    const [head, ...rows] = parse(csv, { ...csvOptions, delimiter })
    expect(columns).toEqual(head)
    expect(rows.map((row) => Object.fromEntries(columns.map((name, i) => [name, row[i]])))).toEqual(wanted)
    expect(samples).toEqual(rows)
  })

  it.each([
    ['semicolons', 'a;b;c\n1,5;2;3\n', ';'],
    ['tabs', 'a\tb\n1\t2,3\n', '\t'],
    ['bars', 'a|b\n1|2\n', '|'],
    ['one column', 'email\na@b.test\n', ','],
  ])('tells %s', (_what, text, delimiter) => {
    expect(readFormat(Buffer.from(text), 'utf-8').delimiter).toBe(delimiter)
  })
})

describe('the encoding', () => {
  const of = (...chunks: Buffer[]): string => {
    const watch = encodingWatch()
    for (const chunk of chunks) watch.see(chunk)
    return watch.end()
  }
  it('is UTF-8 also when a letter is cut in two by the upload', () => {
    const bytes = Buffer.from('Zoë')
    expect(of(bytes.subarray(0, 3), bytes.subarray(3))).toBe('utf-8')
  })
  it('is Windows-1252 when the first letter that is no UTF-8 comes late, or the last one is cut off', () => {
    expect(of(Buffer.from('plain'), Buffer.from([0x5a, 0x6f, 0xeb, 0x0a]))).toBe('windows-1252')
    expect(of(Buffer.from('Zoë').subarray(0, 3))).toBe('windows-1252')
  })
})

describe('what columns hold', () => {
  const fields: Field[] = [{ id: 7, name: 'Favourite binding', kind: 'text', options: [] }]
  it('is told by their names, own fields first, and nothing twice', () => {
    const names = ['E-Mail', 'Vorname', 'last_name', 'favourite BINDING', 'Tags', 'mail', 'Shoe size']
    expect(guessColumns(names, [], fields).map((each) => ('field' in each ? each.field : each.kind))).toEqual(
      ['address', 'firstName', 'lastName', 7, 'tags', 'skip', 'skip'],
    )
  })
  it('is told by how they look where the name says nothing', () => {
    const samples = [
      ['x1', 'ada@b.test', '+353 1 234 5678', 'Europe/Dublin'],
      ['x2', 'bo@b.test', '', 'Asia/Kathmandu'],
    ]
    expect(
      guessColumns(['a', 'b', 'c', 'd'], samples, []).map((each) =>
        'field' in each ? each.field : each.kind,
      ),
    ).toEqual(['skip', 'address', 'phone', 'zone'])
  })
})

describe('a line', () => {
  const read = lineReader(
    [
      { kind: 'builtIn', field: 'address' },
      { kind: 'builtIn', field: 'country' },
    ],
    [],
    {
      phone: () => null,
      zone: () => true,
    },
  )
  it('says who is meant, or why nobody is', () => {
    expect(read([' Ada@B.test ', 'IE'])).toMatchObject({
      ok: true,
      person: { address: { key: 'ada@b.test' } },
    })
    expect(read(['ada@b.test', 'Paperland'])).toEqual({
      ok: false,
      reason: '“Paperland” is not a country; use its name or two-letter code, such as IE',
    })
    expect(read(['', 'IE'])).toEqual({ ok: false, reason: 'This line has no email address' })
    expect(read([])).toMatchObject({ ok: false })
  })
})

describe('a file that is no list of people', () => {
  it.each([
    ['one line of commas', ','.repeat(260_000)],
    ['two lines of commas', `${','.repeat(130_000)}\n${','.repeat(130_000)}`],
    ['semicolons', `${';'.repeat(130_000)}\n${';'.repeat(130_000)}`],
    ['names without end', `${'name,'.repeat(20_000)}\n${'x,'.repeat(20_000)}`],
  ])('(%s) is refused before anybody looks what its columns hold', (_what, text) => {
    expect(() => readFormat(Buffer.from(text), 'utf-8')).toThrow(
      /^(This file has \d+ columns|This file has no people)/,
    )
  })
})

describe('a line that says too much', () => {
  const read = lineReader(
    [{ kind: 'builtIn', field: 'address' }, { kind: 'builtIn', field: 'language' }, { kind: 'tags' }],
    [],
    { phone: () => null, zone: () => true },
  )
  it('is left out with the reason', () => {
    expect(read(['a@b.test', 'x'.repeat(21), ''])).toMatchObject({
      ok: false,
      reason: expect.stringContaining('is not a language') as string,
    })
    expect(read(['a@b.test', 'en', 'x'.repeat(81)])).toMatchObject({
      ok: false,
      reason: expect.stringContaining('too long') as string,
    })
    const many = Array.from({ length: 51 }, (_, i) => `tag ${i}`).join(',')
    expect(read(['a@b.test', 'en', many])).toMatchObject({
      ok: false,
      reason: expect.stringContaining('51 tags are too many') as string,
    })
    expect(read(['a@b.test', 'pt-BR', 'one,two'])).toMatchObject({ ok: true })
  })
})
