import { DateTime } from 'luxon'
import type { Instant } from '../audience/people/activity.ts'
import { armsOf, type Program, type Step } from './program.ts'
import { nominalLength } from './waiting.ts'

/** A moment that something happens at: milliseconds after the start, at the earliest. */
export interface Column {
  at: number
  label: string
}

/** One branch. `opensAt` and `joinsAt` are columns; `joinsAt` is null when the lane ends by itself. */
export interface Lane {
  id: string
  parent: string | null
  label: string
  opensAt: number
  joinsAt: number | null
}

/** A token: a step at its moment, on its lane. `rank` orders what happens at the same moment, across lanes. */
export interface Cell {
  step: string
  column: number
  rank: number
  lane: number
}

/** Waiting: the thin track from one moment to the next. */
export interface TimeRange {
  step: string
  lane: number
  from: number
  to: number
}

export interface Timetable {
  columns: Column[]
  lanes: Lane[]
  cells: Cell[]
  stretches: TimeRange[]
}

const minute = 60_000
const hour = 60 * minute
const day = 24 * hour

/** "at once", "+15 min", "+3 h", "day 2", "day 2, +30 min": time since the start. */
export function tellElapsed(elapsed: number): string {
  if (elapsed === 0) return 'at once'
  const days = Math.floor(elapsed / day)
  const rest = elapsed % day
  const within =
    rest === 0
      ? ''
      : rest % hour === 0
        ? `+${rest / hour} h`
        : rest < hour
          ? `+${rest / minute} min`
          : hoursAndMinutes(rest)
  return [days > 0 ? `day ${days}` : '', within].filter(Boolean).join(', ')
}

function hoursAndMinutes(span: number): string {
  return `+${Math.floor(span / hour)} h ${(span % hour) / minute} min`
}

/**
 * Where every step stands when real elapsed time runs across and branches are lanes below one another.
 * @param start when given, columns show the dates of somebody who starts then
 */
export function layoutTimetable(program: Program, start?: Instant): Timetable {
  type Timed<T> = Omit<T, 'column' | 'from' | 'to' | 'opensAt' | 'joinsAt'>
  /** A moment, and how many tokens come before within it. */
  type Place = { at: number; rank: number }
  const lanes: (Timed<Lane> & { opens: number; joins: number | null })[] = []
  const cells: (Timed<Cell> & { at: number })[] = []
  const stretches: (Timed<TimeRange> & { begins: number; ends: number })[] = []
  const moments = new Set<number>([0])

  /** Lays steps along a lane; where the lane is done, or null when nobody gets there. */
  const lay = (steps: readonly Step[], lane: number, begin: Place): Place | null => {
    let now: Place | null = begin
    for (const step of steps) {
      if (now === null) return null
      if (step.kind === 'waitFor') {
        const ends: number = now.at + nominalLength(step)
        stretches.push({ step: step.id, lane, begins: now.at, ends })
        moments.add(ends)
        now = { at: ends, rank: 0 }
        continue
      }
      cells.push({ step: step.id, ...now, lane })
      if (step.kind === 'end') return null
      const after: Place = { at: now.at, rank: now.rank + 1 }
      now = step.kind === 'branch' ? layArms(step, lane, after) : after
    }
    return now
  }

  const layArms = (branch: Step, parent: number, opens: Place): Place | null => {
    const ends = armsOf(branch).map((arm, i) => {
      const lane = { id: `${branch.id}/${i}`, parent: lanes[parent]?.id ?? null, label: arm.label }
      const row = lanes.push({ ...lane, opens: opens.at, joins: null }) - 1
      const end = lay(arm.steps, row, opens)
      lanes[row] = { ...lane, opens: opens.at, joins: end?.at ?? null }
      return end
    })
    const reached = ends.filter((end) => end !== null)
    if (reached.length === 0) return null
    const at = Math.min(...reached.map((end) => end.at))
    return { at, rank: Math.max(...reached.filter((end) => end.at === at).map((end) => end.rank)) }
  }

  lanes.push({ id: 'main', parent: null, label: 'Everyone', opens: 0, joins: null })
  lay(program.steps, 0, { at: 0, rank: 0 })

  const order = [...moments].sort((a, b) => a - b)
  const column = (at: number): number => order.indexOf(at)
  return {
    columns: order.map((at) => ({ at, label: label(at, program.zone, start) })),
    lanes: lanes.map(({ opens, joins, ...lane }) => ({
      ...lane,
      opensAt: column(opens),
      joinsAt: joins === null ? null : column(joins),
    })),
    cells: cells.map(({ at, ...cell }) => ({ ...cell, column: column(at) })),
    stretches: stretches.map(({ begins, ends, ...stretch }) => ({
      ...stretch,
      from: column(begins),
      to: column(ends),
    })),
  }
}

function label(elapsed: number, zone: string, start: Instant | undefined): string {
  if (start === undefined) return tellElapsed(elapsed)
  const local = DateTime.fromMillis(start, { zone }).setLocale('en-GB')
  // Days by the calendar, the rest by the clock: what the engine does with whole days.
  const at = local.plus({ days: Math.floor(elapsed / day) }).plus({ milliseconds: elapsed % day })
  return at.toFormat('ccc d LLL, HH:mm')
}
