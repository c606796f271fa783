// Adds up what the parts of the test run reported: a table of what each took, and all tests in one line. A part that
// left no report, or that found something wrong outside of any test, counts as one more failure.
// Argument: the folder of the reports.
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { z } from 'zod'

interface Tally {
  passed: number
  failed: number
}

const vitestReport = z
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
  // A test that passes only when it is repeated is a fault of its own.
  .transform(({ errors, stats }): Tally => ({
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky + errors.length,
  }))

/** The parts in the order of the table, and how the report of each reads; some are right or wrong as a whole. */
const parts: Record<string, z.ZodType<Tally> | null> = {
  types: null,
  lint: null,
  build: null,
  unit: vitestReport,
  web: vitestReport,
  database: vitestReport,
  browser: browserReport,
}

const [, , folder = '.'] = process.argv

async function readParts(): Promise<Map<string, { seconds: number; ok: boolean }>> {
  const text = await readFile(join(folder, 'parts.tsv'), 'utf8')
  return new Map(
    text
      .trim()
      .split('\n')
      .map((line) => {
        const [name = '', seconds, outcome] = line.split('\t')
        return [name, { seconds: Number(seconds), ok: outcome === 'ok' }]
      }),
  )
}

async function tallyOf(name: string, shape: z.ZodType<Tally> | null, ok: boolean): Promise<Tally> {
  if (!shape) return { passed: 0, failed: ok ? 0 : 1 }
  try {
    return shape.parse(JSON.parse(await readFile(join(folder, `${name}.json`), 'utf8')))
  } catch (error) {
    console.error(`${name}.json cannot be read: ${error instanceof Error ? error.message : String(error)}`)
    return { passed: 0, failed: 1 }
  }
}

const ran = await readParts()
const sum: Tally = { passed: 0, failed: 0 }
console.log('\npart       seconds   passed   failed')
for (const [name, shape] of Object.entries(parts)) {
  const { seconds = 0, ok = false } = ran.get(name) ?? {}
  const { passed, failed } = await tallyOf(name, shape, ok)
  sum.passed += passed
  sum.failed += failed
  const counts = shape ? String(passed).padStart(9) : '         '
  console.log(`${name.padEnd(9)}${seconds.toFixed(1).padStart(9)}${counts}${String(failed).padStart(9)}`)
}
console.log(`\n${sum.passed} passed, ${sum.failed} failed`)
if (sum.failed > 0 || sum.passed === 0) process.exitCode = 1
