import { defineConfig } from 'vitest/config'

export default defineConfig({
  test: {
    // Two cores: two files at a time leave the database room to answer.
    maxWorkers: 2,
    projects: [
      {
        test: {
          name: 'unit',
          include: ['{core,contract,web,visitor,demo,standins,server}/**/*.test.ts'],
          exclude: ['{server,visitor,bin}/**/*.db.test.ts'],
        },
      },
      {
        test: {
          name: 'database',
          include: ['{server,visitor,bin}/**/*.db.test.ts'],
          globalSetup: ['testing/template.ts'],
          testTimeout: 30_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
})
