// Adds up what the test runners reported, and says it in one line. Fails when a runner left no report.
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { z } from 'zod'

const vitestReport = z.object({ numPassedTests: z.number(), numFailedTests: z.number() })
const browserReport = z.object({
  stats: z.object({ expected: z.number(), unexpected: z.number(), flaky: z.number() }),
})

async function read<T>(name: string, shape: z.ZodType<T>): Promise<T> {
  return shape.parse(JSON.parse(await readFile(join(process.argv[2] ?? '.', name), 'utf8')))
}

const unit = await read('vitest.json', vitestReport)
const { stats } = await read('browser.json', browserReport)
// A test that passes only when it is repeated is a fault of its own.
const failed = unit.numFailedTests + stats.unexpected + stats.flaky
console.log(`${unit.numPassedTests + stats.expected} passed, ${failed} failed`)
if (failed > 0) process.exitCode = 1
