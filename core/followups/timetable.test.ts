import { describe, expect, it } from 'vitest'
import type { Program } from './program.ts'
import { layoutTimetable, tellElapsed } from './timetable.ts'

const minute = 60_000
const hour = 60 * minute
const day = 24 * hour
const when = { kind: 'hasTag', tag: 1 } as const

const forked: Program = {
  startsWhen: [],
  reentry: 'never',
  leavesWhen: [],
  zone: 'Europe/Dublin',
  steps: [
    { kind: 'send', id: 'a', email: 1 },
    { kind: 'waitFor', id: 'w1', amount: 2, unit: 'days' },
    {
      kind: 'branch',
      id: 'b',
      arms: [{ label: 'yes', when, steps: [{ kind: 'send', id: 'c', email: 1 }] }],
      otherwise: {
        label: 'no',
        steps: [
          { kind: 'waitFor', id: 'w2', amount: 3, unit: 'hours' },
          { kind: 'end', id: 'stop' },
        ],
      },
    },
    { kind: 'waitFor', id: 'w3', amount: 1, unit: 'days' },
    { kind: 'send', id: 'd', email: 1 },
  ],
}

describe('the timetable', () => {
  const { columns, lanes, cells, stretches } = layoutTimetable(forked)

  it('has a column for each moment at which something can happen', () => {
    expect(columns).toEqual([
      { at: 0, label: 'at once' },
      { at: 2 * day, label: 'day 2' },
      { at: 2 * day + 3 * hour, label: 'day 2, +3 h' },
      { at: 3 * day, label: 'day 3' },
    ])
  })

  it('opens a lane for each arm; it joins where its arm is done, or ends by itself', () => {
    expect(lanes.map(({ label, parent, opensAt, joinsAt }) => [label, parent, opensAt, joinsAt])).toEqual([
      ['Everyone', null, 0, null],
      ['yes', 'main', 1, 1],
      ['no', 'main', 1, null],
    ])
  })

  it('puts every step at its moment on its lane, in order', () => {
    expect(cells).toEqual([
      { step: 'a', column: 0, rank: 0, lane: 0 },
      { step: 'b', column: 1, rank: 0, lane: 0 },
      { step: 'c', column: 1, rank: 1, lane: 1 },
      { step: 'stop', column: 2, rank: 0, lane: 2 },
      { step: 'd', column: 3, rank: 0, lane: 0 },
    ])
    expect(stretches).toEqual([
      { step: 'w1', lane: 0, from: 0, to: 1, ends: 'fixed' },
      { step: 'w2', lane: 2, from: 1, to: 2, ends: 'fixed' },
      { step: 'w3', lane: 0, from: 1, to: 3, ends: 'fixed' },
    ])
  })

  it('shows dates by the calendar of the zone, also over a change of the clocks', () => {
    // EU clocks go forward on 29 March 2026, 01:00 UTC (IANA time zone database).
    const dated = layoutTimetable(forked, Date.parse('2026-03-28T09:00:00Z'))
    expect(dated.columns.map(({ label }) => label)).toEqual([
      'Sat 28 Mar, 09:00',
      'Mon 30 Mar, 09:00',
      'Mon 30 Mar, 12:00',
      'Tue 31 Mar, 09:00',
    ])
  })
})

it('tells elapsed time as one reads it', () => {
  expect([0, 15 * minute, 3 * hour, 90 * minute, 2 * day, 2 * day + 30 * minute].map(tellElapsed)).toEqual([
    'at once',
    '+15 min',
    '+3 h',
    '+1 h 30 min',
    'day 2',
    'day 2, +30 min',
  ])
})
