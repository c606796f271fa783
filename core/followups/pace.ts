import type { Instant } from '../audience/people/activity.ts'
import type { Program } from './program.ts'
import { isWait, lanesOf, type Step } from './step.ts'
import { spanEnds, waitEnds } from './waiting.ts'
import { nominalUnit } from './waitShapes.ts'

/** An email on somebody's way: when at the earliest, in milliseconds after the start. */
export interface TimedSend {
  step: string
  email: number
  at: number
}

/** A Monday morning: what starts then meets every weekday in its order. */
const start = Date.UTC(2026, 0, 5, 9)
/** Ways looked at; beyond it the first so many stand for all. */
const mostWays = 2_000

/** The emails on each way through a program, in their order, as far as they are wanted. */
export function sendsByPath(
  program: Pick<Program, 'steps' | 'zone'>,
  wanted: (email: number) => boolean,
): TimedSend[][] {
  interface Way {
    at: Instant
    sends: TimedSend[]
    over: boolean
    deadlines: Readonly<Record<string, Instant>>
  }
  const { zone } = program
  const walk = (steps: readonly Step[], from: Way[]): Way[] => {
    let ways = from
    for (const step of steps) {
      const [over, on] = [ways.filter((way) => way.over), ways.filter((way) => !way.over)]
      ways = [...over, ...on.flatMap((way) => pass(step, way))].slice(0, mostWays)
    }
    return ways
  }
  const pass = (step: Step, way: Way): Way[] => {
    if (step.kind === 'end') return [{ ...way, over: true }]
    if (step.kind === 'startDeadline')
      return [{ ...way, deadlines: { [step.offer]: spanEnds(step.lasts, way.at, zone), ...way.deadlines } }]
    if (step.kind === 'send')
      return wanted(step.email)
        ? [{ ...way, sends: [...way.sends, { step: step.id, email: step.email, at: way.at - start }] }]
        : [way]
    if (step.kind === 'waitUntil') {
      const late = spanEnds(step.atMost, way.at, zone)
      return [...walk(step.happened.steps, [way]), ...walk(step.otherwise.steps, [{ ...way, at: late }])]
    }
    if (isWait(step)) {
      const until = waitEnds(step, way.at, {
        startedAt: start,
        zone,
        session: null,
        dateIn: () => null,
        deadline: (offer) => way.deadlines[offer] ?? null,
      })
      return [{ ...way, at: Math.max(way.at, until ?? way.at) }]
    }
    const lanes = lanesOf(step)
    return lanes.length === 0 ? [way] : lanes.flatMap((lane) => walk(lane.steps, [way]))
  }
  return walk(program.steps, [{ at: start, sends: [], over: false, deadlines: {} }]).map(({ sends }) => sends)
}

/** The most emails of any way within seven days, and the step at which there are so many. */
export function mostInAWeek(ways: readonly (readonly TimedSend[])[]): { most: number; step: string | null } {
  let [most, step]: [number, string | null] = [0, null]
  for (const way of ways) {
    let first = 0
    for (const [i, send] of way.entries()) {
      while (send.at - (way[first]?.at ?? 0) >= nominalUnit.weeks) first += 1
      if (i - first + 1 > most) [most, step] = [i - first + 1, send.step]
    }
  }
  return { most, step }
}
