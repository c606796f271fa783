import { Temporal } from '@js-temporal/polyfill'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { percentOf, fnv1a } from './share.ts'
import type { WaitStep } from './step.ts'
import { waitEnds, type Waiter } from './waiting.ts'

const start = Date.parse('2026-03-03T09:20:00Z')
const waiter = (given: Partial<Waiter> = {}): Waiter => ({
  startedAt: start,
  zone: 'Europe/Dublin',
  session: null,
  dateIn: () => null,
  deadline: () => null,
  ...given,
})
const iso = (at: number | null): string | null =>
  at === null ? null : new Date(at).toISOString().slice(0, 16)
const ends = (wait: WaitStep, now: string, given: Partial<Waiter> = {}): string | null =>
  iso(waitEnds(wait, Date.parse(now), waiter(given)))

const zones = [
  'Europe/Dublin',
  'America/New_York',
  'America/Denver',
  'Asia/Kolkata',
  'Asia/Kathmandu',
  'Australia/Lord_Howe',
  'Australia/Sydney',
]
const anyMoment = fc.integer({ min: Date.parse('2020-01-01'), max: Date.parse('2030-01-01') })
const anyTime = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
  .map(([h, m]) => `${String(h).padStart(2, '0')}:${String(m).padStart(2, '0')}`)

describe('“day N” and “N days after”', () => {
  it('differ as soon as one wait before them is not zero', () => {
    // Common practice: "day 2 of the sequence" counts from the start, "2 days after the previous email" does not.
    const dayTwo: WaitStep = { kind: 'waitDay', id: 'w', day: 2 }
    const twoDays: WaitStep = { kind: 'waitFor', id: 'w', amount: 2, unit: 'days' }
    expect([ends(dayTwo, '2026-03-03T09:20Z'), ends(twoDays, '2026-03-03T09:20Z')]).toEqual([
      '2026-03-05T09:20',
      '2026-03-05T09:20',
    ])
    expect([ends(dayTwo, '2026-03-04T09:20Z'), ends(twoDays, '2026-03-04T09:20Z')]).toEqual([
      '2026-03-05T09:20',
      '2026-03-06T09:20',
    ])
  })

  it('keep the time on the wall in every zone, as Temporal does', () => {
    // @js-temporal/polyfill: PlainDate.add and toZonedDateTime with disambiguation "compatible".
    fc.assert(
      fc.property(
        anyMoment,
        fc.integer({ min: 0, max: 400 }),
        anyTime,
        fc.constantFrom(...zones),
        (from, day, time, zone) => {
          const then = Temporal.Instant.fromEpochMilliseconds(from).toZonedDateTimeISO(zone)
          const wanted = then
            .toPlainDate()
            .add({ days: day })
            .toPlainDateTime(time)
            .toZonedDateTime(zone, { disambiguation: 'compatible' })
          expect(
            waitEnds({ kind: 'waitDay', id: 'w', day, time }, from, waiter({ startedAt: from, zone })),
          ).toBe(wanted.epochMilliseconds)
        },
      ),
      { numRuns: 1_000 },
    )
  })

  it('go by the reader’s own zone where that is chosen and known', () => {
    const wait: WaitStep = { kind: 'waitDay', id: 'w', day: 1, time: '09:00', clocks: 'person' }
    expect(ends(wait, '2026-03-03T09:20Z', { ownZone: 'Asia/Kolkata' })).toBe('2026-03-04T03:30')
    expect(ends(wait, '2026-03-03T09:20Z')).toBe('2026-03-04T09:00')
    expect(ends(wait, '2026-03-03T09:20Z', { ownZone: 'Mars/Olympus' })).toBe('2026-03-04T09:00')
  })
})

