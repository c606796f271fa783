import { afterEach, vi } from 'vitest'
import { closeLive } from '../web/live.ts'

// What Vuetify asks of a browser and happy-dom does not have.
vi.stubGlobal(
  'visualViewport',
  Object.assign(new EventTarget(), { width: 1280, height: 800, offsetLeft: 0, offsetTop: 0, scale: 1 }),
)

/** The server's stream of changes, which happy-dom does not have: nothing ever changes. */
class QuietStream extends EventTarget {
  close(): void {}
}
vi.stubGlobal('EventSource', QuietStream)

// Files of one worker share what they import, the stream of whom a test signed in among it.
afterEach(closeLive)
