import { Temporal } from '@js-temporal/polyfill'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { dateOf, datePlus, timeRangeOf, within } from './within.ts'

const zones = [
  'Europe/Dublin',
  'America/New_York',
  // Half-hour change; UTC+05:45; clocks that leave midnight out (IANA time zone database).
  'Australia/Lord_Howe',
  'Asia/Kathmandu',
  'Africa/Cairo',
] as const
const zone = fc.constantFrom<string>(...zones)
const now = Date.parse('2026-11-24T10:00:00Z')
const instant = fc.integer({ min: Date.parse('2020-01-01'), max: Date.parse('2030-01-01') })

describe('the stretch of time that is looked at', () => {
  it('is all until now when none is wished, or from where the one who asks began', () => {
    expect(timeRangeOf(undefined, now, 'UTC')).toEqual({ from: -Infinity, to: now })
    expect(timeRangeOf(undefined, now, 'UTC', 5)).toEqual({ from: 5, to: now })
    // A limit of its own is not cut off there.
    expect(timeRangeOf({ kind: 'last', amount: 1, unit: 'hours' }, now, 'UTC', now - 1).from).toBe(
      now - 3_600_000,
    )
  })

  it('of days goes back by the calendar: the hour stays over a change of the clocks', () => {
    // EU clocks went back on 25 October 2026, 01:00 UTC (IANA time zone database).
    const after = Date.parse('2026-10-26T09:00:00Z')
    const { from } = timeRangeOf({ kind: 'last', amount: 2, unit: 'days' }, after, 'Europe/Dublin')
    expect(new Date(from).toISOString()).toBe('2026-10-24T08:00:00.000Z')
    const hours = timeRangeOf({ kind: 'last', amount: 48, unit: 'hours' }, after, 'Europe/Dublin')
    expect(new Date(hours.from).toISOString()).toBe('2026-10-24T09:00:00.000Z')
  })

  it('back by units of time agrees with Temporal', () => {
    const unit = fc.constantFrom('minutes', 'hours', 'days', 'weeks', 'months')
    fc.assert(
      fc.property(instant, zone, fc.integer({ min: 1, max: 60 }), unit, (at, name, amount, of) => {
        const expected = Temporal.Instant.fromEpochMilliseconds(at)
          .toZonedDateTimeISO(name)
          .subtract({ [of]: amount }).epochMilliseconds
        const { from } = timeRangeOf({ kind: 'last', amount, unit: of as 'days' }, at, name)
        expect(from).toBe(expected)
      }),
      { numRuns: 500 },
    )
  })

  it('between two days is the whole of both, in the zone, and agrees with Temporal', () => {
    fc.assert(
      fc.property(instant, fc.integer({ min: 0, max: 400 }), zone, (at, days, name) => {
        const first = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(name).toPlainDate()
        const last = first.add({ days })
        const limit = { kind: 'between', from: first.toString(), to: last.toString() } as const
        expect(timeRangeOf(limit, Number.MAX_SAFE_INTEGER, name)).toEqual({
          from: first.toZonedDateTime(name).epochMilliseconds,
          to: last.add({ days: 1 }).toZonedDateTime(name).epochMilliseconds - 1,
        })
      }),
      { numRuns: 500 },
    )
  })

  it('ends now, whatever was wished: nothing that is to come has been done', () => {
    const limit = { kind: 'between', from: '2026-11-24', to: '2026-12-31' } as const
    expect(timeRangeOf(limit, now, 'Europe/Dublin')).toEqual({
      from: Date.parse('2026-11-24T00:00Z'),
      to: now,
    })
  })

  it.each([
    { kind: 'between', from: '2026-02-30', to: '2026-03-01' },
    { kind: 'between', from: '2026-02-01T00:00:00Z', to: '2026-03-01' },
    { kind: 'last', amount: 0, unit: 'days' },
    { kind: 'last', amount: 1.5, unit: 'days' },
    { kind: 'last', amount: 3, unit: 'years' },
  ])('is refused when it is none: %j', (limit) => {
    expect(within.safeParse(limit).success).toBe(false)
  })
})

describe('a date', () => {
  it('is that of the zone', () => {
    expect(dateOf(Date.parse('2026-11-25T04:30:00Z'), 'America/New_York')).toBe('2026-11-24')
    expect(dateOf(Date.parse('2026-11-24T18:20:00Z'), 'Asia/Kathmandu')).toBe('2026-11-25')
  })

  it('some days later agrees with Temporal', () => {
    fc.assert(
      fc.property(instant, fc.integer({ min: -40_000, max: 40_000 }), (at, days) => {
        const date = dateOf(at, 'UTC')
        expect(datePlus(date, days)).toBe(Temporal.PlainDate.from(date).add({ days }).toString())
      }),
    )
  })
})
