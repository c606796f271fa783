// Adds up what the test runners reported, and says it in one line. A runner that left no report, or that found
// something wrong outside of any test, counts as one more failure.
// Arguments: the folder of the reports, and how many of the other checks failed.
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { z } from 'zod'

interface Tally {
  passed: number
  failed: number
}

const unitReport = z
  .object({ success: z.boolean(), numPassedTests: z.number(), numFailedTests: z.number() })
  .transform(({ success, numPassedTests, numFailedTests }): Tally => ({
    passed: numPassedTests,
    failed: success ? 0 : Math.max(1, numFailedTests),
  }))

const browserReport = z
  .object({
    errors: z.array(z.unknown()),
    stats: z.object({ expected: z.number(), unexpected: z.number(), flaky: z.number() }),
  })
  // A test that matchesTest only when it is repeated is a fault of its own.
  .transform(({ errors, stats }): Tally => ({
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky + errors.length,
  }))

const [, , folder = '.', otherFailures = '0'] = process.argv

async function tally(name: string, shape: z.ZodType<Tally>): Promise<Tally> {
  try {
    return shape.parse(JSON.parse(await readFile(join(folder, name), 'utf8')))
  } catch (error) {
    console.error(`${name} cannot be read: ${error instanceof Error ? error.message : String(error)}`)
    return { passed: 0, failed: 1 }
  }
}

const tallies = [await tally('vitest.json', unitReport), await tally('browser.json', browserReport)]
const passed = tallies.reduce((sum, each) => sum + each.passed, 0)
const failed = tallies.reduce((sum, each) => sum + each.failed, Number(otherFailures))
console.log(`${passed} passed, ${failed} failed`)
if (failed > 0 || passed === 0) process.exitCode = 1
