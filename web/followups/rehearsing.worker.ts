import { forecast } from '../../core/followups/forecast.ts'
import { rehearse } from '../../core/followups/rehearsal.ts'
import type { Answered, Asked } from './rehearsing.ts'

const say = (answer: Answered): void => self.postMessage(answer)

self.onmessage = ({ data }: MessageEvent<Asked>) => {
  try {
    if (data.what === 'rehearse') {
      say({ lines: rehearse(data.request) })
      return
    }
    const found = forecast(data.request, (done) => {
      say({ done })
      return true
    })
    if (found) say({ forecast: found })
  } catch (error) {
    say({ fault: error instanceof Error ? error.message : String(error) })
  }
}
