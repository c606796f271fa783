import type { Forecast, ForecastRequest } from '../../core/followups/forecast.ts'
import type { RehearsalLine, RehearsalRequest } from '../../core/followups/rehearsal.ts'

/** What the worker is asked, and what it answers. */
export type Asked =
  { what: 'rehearse'; request: RehearsalRequest } | { what: 'forecast'; request: ForecastRequest }
export type Answered =
  { lines: RehearsalLine[] } | { done: number } | { forecast: Forecast } | { fault: string }

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
  const ask = <T>(asked: Asked, read: (answer: Answered) => T | undefined): Promise<T> =>
    new Promise((resolve, reject) => {
      const start = performance.now()
      worker.onmessage = ({ data }: MessageEvent<Answered>) => {
        const found = read(data)
        if (found !== undefined) {
          performance.measure(asked.what === 'rehearse' ? 'rehearsal' : 'forecast', { start })
          resolve(found)
        } else if ('fault' in data) reject(new Error(data.fault))
      }
      worker.onerror = () => reject(new Error('the rehearsal could not be worked out'))
      worker.postMessage(asked)
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
