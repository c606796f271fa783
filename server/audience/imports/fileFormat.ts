import { parse as parseNow } from 'csv-parse/sync'
import type { Encoding, FileFormat } from '../../../contract/audience/imports.ts'
import { Problem } from '../../http/problems.ts'

/** As much of a file's beginning as is looked at to tell how it is to be read. */
export const headSize = 256 * 1024
const samples = 20

/** More columns than any list of people has: a file that is taken for one by mistake. */
const mostColumns = 200
const delimiters = [',', ';', '\t', '|'] as const

/** Beginnings by which files that are no CSV are known. */
const otherFiles: readonly [string, string][] = [
  ['504b0304', 'a spreadsheet or an archive'],
  ['d0cf11e0', 'an old spreadsheet'],
  ['25504446', 'a PDF'],
  ['89504e47', 'a picture'],
  ['ffd8ff', 'a picture'],
  ['1f8b', 'a compressed file'],
]

const notCsv = (what: string): Problem =>
  new Problem(
    422,
    `This is ${what}, not a CSV file`,
    'Nothing was stored. Save or export it as CSV in the program it comes from, and choose that file.',
  )

/** Tells the encoding by the mark at the beginning, else by where the zeros of Latin letters lie; null is yet to be seen. */
function encodingByHead(head: Buffer): Exclude<Encoding, 'windows-1252'> | null {
  if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le'
  if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be'
  if (head[0] === 0xef && head[1] === 0xbb && head[2] === 0xbf) return 'utf-8'
  const zeros = [0, 0]
  for (const [i, byte] of head.subarray(0, 4096).entries())
    if (byte === 0) zeros[i % 2] = (zeros[i % 2] ?? 0) + 1
  const [even = 0, odd = 0] = zeros
  const length = Math.min(head.length, 4096)
  if (odd > length * 0.3 && even < length * 0.05) return 'utf-16le'
  if (even > length * 0.3 && odd < length * 0.05) return 'utf-16be'
  return null
}

/**
 * Watches a file go by and tells its encoding: what is not UTF-8 anywhere is Windows-1252, which every byte fits.
 * @throws Problem 422 when it is no text at all
 */
export function encodingWatch(): { see(chunk: Buffer): void; end(): Encoding } {
  let head: Buffer | null = null
  let byHead: Encoding | null = null
  let decoder: TextDecoder | null = new TextDecoder('utf-8', { fatal: true })
  const decode = (chunk: Buffer | undefined): void => {
    try {
      decoder?.decode(chunk, { stream: chunk !== undefined })
    } catch {
      decoder = null
    }
  }
  return {
    see(chunk) {
      if (!head) {
        head = chunk
        const begin = chunk.subarray(0, 8).toString('hex')
        const other = otherFiles.find(([mark]) => begin.startsWith(mark))
        if (other) throw notCsv(other[1])
        byHead = encodingByHead(chunk)
      }
      if (byHead === 'utf-16le' || byHead === 'utf-16be') return
      if (chunk.includes(0)) throw notCsv('a file of another kind')
      if (decoder) decode(chunk)
    },
    end() {
      if (byHead === 'utf-16le' || byHead === 'utf-16be') return byHead
      decode(undefined)
      return decoder ? 'utf-8' : 'windows-1252'
    },
  }
}

/** Settings by which every part of the import reads CSV: forgiving in form, strict in size. */
export const csvOptions = {
  bom: true,
  relax_column_count: true,
  relax_quotes: true,
  skip_empty_lines: true,
  // A missing quote would make the rest of the file one cell.
  max_record_size: 1_000_000,
} as const

/** The delimiter that parts the lines most evenly into the most columns. */
function delimiterOf(text: string): string {
  const fitness = (delimiter: string): number => {
    try {
      const rows: string[][] = parseNow(text, { ...csvOptions, delimiter, to: 50 })
      const widths = rows.map((row) => row.length)
      const first = widths[0] ?? 1
      if (first < 2) return 0
      return (widths.filter((width) => width === first).length / widths.length) * 100 + Math.min(first, 50)
    } catch {
      return 0
    }
  }
  const best = [...delimiters]
    .map((delimiter) => ({ delimiter, fit: fitness(delimiter) }))
    .sort((a, b) => b.fit - a.fit)[0]
  return best && best.fit > 0 ? best.delimiter : ','
}

/**
 * How a file is to be read, from its beginning.
 * @throws Problem 422 when nothing of use is in it
 */
export function readFormat(head: Buffer, encoding: Encoding): FileFormat {
  const text = new TextDecoder(encoding).decode(head, { stream: true })
  // The last line may be cut off in the middle.
  const whole = head.length < headSize ? text : text.slice(0, text.lastIndexOf('\n') + 1) || text
  const delimiter = delimiterOf(whole)
  let rows: string[][]
  try {
    rows = parseNow(whole, { ...csvOptions, delimiter, to: samples + 1 })
  } catch (error) {
    throw new Problem(
      422,
      'This file cannot be read as CSV',
      `${describeCsvFault(error)} Nothing was stored.`,
    )
  }
  const [columns, ...rest] = rows
  if (!columns || rest.length === 0)
    throw new Problem(
      422,
      'This file has no people',
      'It needs a first line with column names, and one line per person below it.',
    )
  if (columns.length > mostColumns)
    throw new Problem(
      422,
      `This file has ${columns.length} columns`,
      `Nothing was stored. The maximum is ${mostColumns}: remove the columns you do not need, and check that the file is a list of people.`,
    )
  return { encoding, delimiter, columns, samples: rest.map((row) => row.map((cell) => cell.slice(0, 200))) }
}

/** What the CSV reader found, in words that help. */
export function describeCsvFault(error: unknown): string {
  const { code, lines } = error as { code?: string; lines?: number }
  const where = lines === undefined ? '' : ` near line ${lines}`
  if (code === 'CSV_MAX_RECORD_SIZE')
    return `A line${where} is longer than a million characters: probably a closing quotation mark (") is missing.`
  if (code === 'CSV_QUOTE_NOT_CLOSED') return `A quotation mark (")${where} is never closed.`
  return `Something${where} is not valid CSV (RFC 4180).`
}
