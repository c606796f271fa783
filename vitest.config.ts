import vue from '@vitejs/plugin-vue'
import vuetify from 'vite-plugin-vuetify'
import { defineConfig } from 'vitest/config'

/** Time is measured in benchmarks: a test only ends when nothing comes any more, on a busy machine too. */
const limits = { testTimeout: 120_000, hookTimeout: 120_000, expect: { poll: { timeout: 30_000 } } }

export default defineConfig({
  test: {
    // Two cores: two files at a time leave the database room to answer.
    maxWorkers: 2,
    projects: [
      {
        test: {
          name: 'unit',
          // Files of one worker share what they import: each resets what it changes.
          isolate: false,
          include: ['{core,contract,visitor,demo,standins,server}/**/*.test.ts'],
          exclude: ['{server,visitor}/**/*.db.test.ts'],
          ...limits,
        },
      },
      {
        plugins: [vue(), vuetify({ autoImport: true })],
        test: {
          name: 'web',
          isolate: false,
          include: ['web/**/*.test.ts'],
          environment: './testing/oneBrowser.ts',
          setupFiles: ['testing/browser.ts'],
          css: false,
          server: { deps: { inline: ['vuetify'] } },
          ...limits,
        },
      },
      {
        test: {
          name: 'database',
          isolate: false,
          include: ['{server,visitor,bin}/**/*.db.test.ts'],
          globalSetup: ['testing/template.ts'],
          ...limits,
        },
      },
    ],
  },
})
