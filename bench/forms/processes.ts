import { spawn, type ChildProcess } from 'node:child_process'
import { readFile } from 'node:fs/promises'
import { eventually } from '../../testing/waiting.ts'

/** A process that the benchmark measures. */
export interface Measurable {
  pid: number
  stop(): Promise<void>
  /** Ends it without a word. */
  kill(): Promise<void>
}

export function measurable(child: ChildProcess): Measurable {
  const end = (signal: 'SIGTERM' | 'SIGKILL') => (): Promise<void> =>
    new Promise((done) => {
      child.once('exit', () => done())
      child.kill(signal)
    })
  return { pid: child.pid ?? 0, stop: end('SIGTERM'), kill: end('SIGKILL') }
}

/** @param flags of Node.js */
export const start = (
  file: string,
  args: readonly string[],
  env: Record<string, string>,
  flags: readonly string[] = [],
): ChildProcess =>
  spawn(process.execPath, [...flags, '--import', 'tsx', file, ...args], {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'ignore', 'inherit'],
  })

/** Starts a web process without a worker, and waits until it answers. */
export async function startWeb(url: string, env: Record<string, string>): Promise<Measurable> {
  const child = start('bin/nurtel.ts', ['serve'], env)
  await eventually(async () => (await fetch(`${url}/healthz`).catch(() => null))?.ok === true, 30_000)
  return measurable(child)
}

/** Starts the yardstick of forms. */
export async function startPlainInsert(port: number, env: Record<string, string>): Promise<Measurable> {
  const child = start('bench/forms/plainInsert.ts', [String(port)], env)
  await eventually(async () => (await fetch(`http://127.0.0.1:${port}/`).catch(() => null)) !== null, 30_000)
  return measurable(child)
}

/** The memory of a process that is in use (MB), as Linux tells it. */
export async function memoryOf({ pid }: Measurable): Promise<number> {
  const status = await readFile(`/proc/${pid}/status`, 'utf8')
  return Number(/VmRSS:\s+(\d+) kB/.exec(status)?.[1] ?? Number.NaN) / 1024
}
