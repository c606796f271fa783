import { join } from 'node:path'
import { defineConfig } from '@playwright/test'
import { chromium } from './browser.ts'

export default defineConfig({
  testDir: '.',
  outputDir: '../test-results',
  globalSetup: './demoForTests.ts',
  // All tests share one demo: one worker changes it, the other only reads.
  workers: 2,
  // Time is measured in benchmarks: a test only ends when nothing comes any more, on a busy machine too.
  timeout: 240_000,
  expect: { timeout: 30_000 },
  reporter: [
    ['list'],
    ...(process.env.REPORTS
      ? [['json', { outputFile: join(process.env.REPORTS, 'browser.json') }] as const]
      : []),
  ],
  use: {
    baseURL: `http://127.0.0.1:${process.env.NURTEL_PORT ?? 4600}`,
    // One that never comes is not waited for until the test ends: what follows needs the time.
    actionTimeout: 60_000,
    viewport: { width: 1280, height: 800 },
    reducedMotion: 'reduce',
    screenshot: 'only-on-failure',
    launchOptions: chromium,
  },
})
