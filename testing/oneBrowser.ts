import { builtinEnvironments, type Environment } from 'vitest/runtime'

/** Has this worker its browser? Kept with the worker, since each file loads this anew. */
const kept = globalThis as { hasBrowser?: boolean }

/**
 * A browser (happy-dom) for all files of a worker, as they share what they import: setting one up for each file took
 * a fifth of the time of these tests.
 */
const oneBrowser: Environment = {
  name: 'one-browser',
  viteEnvironment: 'client',
  async setup(global, options) {
    if (!kept.hasBrowser) {
      await builtinEnvironments['happy-dom'].setup(global, options)
      kept.hasBrowser = true
    }
    return { teardown: () => undefined }
  },
}
export default oneBrowser
