// Adds up what the parts of the test run reported: a table of what each took, which tests failed and why, and all
// tests in one line. A part that left no report, or that found something wrong outside of any test, counts as one
// more failure.
// Argument: the folder of the reports.
import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { z } from 'zod'

interface Tally {
  passed: number
  failed: number
  /** What went wrong, a test each: its name, and what it says of it. */
  failures: string[]
}

/** How much of what a failed test says is repeated at the end; the whole stands in what its part printed. */
const failureLetters = 900

const assertion = z.object({
  status: z.string(),
  fullName: z.string(),
  failureMessages: z.array(z.string()).default([]),
})

const vitestReport = z
  .object({
    success: z.boolean(),
    numPassedTests: z.number(),
    numFailedTests: z.number(),
    testResults: z.array(z.object({ message: z.string(), assertionResults: z.array(assertion) })),
  })
  .transform(({ success, numPassedTests, numFailedTests, testResults }): Tally => ({
    passed: numPassedTests,
    failed: success ? 0 : Math.max(1, numFailedTests),
    failures: testResults.flatMap(({ message, assertionResults }) => [
      ...(message ? [message] : []),
      ...assertionResults
        .filter(({ status }) => status === 'failed')
        .map(({ fullName, failureMessages }) => [fullName, ...failureMessages].join('\n')),
    ]),
  }))

const fault = z.object({ message: z.string().default('') })

const spec = z.object({
  title: z.string(),
  ok: z.boolean(),
  tests: z.array(z.object({ results: z.array(z.object({ errors: z.array(fault).default([]) })) })),
})

/** A file, or a group of tests in one. */
interface BrowserSuite {
  title: string
  specs: z.infer<typeof spec>[]
  suites: BrowserSuite[]
}

const browserSuite: z.ZodType<BrowserSuite> = z.lazy(() =>
  z.object({
    title: z.string(),
    specs: z.array(spec).default([]),
    suites: z.array(browserSuite).default([]),
  }),
)

function browserFailures({ title, specs, suites }: BrowserSuite): string[] {
  const failed = specs.filter(({ ok }) => !ok)
  return [
    ...failed.map((each) => {
      const errors = each.tests.flatMap(({ results }) => results.flatMap(({ errors }) => errors))
      return [`${title}: ${each.title}`, ...errors.map(({ message }) => message)].join('\n')
    }),
    ...suites.flatMap(browserFailures),
  ]
}

const browserReport = z
  .object({
    errors: z.array(fault),
    stats: z.object({ expected: z.number(), unexpected: z.number(), flaky: z.number() }),
    suites: z.array(browserSuite),
  })
  // A test that passes only when it is repeated is a fault of its own.
  .transform(({ errors, stats, suites }): Tally => ({
    passed: stats.expected,
    failed: stats.unexpected + stats.flaky + errors.length,
    failures: [...errors.map(({ message }) => message), ...suites.flatMap(browserFailures)],
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
  if (!shape) return { passed: 0, failed: ok ? 0 : 1, failures: [] }
  try {
    return shape.parse(JSON.parse(await readFile(join(folder, `${name}.json`), 'utf8')))
  } catch (error) {
    console.error(`${name}.json cannot be read: ${error instanceof Error ? error.message : String(error)}`)
    return { passed: 0, failed: 1, failures: [] }
  }
}

const ran = await readParts()
const sum: Tally = { passed: 0, failed: 0, failures: [] }
console.log('\npart       seconds   passed   failed')
for (const [name, shape] of Object.entries(parts)) {
  const { seconds = 0, ok = false } = ran.get(name) ?? {}
  const { passed, failed, failures } = await tallyOf(name, shape, ok)
  sum.passed += passed
  sum.failed += failed
  sum.failures.push(...failures.map((failure) => `${name}: ${failure}`))
  const counts = shape ? String(passed).padStart(9) : '         '
  console.log(`${name.padEnd(9)}${seconds.toFixed(1).padStart(9)}${counts}${String(failed).padStart(9)}`)
}
for (const failure of sum.failures) console.log(`\n✗ ${failure.slice(0, failureLetters)}`)
console.log(`\n${sum.passed} passed, ${sum.failed} failed`)
if (sum.failed > 0 || sum.passed === 0) process.exitCode = 1
