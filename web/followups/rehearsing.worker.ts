import { forecast } from '../../core/followups/forecast.ts'
import { rehearse } from '../../core/followups/rehearsal.ts'
import type { Answered, Asked } from './rehearsing.ts'

self.onmessage = ({ data }: MessageEvent<Asked>) => {
  const { number } = data
  const say = (answer: Answered): void => self.postMessage(answer)
  try {
    if (data.what === 'rehearse') {
      say({ number, lines: rehearse(data.request) })
      return
    }
    const found = forecast(data.request, (done) => {
      say({ number, done })
      return true
    })
    if (found) say({ number, forecast: found })
  } catch (error) {
    say({ number, fault: error instanceof Error ? error.message : String(error) })
  }
}
