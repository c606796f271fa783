import type { StepPlace } from '../../core/followups/editing.ts'
import type { Timetable } from '../../core/followups/timetable.ts'
import type { StepKind } from '../../core/followups/step.ts'

/** Widths of tokens by kind, in pixels. */
const widths: Readonly<Record<StepKind, number>> = {
  send: 148,
  sendText: 148,
  notifyTeam: 132,
  waitFor: 128,
  waitDay: 128,
  waitTime: 128,
  waitDate: 128,
  waitRelative: 128,
  waitUntil: 30,
  branch: 30,
  split: 30,
  addTag: 132,
  removeTag: 132,
  setField: 132,
  givePoints: 132,
  joinTopic: 132,
  leaveTopic: 132,
  startFollowup: 132,
  leaveFollowup: 132,
  startDeadline: 132,
  makeCoupon: 132,
  webhook: 132,
  milestone: 110,
  end: 48,
}

const gap = 16
/** Shortest track on which a waiting label fits. */
const waiting = 112
/** The track of a lane without steps. */
const emptyLane = 88
const laneHeight = 104
const head = 48

export interface Token {
  step: string
  x: number
  y: number
  width: number
}

/** A horizontal piece of a lane's track; `step` when people wait on it, for a time that is known or not. */
export interface Rail {
  lane: number
  y: number
  from: number
  to: number
  step: string | null
  isOpen: boolean
}

/** Where a step can be put in. */
export interface InsertLine extends StepPlace {
  x: number
  y: number
}

/** A vertical piece: where a lane leaves its parent, or joins it again. */
export interface Switch {
  lane: number
  x: number
  from: number
  to: number
}

export interface Drawing {
  width: number
  height: number
  columns: number[]
  tokens: Token[]
  rails: Rail[]
  switches: Switch[]
  /** Where the name of a branch's lane stands. */
  names: { lane: number; x: number; y: number }[]
  inserts: InsertLine[]
}

interface Ruler {
  columns: number[]
  slots: number[][]
  width: number
}

function byLane<T extends { lane: number }>(all: readonly T[]): Map<number, T[]> {
  const lanes = new Map<number, T[]>()
  for (const each of all) lanes.set(each.lane, [...(lanes.get(each.lane) ?? []), each])
  return lanes
}

/** Left edges: a slot is as wide as the widest token of its rank; a column as wide as its slots. */
function measure(timetable: Timetable, widthOf: (step: string) => number): Ruler {
  const columns: number[] = []
  const slots: number[][] = []
  let left = gap
  for (const column of timetable.columns.keys()) {
    columns.push(left)
    const here = timetable.cells.filter((cell) => cell.column === column)
    const ranks = Math.max(-1, ...here.map((cell) => cell.rank))
    const edges: number[] = []
    for (let rank = 0; rank <= ranks; rank += 1) {
      edges.push(left)
      const widest = Math.max(
        0,
        ...here.filter((cell) => cell.rank === rank).map((cell) => widthOf(cell.step)),
      )
      left += widest + gap
    }
    slots.push(edges)
    left += column < timetable.columns.length - 1 ? waiting : 0
  }
  return { columns, slots, width: left }
}

/** Where everything of a timetable is drawn, in pixels. */
export function drawTimetable(timetable: Timetable, kindOf: (step: string) => StepKind): Drawing {
  const widthOf = (step: string): number => widths[kindOf(step)]
  const ruler = measure(timetable, widthOf)
  const drawing: Drawing = {
    width: ruler.width + gap,
    height: head + laneHeight * timetable.lanes.length,
    columns: ruler.columns,
    tokens: [],
    rails: [],
    switches: [],
    names: [],
    inserts: [],
  }
  const forks = new Set(timetable.lanes.map(({ id }) => id.slice(0, id.lastIndexOf('/'))))
  const [cellsOf, stretchesOf] = [byLane(timetable.cells), byLane(timetable.stretches)]
  const yOf = (lane: number): number => head + laneHeight / 2 + lane * laneHeight

  /** Draws a lane from `cursor` on; where its track ends. */
  const drawLane = (lane: number, begin: number): number => {
    const id = timetable.lanes[lane]?.id ?? ''
    const y = yOf(lane)
    let cursor = begin
    let index = 0
    let last: StepKind | null = null
    const rail = (to: number, step: string | null, isOpen = false): void => {
      if (to > cursor) drawing.rails.push({ lane, y, from: cursor, to, step, isOpen })
      cursor = Math.max(cursor, to)
    }
    const insert = (x: number): void => {
      drawing.inserts.push({ lane: id, index, x, y })
      index += 1
    }
    const stops = [
      ...(cellsOf.get(lane) ?? []).map((cell) => ({ ...cell, wait: false as const })),
      // A wait begins after everything that happens at its first moment.
      ...(stretchesOf.get(lane) ?? []).map((stretch) => ({
        ...stretch,
        column: stretch.from,
        rank: Infinity,
        wait: true as const,
      })),
    ].sort((a, b) => a.column - b.column || a.rank - b.rank)

    for (const stop of stops) {
      if (stop.wait) {
        // A conditional one belongs to the step that opens the lane.
        if (stop.ends !== 'conditional') insert(cursor + gap / 2)
        rail(
          ruler.columns[stop.to] ?? cursor,
          stop.ends === 'conditional' ? null : stop.step,
          stop.ends !== 'fixed',
        )
        last = null
        continue
      }
      const x = ruler.slots[stop.column]?.[stop.rank] ?? cursor
      const width = widthOf(stop.step)
      rail(x, null)
      insert(Math.max(x - gap / 2, begin + gap / 2))
      drawing.tokens.push({ step: stop.step, x, y, width })
      last = kindOf(stop.step)
      cursor = forks.has(stop.step) ? drawArms(stop.step, lane, x + width / 2) : x + width
    }
    if (last !== 'end') {
      insert(cursor + gap / 2)
      // As long as its name needs.
      if (cursor === begin && lane > 0) rail(begin + emptyLane, null)
    }
    return cursor
  }

  /** Draws the lanes of a branch; where the first of them is back on the parent. */
  const drawArms = (branch: string, parent: number, x: number): number => {
    const joins: number[] = []
    const before = drawing.tokens.length
    timetable.lanes.forEach((lane, i) => {
      if (!lane.id.startsWith(`${branch}/`)) return
      drawing.switches.push({ lane: i, x, from: yOf(parent), to: yOf(i) })
      drawing.names.push({ lane: i, x: x + 10, y: yOf(i) })
      const done = drawLane(i, x)
      if (lane.joinsAt === null) return
      // It goes back past what stands in the lanes that lie between.
      const passed = drawing.tokens.slice(before).map((token) => token.x + token.width)
      const end = Math.max(done, ...passed) + gap / 2
      drawing.rails.push({ lane: i, y: yOf(i), from: done, to: end, step: null, isOpen: false })
      drawing.switches.push({ lane: i, x: end, from: yOf(i), to: yOf(parent) })
      joins.push(end)
    })
    return Math.min(ruler.width, ...joins)
  }

  drawLane(0, ruler.columns[0] ?? 0)
  return drawing
}
