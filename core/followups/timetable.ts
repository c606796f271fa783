import { DateTime } from 'luxon'
import type { Instant } from '../audience/people/activity.ts'
import type { Program } from './program.ts'
import { isWait, lanesOf, type Step, type StepOf, type WaitStep } from './step.ts'
import { spanEnds, waitEnds } from './waiting.ts'
import { nominalUnit } from './waitShapes.ts'

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

/**
 * Waiting: the thin track from one moment to the next. A conditional one may end at any moment in between, and its step
 * has a token besides; one that is open ends at a moment of whoever waits, and is drawn a day long.
 */
export interface TimeRange {
  step: string
  lane: number
  from: number
  to: number
  ends: 'fixed' | 'conditional' | 'open'
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

/** A start to reckon with when nobody assumes one: a Monday morning without a change of the clocks near. */
const anyStart = Date.UTC(2026, 0, 5, 9)

/** How columns are called: by the time since the start, or by the dates of somebody who starts then. */
export type ColumnLabels = 'elapsed' | 'dates'

/** The clocks of a zone, as if in UTC. */
const wall = (at: Instant, zone: string): DateTime =>
  DateTime.fromMillis(at, { zone }).setZone('utc', { keepLocalTime: true })

/** "Mon 30 Mar, 09:00" */
const tellDate = (at: Instant, zone: string): string =>
  DateTime.fromMillis(at, { zone }).setLocale('en-GB').toFormat('ccc d LLL, HH:mm')

/** A moment, and how many tokens come before within it. */
interface Moment {
  at: Instant
  rank: number
}

type Timed<T> = Omit<T, 'column' | 'from' | 'to' | 'opensAt' | 'joinsAt'>

/** Lays the steps of a program along time, for somebody who starts at a moment. */
class Layout {
  readonly lanes: (Timed<Lane> & { opens: Instant; joins: Instant | null })[] = []
  readonly cells: (Timed<Cell> & { at: Instant })[] = []
  readonly stretches: (Timed<TimeRange> & { begins: Instant; until: Instant })[] = []
  readonly moments: Set<Instant>
  private readonly deadlines = new Map<string, Instant>()
  private readonly start: Instant
  private readonly zone: string

  constructor({ steps, zone }: Pick<Program, 'steps' | 'zone'>, start: Instant) {
    this.start = start
    this.zone = zone
    this.moments = new Set([start])
    this.lanes.push({ id: 'main', parent: null, label: 'Everyone', opens: start, joins: null })
    this.lay(steps, 0, { at: start, rank: 0 })
  }

  /** Lays steps along a lane; where the lane is done, or null when nobody gets there. */
  private lay(steps: readonly Step[], lane: number, begin: Moment): Moment | null {
    let now: Moment | null = begin
    for (const step of steps) {
      if (now === null) return null
      if (isWait(step) && step.kind !== 'waitUntil') {
        now = this.wait(step, lane, now)
        continue
      }
      this.cells.push({ step: step.id, ...now, lane })
      if (step.kind === 'end') return null
      if (step.kind === 'startDeadline' && !this.deadlines.has(step.offer))
        this.deadlines.set(step.offer, spanEnds(step.lasts, now.at, this.zone))
      const after: Moment = { at: now.at, rank: now.rank + 1 }
      now = lanesOf(step).length > 0 ? this.lanesBelow(step, lane, after) : after
    }
    return now
  }

  private wait(step: WaitStep, lane: number, now: Moment): Moment {
    const found = waitEnds(step, now.at, {
      startedAt: this.start,
      zone: this.zone,
      session: null,
      dateIn: () => null,
      deadline: (offer) => this.deadlines.get(offer) ?? null,
    })
    const until = Math.max(now.at, found ?? now.at + nominalUnit.days)
    // Where there is nothing to wait for, it stands among the tokens of its moment.
    if (until === now.at) {
      this.cells.push({ step: step.id, ...now, lane })
      return { at: now.at, rank: now.rank + 1 }
    }
    const ends = found === null ? 'open' : 'fixed'
    this.stretches.push({ step: step.id, lane, begins: now.at, until, ends })
    this.moments.add(until)
    return { at: until, rank: 0 }
  }

  private lanesBelow(step: Step, parent: number, opens: Moment): Moment | null {
    const ends = lanesOf(step).map(({ label, steps }, i) => {
      const lane = { id: `${step.id}/${i}`, parent: this.lanes[parent]?.id ?? null, label }
      const row = this.lanes.push({ ...lane, opens: opens.at, joins: null }) - 1
      const begin = step.kind === 'waitUntil' && i === 1 ? this.atLatest(step, row, opens) : opens
      const end = this.lay(steps, row, begin)
      this.lanes[row] = { ...lane, opens: opens.at, joins: end?.at ?? null }
      return end
    })
    const reached = ends.filter((end) => end !== null)
    if (reached.length === 0) return null
    const at = Math.min(...reached.map((end) => end.at))
    return { at, rank: Math.max(...reached.filter((end) => end.at === at).map((end) => end.rank)) }
  }

  /** Who waits in vain goes on when the time is over: they stand on that lane until then. */
  private atLatest(step: StepOf<'waitUntil'>, lane: number, now: Moment): Moment {
    const until = spanEnds(step.atMost, now.at, this.zone)
    this.stretches.push({ step: step.id, lane, begins: now.at, until, ends: 'conditional' })
    this.moments.add(until)
    return { at: until, rank: 0 }
  }
}

/**
 * Where every step stands when real time runs across and branches are lanes below one another.
 * @param start of the one for whom it is reckoned: fixed dates and times of day depend on it
 */
export function layoutTimetable(
  program: Pick<Program, 'steps' | 'zone'>,
  start?: Instant,
  labels: ColumnLabels = start === undefined ? 'elapsed' : 'dates',
): Timetable {
  const { zone } = program
  const from = start ?? anyStart
  const { lanes, cells, stretches, moments } = new Layout(program, from)
  const order = [...moments].sort((a, b) => a - b)
  const columns = new Map(order.map((at, i) => [at, i]))
  const column = (at: Instant): number => columns.get(at) ?? 0
  const begins = wall(from, zone).toMillis()
  return {
    columns: order.map((at) => {
      const elapsed = wall(at, zone).toMillis() - begins
      return { at: elapsed, label: labels === 'elapsed' ? tellElapsed(elapsed) : tellDate(at, zone) }
    }),
    lanes: lanes.map(({ opens, joins, ...lane }) => ({
      ...lane,
      opensAt: column(opens),
      joinsAt: joins === null ? null : column(joins),
    })),
    cells: cells.map(({ at, ...cell }) => ({ ...cell, column: column(at) })),
    stretches: stretches.map(({ begins, until, ...stretch }) => ({
      ...stretch,
      from: column(begins),
      to: column(until),
    })),
  }
}
