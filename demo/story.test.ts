import { parse } from 'csv-parse/sync'
import { describe, expect, it } from 'vitest'
import { program } from '../core/followups/program.ts'
import { emailContent } from '../core/email/content.ts'
import { chanceFrom } from '../core/chance.ts'
import { domains, firstNames, lastNames, places } from './cast.ts'
import { crowdFields, crowdFile } from './crowd.ts'
import { templatePackLetters } from './letters.ts'
import { arrivalTimes } from './lives.ts'
import { paperGrainProgram } from './story.ts'

const now = Date.parse('2026-11-24T10:00:00Z')
const text = (pieces: Iterable<string>): string => [...pieces].join('')

describe('the cast', () => {
  it('lives at addresses that can belong to nobody (RFC 2606: .test and .example are reserved)', () => {
    for (const [domain] of domains) expect(domain).toMatch(/\.(test|example)$/)
  })

  it('has no name twice, and zones that exist', () => {
    for (const names of [firstNames, lastNames]) expect(new Set(names).size).toBe(names.length)
    for (const [{ zone, country }] of places) {
      expect(() => new Intl.DateTimeFormat('en', { timeZone: zone })).not.toThrow()
      expect(country).toMatch(/^[A-Z]{2}$/)
    }
  })
})

describe('arrivals', () => {
  const times = arrivalTimes(chanceFrom(20261124), 2400, now, 'Europe/Dublin')

  it('fill 14 months up to now, in order, and are the same every time', () => {
    expect(times).toHaveLength(2400)
    expect(times).toEqual([...times].sort((a, b) => a - b))
    expect(Math.max(...times)).toBeLessThanOrEqual(now)
    expect(now - Math.min(...times)).toBeLessThanOrEqual(425 * 86_400_000)
    expect(arrivalTimes(chanceFrom(20261124), 2400, now, 'Europe/Dublin')).toEqual(times)
  })

  it('grow from month to month, and are fewest at night', () => {
    const half = now - 212 * 86_400_000
    const early = times.filter((at) => at < half).length
    expect(times.length - early).toBeGreaterThan(2 * early)
    const hourOf = (at: number) =>
      Number(
        new Intl.DateTimeFormat('en-GB', { hour: '2-digit', timeZone: 'Europe/Dublin' })
          .format(at)
          .slice(0, 2),
      )
    const night = times.filter((at) => hourOf(at) < 7).length
    const evening = times.filter((at) => hourOf(at) >= 17).length
    expect(evening).toBeGreaterThan(5 * night)
  })
})

describe('a crowd as a file', () => {
  it('is CSV that an independent reader takes, as many as wanted, each address once', () => {
    const rows = parse<Record<string, string>>(text(crowdFile(500)), {
      columns: true,
      record_delimiter: '\r\n',
    })
    expect(rows).toHaveLength(500)
    expect(new Set(rows.map(({ Email }) => Email?.toLowerCase())).size).toBe(500)
    for (const [name] of crowdFields) expect(rows[0]).toHaveProperty([name])
  })

  it('shares people with another one where their numbers meet, and repeats itself', () => {
    const first = text(crowdFile(10)).split('\r\n').slice(1, 11)
    expect(text(crowdFile(10)).split('\r\n').slice(1, 11)).toEqual(first)
    const second = text(crowdFile(10, 5)).split('\r\n').slice(1, 11)
    expect(second[0]?.split('@')[0]).toMatch(/\.5$/)
  })
})

it('tells its story with letters that the product takes', () => {
  const letters = Object.values(templatePackLetters(1))
  expect(letters.length).toBeGreaterThan(2)
  for (const each of letters) expect(emailContent.safeParse(each.content).error, each.name).toBeUndefined()
})

it('tells its story with follow-ups that the product takes', () => {
  const paperGrain = paperGrainProgram(1, 2)
  expect(program.safeParse(paperGrain).error).toBeUndefined()
})
