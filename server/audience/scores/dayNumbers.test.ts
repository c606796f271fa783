import { Temporal } from '@js-temporal/polyfill'
import fc from 'fast-check'
import { expect, it } from 'vitest'
import { dayNumbers } from './dayNumbers.ts'

it('agrees with Temporal on which day an instant belongs to, over every change of the clocks', () => {
  // @js-temporal/polyfill: days from 1970-01-01 to the plain date in the zone.
  const epoch = Temporal.PlainDate.from('1970-01-01')
  fc.assert(
    fc.property(
      fc.constantFrom(
        'Europe/Dublin',
        'America/New_York',
        'Asia/Kathmandu',
        'Australia/Lord_Howe',
        'Pacific/Auckland',
      ),
      fc.integer({ min: Date.parse('2024-01-01'), max: Date.parse('2028-01-01') }),
      (zone, at) => {
        const date = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone).toPlainDate()
        expect(dayNumbers(zone)(at)).toBe(epoch.until(date, { largestUnit: 'day' }).days)
      },
    ),
    { numRuns: 1500 },
  )
})
