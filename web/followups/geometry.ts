import type { TimetableView } from '../../contract/followups.ts'
import type { StepKind } from '../../core/followups/step.ts'

/** Widths of tokens by kind, in pixels. */
const widths: Readonly<Record<StepKind, number>> = {
  send: 148,
  sendText: 148,
  notifyTeam: 132,
  waitFor: 0,
  waitDay: 0,
  waitTime: 0,
  waitDate: 0,
  waitRelative: 0,
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
const laneHeight = 104
const head = 48

export interface Token {
  step: string
  x: number
  y: number
  width: number
}

/** A horizontal piece of a lane's track; `step` when people wait on it. */
export interface Rail {
  lane: number
  y: number
  from: number
  to: number
  step: string | null
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
}

interface Ruler {
  columns: number[]
  slots: number[][]
  width: number
}

/** Left edges: a slot is as wide as the widest token of its rank; a column as wide as its slots. */
function measure(timetable: TimetableView, widthOf: (step: string) => number): Ruler {
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
export function drawTimetable(timetable: TimetableView, kindOf: (step: string) => StepKind): Drawing {
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
  }
  const yOf = (lane: number): number => head + laneHeight / 2 + lane * laneHeight

  /** Draws a lane from `cursor` on; where its track ends. */
  const drawLane = (lane: number, begin: number): number => {
    let cursor = begin
    const rail = (to: number, step: string | null): void => {
      if (to > cursor) drawing.rails.push({ lane, y: yOf(lane), from: cursor, to, step })
      cursor = Math.max(cursor, to)
    }
    const stops = [
      ...timetable.cells
        .filter((cell) => cell.lane === lane)
        .map((cell) => ({ ...cell, wait: false as const })),
      // A wait begins after everything that happens at its first moment.
      ...timetable.stretches
        .filter((stretch) => stretch.lane === lane)
        .map((stretch) => ({ ...stretch, column: stretch.from, rank: Infinity, wait: true as const })),
    ].sort((a, b) => a.column - b.column || a.rank - b.rank)

    for (const stop of stops) {
      if (stop.wait) {
        rail(ruler.columns[stop.to] ?? cursor, stop.step)
        continue
      }
      const x = ruler.slots[stop.column]?.[stop.rank] ?? cursor
      const width = widthOf(stop.step)
      rail(x, null)
      drawing.tokens.push({ step: stop.step, x, y: yOf(lane), width })
      cursor = kindOf(stop.step) === 'branch' ? drawArms(stop.step, lane, x + width / 2) : x + width
    }
    return cursor
  }

  /** Draws the lanes of a branch; where the first of them is back on the parent. */
  const drawArms = (branch: string, parent: number, x: number): number => {
    const joins: number[] = []
    timetable.lanes.forEach((lane, i) => {
      if (!lane.id.startsWith(`${branch}/`)) return
      drawing.switches.push({ lane: i, x, from: yOf(parent), to: yOf(i) })
      drawing.names.push({ lane: i, x: x + 10, y: yOf(i) })
      const end = drawLane(i, x) + gap / 2
      if (lane.joinsAt === null) return
      drawing.rails.push({ lane: i, y: yOf(i), from: end - gap / 2, to: end, step: null })
      drawing.switches.push({ lane: i, x: end, from: yOf(i), to: yOf(parent) })
      joins.push(end)
    })
    return Math.min(ruler.width, ...joins)
  }

  drawLane(0, ruler.columns[0] ?? 0)
  return drawing
}