describe('a window', () => {
  const window = (weekdays: number[], from: string, to: string): WaitStep => ({
    kind: 'waitTime',
    id: 'w',
    weekdays,
    from,
    to,
  })
  it.each([
    ['inside goes on at once', window([2], '09:00', '11:00'), '2026-03-03T09:30Z', '2026-03-03T09:30'],
    [
      'before it waits for its opening',
      window([2], '10:00', '11:00'),
      '2026-03-03T09:30Z',
      '2026-03-03T10:00',
    ],
    ['at its end it is over', window([2], '08:00', '09:30'), '2026-03-03T09:30Z', '2026-03-10T08:00'],
    ['on another weekday', window([6, 7], '09:00', '11:00'), '2026-03-03T09:30Z', '2026-03-07T09:00'],
    ['over midnight, after it', window([2], '22:00', '02:00'), '2026-03-04T01:30Z', '2026-03-04T01:30'],
    ['over midnight, too late', window([2], '22:00', '02:00'), '2026-03-04T02:30Z', '2026-03-10T22:00'],
    ['of a whole day', window([3], '00:00', '00:00'), '2026-03-03T09:30Z', '2026-03-04T00:00'],
    // EU clocks go forward on 29 March 2026, 01:00 UTC: 01:30 is shown as 02:30 (IANA).
    ['whose opening the clocks skip', window([7], '01:30', '05:00'), '2026-03-28T23:00Z', '2026-03-29T01:30'],
    // US clocks go back on 1 November 2026, 02:00: half past one comes twice, and counts the first time.
    [
      'whose opening comes twice',
      { ...window([7], '01:30', '05:00') },
      '2026-10-24T23:30Z',
      '2026-10-25T00:30',
    ],
  ])('%s', (_what, wait, now, wanted) => expect(ends(wait, now)).toBe(wanted))

  it('is open where it leads, in every zone, and never in the past', () => {
    fc.assert(
      fc.property(
        anyMoment,
        fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }),
        anyTime,
        anyTime,
        fc.constantFrom(...zones),
        (now, weekdays, from, to, zone) => {
          const at =
            waitEnds({ kind: 'waitTime', id: 'w', weekdays, from, to }, now, waiter({ zone })) ?? Number.NaN
          expect(at).toBeGreaterThanOrEqual(now)
          if (at === now) return
          // It waits for an opening: the clock of the zone shows it, or what a change of the clocks makes of it.
          const local = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(zone)
          const opening = local
            .toPlainDate()
            .toPlainDateTime(from)
            .toZonedDateTime(zone, { disambiguation: 'compatible' })
          expect(opening.epochMilliseconds).toBe(at)
          expect(weekdays).toContain(local.dayOfWeek)
        },
      ),
      { numRuns: 500 },
    )
  })
})

describe('a wait relative to a date of theirs', () => {
  it('is before or after a session, a date in a field, or a personal deadline', () => {
    const hourBefore: WaitStep = {
      kind: 'waitRelative',
      id: 'w',
      to: { what: 'session' },
      amount: 1,
      unit: 'hours',
      side: 'before',
      past: 'skip',
    }
    expect(ends(hourBefore, '2026-03-03T09:20Z', { session: Date.parse('2026-03-08T18:00Z') })).toBe(
      '2026-03-08T17:00',
    )
    expect(ends(hourBefore, '2026-03-03T09:20Z')).toBeNull()
    // Two days before by the calendar: the clocks change in between, and the time on the wall stays.
    const daysBefore: WaitStep = {
      ...hourBefore,
      to: { what: 'field', field: 4, time: '09:00' },
      amount: 2,
      unit: 'days',
    }
    expect(ends(daysBefore, '2026-03-03T09:20Z', { dateIn: () => '2026-03-30' })).toBe('2026-03-28T09:00')
    const after: WaitStep = {
      ...hourBefore,
      to: { what: 'deadline', offer: 'Early' },
      side: 'after',
      amount: 3,
    }
    expect(ends(after, '2026-03-03T09:20Z', { deadline: () => start })).toBe('2026-03-03T12:20')
  })
})

describe('a place in a split', () => {
  it('is drawn by a known hash', () => {
    // Test vectors of FNV-1a, 32 bits: its authors' page, from memory.
    expect([fnv1a(''), fnv1a('a'), fnv1a('foobar')]).toEqual([0x811c9dc5, 0xe40c292c, 0xbf9cf968])
  })

  it('is spread evenly over people and steps: a chi-square of ten parts below its 99.9 % point, 27.88 (9 df; handbook table)', () => {
    for (const step of ['s1', 's2', 'half']) {
      const parts = new Array<number>(10).fill(0)
      const people = 20_000
      for (let person = 1; person <= people; person += 1) {
        const part = Math.floor(percentOf(`7 ${person} ${step}`) / 10)
        parts[part] = (parts[part] ?? 0) + 1
      }
      const expected = people / parts.length
      expect(parts.reduce((sum, each) => sum + (each - expected) ** 2 / expected, 0)).toBeLessThan(27.88)
    }
  })
})
