import { Temporal } from '@js-temporal/polyfill'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { clockTime, countOf, dayOf, isoDayOf, peopleOf, untilOf, whenOf } from './wording.ts'

const at = '2026-11-24T09:05:00Z'

describe('a time', () => {
  it('is told on the wall clock of the business', () => {
    expect(clockTime(at, 'Europe/Dublin')).toBe('09:05')
    // Kathmandu is at UTC+05:45 (IANA time zone database).
    expect(clockTime(at, 'Asia/Kathmandu')).toBe('14:50')
  })

  it('of today needs no day, of this year no year', () => {
    expect(whenOf(at, 'Europe/Dublin', '2026-11-24T23:00:00Z')).toBe('09:05')
    expect(whenOf(at, 'Europe/Dublin', '2026-11-25T00:00:00Z')).toBe('Tue 24 Nov 09:05')
    expect(whenOf(at, 'Europe/Dublin', '2027-01-01T00:00:00Z')).toBe('24 Nov 2026 09:05')
  })

  it('is of today by the calendar of the zone, not of UTC', () => {
    // 23:30 in New York on the 24th is 04:30 UTC on the 25th.
    const late = '2026-11-25T04:30:00Z'
    expect(whenOf(late, 'America/New_York', at)).toBe('23:30')
    expect(dayOf(late, 'America/New_York')).toBe('24 Nov 2026')
    expect(dayOf(late, 'Europe/Dublin')).toBe('25 Nov 2026')
  })

  it('as a date input wants it agrees with Temporal in any zone', () => {
    const zone = fc.constantFrom('Europe/Dublin', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu')
    const instant = fc.integer({ min: Date.parse('2000-01-01'), max: Date.parse('2040-01-01') })
    fc.assert(
      fc.property(instant, zone, (ms, name) => {
        const expected = Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO(name).toPlainDate()
        expect(isoDayOf(new Date(ms).toISOString(), name)).toBe(expected.toString())
      }),
    )
  })

  it.each([
    [-60_000, 'now'],
    [20_000, 'now'],
    [31_000, 'in 1 min'],
    [89 * 60_000, 'in 89 min'],
    [90 * 60_000, 'in 2 h'],
    [47 * 3_600_000, 'in 47 h'],
    [48 * 3_600_000, 'in 2 days'],
  ])('that is %d ms away is %s', (away, words) => {
    expect(untilOf(new Date(Date.parse(at) + away).toISOString(), Date.parse(at))).toBe(words)
  })
})

describe('a number', () => {
  it('has its thousands apart, and one person is no people', () => {
    expect(countOf(2_400_000)).toBe('2,400,000')
    expect(peopleOf(1)).toBe('1 person')
    expect(peopleOf(0)).toBe('0 people')
    expect(peopleOf(2400)).toBe('2,400 people')
  })
})
