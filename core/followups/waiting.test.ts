import { Temporal } from '@js-temporal/polyfill'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { describeSpan } from './sentences.ts'
import { firstInstantOf, isZone, spanEnds } from './waiting.ts'
import type { WaitUnit } from './waitShapes.ts'

const ends = (from: string, amount: number, unit: WaitUnit, zone: string): string =>
  new Date(spanEnds({ amount, unit }, Date.parse(from), zone)).toISOString()

const zones = [
  'Europe/Dublin',
  'America/New_York',
  'America/Denver',
  'Asia/Kolkata',
  'Asia/Kathmandu',
  'Australia/Lord_Howe',
  'Australia/Sydney',
]

describe('a wait of days keeps the time on the wall', () => {
  // IANA time zone database, changes of 2026: US 8 March and 1 November, EU 29 March and 25 October.
  it.each([
    ['a day of 23 hours', '2026-03-28T09:00:00.000Z', 'Europe/Dublin', '2026-03-29T08:00:00.000Z'],
    ['a day of 25 hours', '2026-10-24T08:00:00.000Z', 'Europe/Dublin', '2026-10-25T09:00:00.000Z'],
    ['the US spring', '2026-03-07T14:00:00.000Z', 'America/New_York', '2026-03-08T13:00:00.000Z'],
    [
      'half an hour on Lord Howe Island',
      '2026-04-03T22:00:00.000Z',
      'Australia/Lord_Howe',
      '2026-04-04T22:30:00.000Z',
    ],
    [
      'no change where clocks never change',
      '2026-03-28T03:15:00.000Z',
      'Asia/Kathmandu',
      '2026-03-29T03:15:00.000Z',
    ],
  ])('%s', (_what, from, zone, to) => {
    expect(ends(from, 1, 'days', zone)).toBe(to)
  })

  it('moves a time that does not exist forward by the gap', () => {
    // 01:30 of 29 March 2026 is skipped in Dublin: 01:00 UTC becomes 02:00 IST (IANA).
    expect(ends('2026-03-28T01:30:00.000Z', 1, 'days', 'Europe/Dublin')).toBe('2026-03-29T01:30:00.000Z')
  })

  it('takes the first of a time that comes twice', () => {
    // 01:30 of 25 October 2026 comes at 00:30 UTC and again at 01:30 UTC in Dublin (IANA).
    expect(ends('2026-10-24T00:30:00.000Z', 1, 'days', 'Europe/Dublin')).toBe('2026-10-25T00:30:00.000Z')
  })

  it('agrees with Temporal at any time in any zone', () => {
    // @js-temporal/polyfill: ZonedDateTime.add with days and disambiguation "compatible".
    fc.assert(
      fc.property(
        fc.integer({ min: Date.parse('2020-01-01'), max: Date.parse('2030-01-01') }),
        fc.integer({ min: 1, max: 400 }),
        fc.constantFrom(...zones),
        (from, days, zone) => {
          const then = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone)
          // Only the wall-clock time counts: a start in the second of two equal hours is no other wish.
          const wall = then
            .toPlainDateTime()
            .add({ days })
            .toZonedDateTime(zone, { disambiguation: 'compatible' })
          expect(spanEnds({ amount: days, unit: 'days' }, from, zone)).toBe(wall.epochMilliseconds)
        },
      ),
      { numRuns: 2000 },
    )
  })
})

it('counts minutes and hours exactly, whatever the clocks do', () => {
  expect(ends('2026-03-29T00:30:00.000Z', 2, 'hours', 'Europe/Dublin')).toBe('2026-03-29T02:30:00.000Z')
  expect(ends('2026-10-25T00:45:00.000Z', 15, 'minutes', 'Europe/Dublin')).toBe('2026-10-25T01:00:00.000Z')
})

it('takes a week for seven days', () => {
  expect(ends('2026-10-20T08:00:00.000Z', 1, 'weeks', 'Europe/Dublin')).toBe('2026-10-27T09:00:00.000Z')
})

it('knows zones by their IANA names', () => {
  expect(['Europe/Dublin', 'Asia/Kathmandu', 'Mars/Olympus', ''].map(isZone)).toEqual([
    true,
    true,
    false,
    false,
  ])
  expect(firstInstantOf(Date.parse('2026-07-01T09:00:00Z'), 'Asia/Kolkata')).toBe(
    Date.parse('2026-07-01T03:30:00Z'),
  )
})

it('says a wait as one does', () => {
  expect([describeSpan({ amount: 1, unit: 'hours' }), describeSpan({ amount: 2, unit: 'days' })]).toEqual([
    '1 hour',
    '2 days',
  ])
})
