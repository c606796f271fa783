import { execFileSync, spawn } from 'node:child_process'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { report, round } from './report.ts'

/** Seconds until the demo of a checkout says that it is ready; then it is stopped and waited for. */
async function untilReady(checkout: string, env: NodeJS.ProcessEnv): Promise<number> {
  const from = performance.now()
  const child = spawn('bin/demo', [], { cwd: checkout, env, stdio: ['ignore', 'pipe', 'inherit'] })
  const ended = new Promise<void>((done) => child.once('exit', () => done()))
  await new Promise<void>((ready, fail) => {
    child.stdout.on('data', (words: Buffer) => {
      if (words.toString().includes('Nurtel is ready')) ready()
    })
    child.once('exit', (code) => fail(new Error(`the demo ended with ${code}`)))
  })
  const seconds = (performance.now() - from) / 1000
  child.kill('SIGTERM')
  await ended
  return seconds
}

/**
 * From nothing to a demo that answers: a clean clone of what is committed, with npm's cache filled and Debian's
 * packages there, and then a second start of the same. The yardstick is npm ci alone.
 */
export async function start(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'nurtel-start-'))
  const checkout = join(folder, 'checkout')
  const env: NodeJS.ProcessEnv = {
    ...process.env,
    NURTEL_DATA_DIR: `${folder}-data`,
    NURTEL_PG_PORT: process.env.BENCH_PG_PORT,
  }
  delete env.DATABASE_URL
  delete env.NURTEL_SECRET
  try {
    execFileSync('git', ['clone', '--quiet', '.', checkout])
    const first = round(await untilReady(checkout, env))
    const second = round(await untilReady(checkout, env))
    const from = performance.now()
    execFileSync('npm', ['ci', '--silent'], { cwd: checkout, stdio: 'ignore' })
    const npmCi = round((performance.now() - from) / 1000)
    report(
      'start',
      [
        { what: 'clean clone to ready', ours: `${first} s`, yardstick: `npm ci alone: ${npmCi} s` },
        { what: 'second start to ready', ours: `${second} s` },
      ],
      { first_start_s: first, second_start_s: second, npm_ci_s: npmCi },
    )
  } finally {
    await rm(folder, { recursive: true })
    await rm(`${folder}-data`, { recursive: true, force: true })
  }
}
