import { toRaw } from 'vue'
import type { Facts } from '../../core/followups/enrolment.ts'
import type { Forecast, ForecastRequest } from '../../core/followups/forecast.ts'
import type { RehearsalLine, RehearsalRequest } from '../../core/followups/rehearsal.ts'

/** What the worker is asked, and what it answers. */
export type Asked = { number: number } & (
  { what: 'rehearse'; request: RehearsalRequest } | { what: 'forecast'; request: ForecastRequest }
)
type Answer = { lines: RehearsalLine[] } | { done: number } | { forecast: Forecast } | { fault: string }
export type Answered = { number: number } & Answer

/** A plain copy of a request, sets and maps kept: a worker takes no reactive objects. */
function plain<Request extends { facts: Facts }>(request: Request): Request {
  const { tags, topics, agreedTo, scores } = toRaw(request.facts.person)
  const copied = JSON.parse(JSON.stringify(request)) as Request
  const person = { ...copied.facts.person, tags, topics, agreedTo, scores }
  return { ...copied, facts: { ...copied.facts, person } }
}

type WithoutNumber<T> = T extends T ? Omit<T, 'number'> : never

/** A worker that rehearses, off the screen's own thread: the same engine as live. */
export interface Rehearser {
  /** What a person goes through; asking again leaves the last question unanswered. */
  rehearse: (request: RehearsalRequest) => Promise<RehearsalLine[]>
  /** @param report how many people are done @returns null when it was cancelled */
  forecast: (request: ForecastRequest, report: (done: number) => void) => Promise<Forecast | null>
  cancel: () => void
  end: () => void
}

export function startRehearser(): Rehearser {
  const make = (): Worker =>
    new Worker(new URL('./rehearsing.worker.ts', import.meta.url), { type: 'module' })
  let worker = make()
  let cancelled: (() => void) | null = null

  const renew = (): void => {
    worker.terminate()
    worker = make()
  }
  let number = 0
  const ask = <T>(asked: WithoutNumber<Asked>, read: (answer: Answered) => T | undefined): Promise<T> =>
    new Promise((resolve, reject) => {
      const start = performance.now()
      const mine = (number += 1)
      worker.onmessage = ({ data }: MessageEvent<Answered>) => {
        // An earlier question may still be answered: its answer is of no use any more.
        if (data.number !== mine) return
        const found = read(data)
        if (found !== undefined) {
          performance.measure(asked.what === 'rehearse' ? 'rehearsal' : 'forecast', { start })
          resolve(found)
        } else if ('fault' in data) reject(new Error(data.fault))
      }
      worker.onerror = () => reject(new Error('the rehearsal could not be worked out'))
      worker.postMessage({ ...asked, request: plain(asked.request), number: mine })
    })

  return {
    rehearse: (request) =>
      ask({ what: 'rehearse', request }, (answer) => ('lines' in answer ? answer.lines : undefined)),
    forecast: (request, report) =>
      Promise.race([
        new Promise<null>((resolve) => {
          cancelled = () => resolve(null)
        }),
        ask({ what: 'forecast', request }, (answer) => {
          if ('done' in answer) report(answer.done)
          return 'forecast' in answer ? answer.forecast : undefined
        }),
      ]),
    cancel() {
      renew()
      cancelled?.()
    },
    end: () => worker.terminate(),
  }
}
