import { vi } from 'vitest'

// What Vuetify asks of a browser and happy-dom does not have.
vi.stubGlobal(
  'visualViewport',
  Object.assign(new EventTarget(), { width: 1280, height: 800, offsetLeft: 0, offsetTop: 0, scale: 1 }),
)
