import { Temporal } from '@js-temporal/polyfill'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { noRules, turnOf, type SendingRules, type Turn } from './sendingRules.ts'

const hour = 3_600_000
const day = 24 * hour
const at = Date.parse('2026-11-24T22:30:00Z')
const night: SendingRules = { ...noRules, quiet: { from: '21:00', to: '08:00' } }
const turn = (rules: SendingRules, given: { at?: number; zone?: string; recent?: number[] } = {}): Turn =>
  turnOf(rules, { at, zone: 'Europe/Dublin', recent: [], ...given })
const movedTo = (found: Turn): string | null =>
  found.is === 'moved' ? new Date(found.to).toISOString() : null

describe('when a marketing email goes out', () => {
  it('is now without rules', () => {
    expect(turn(noRules)).toEqual({ is: 'now' })
  })

  it('is not in the quiet hours where the reader is, over midnight and within a day', () => {
    expect(movedTo(turn(night))).toBe('2026-11-25T08:00:00.000Z')
    expect(turn(night, { zone: 'America/Denver' })).toEqual({ is: 'now' })
    // 22:30 UTC is 04:00 the next morning in Kolkata, which ends its night at 02:30 UTC.
    expect(movedTo(turn(night, { zone: 'Asia/Kolkata' }))).toBe('2026-11-25T02:30:00.000Z')
    const noon = { ...noRules, quiet: { from: '12:00', to: '14:00' } }
    expect(movedTo(turn(noon, { at: Date.parse('2026-11-24T13:59:00Z') }))).toBe('2026-11-24T14:00:00.000Z')
    expect(turn(noon, { at: Date.parse('2026-11-24T14:00:00Z') })).toEqual({ is: 'now' })
  })

  it('is the first morning that there is when the clocks change', () => {
    // In Dublin 01:00 to 02:00 does not exist on 29 March 2026 (Directive 2000/84/EC).
    const early = { ...noRules, quiet: { from: '22:00', to: '01:30' } }
    const from = Date.parse('2026-03-28T23:00:00Z')
    expect(movedTo(turn(early, { at: from }))).toBe('2026-03-29T01:30:00.000Z')
  })

  it('is on the days that are chosen', () => {
    const weekdays = { ...night, weekdays: [1, 2, 3, 4, 5] }
    const saturday = Date.parse('2026-11-28T10:00:00Z')
    expect(movedTo(turn(weekdays, { at: saturday }))).toBe('2026-11-30T08:00:00.000Z')
  })

  it('waits until fewer than so many came in a day and in a week', () => {
    const rules = { ...noRules, aDay: 1, aWeek: 2 }
    expect(turn(rules, { recent: [at - 25 * hour] })).toEqual({ is: 'now' })
    expect(movedTo(turn(rules, { recent: [at - 5 * hour] }))).toBe(new Date(at + 19 * hour).toISOString())
    expect(movedTo(turn(rules, { recent: [at - 3 * day, at - 2 * day] }))).toBe(
      new Date(at + 4 * day).toISOString(),
    )
  })

  it('never comes when it would have to wait more than a week', () => {
    const rules = { ...noRules, weekdays: [1], aWeek: 1 }
    expect(turn(rules, { recent: [at - hour] })).toMatchObject({
      is: 'skipped',
      reason: expect.stringContaining('week') as string,
    })
  })

  it('is a moment that the same rules allow, and the clock of the reader agrees (held against Temporal)', () => {
    const zone = fc.constantFrom('Europe/Dublin', 'America/New_York', 'Asia/Kolkata', 'Australia/Lord_Howe')
    const recent = fc.array(fc.integer({ min: 1, max: 7 * 24 }), { maxLength: 6 })
    const caps = fc.option(fc.integer({ min: 1, max: 4 }))
    fc.assert(
      fc.property(
        zone,
        fc.integer({ min: 0, max: 365 * 24 * 4 }),
        recent,
        caps,
        caps,
        fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 2 }),
        (where, quarters, hours, aDay, aWeek, weekdays) => {
          const now = Date.parse('2026-01-01T00:00:00Z') + (quarters * hour) / 4
          const rules = { ...night, aDay, aWeek, weekdays }
          const sent = hours.map((each) => now - each * hour)
          const found = turnOf(rules, { at: now, zone: where, recent: sent })
          if (found.is !== 'moved') return
          expect(turnOf(rules, { at: found.to, zone: where, recent: sent })).toEqual({ is: 'now' })
          const local = Temporal.Instant.fromEpochMilliseconds(found.to).toZonedDateTimeISO(where)
          expect(weekdays).toContain(local.dayOfWeek)
          expect(local.hour >= 8 && local.hour < 21).toBe(true)
        },
      ),
    )
  })
})
