import { spawn, type ChildProcess } from 'node:child_process'

/** A demo that runs beside this process. */
export interface RunningDemo {
  url: string
  stop(): Promise<void>
}

function ended(child: ChildProcess): Promise<void> {
  return new Promise((done) => {
    if (child.exitCode !== null || child.signalCode !== null) done()
    else child.once('exit', () => done())
  })
}

/** Starts the demo with the environment of this process, and waits until it says that it is ready. */
export async function startDemo(env: Record<string, string> = {}): Promise<RunningDemo> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'bin/nurtel.ts', 'demo'], {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  await new Promise<void>((ready, fail) => {
    child.stdout.on('data', (words: Buffer) => {
      if (words.toString().includes('Nurtel is ready')) ready()
    })
    child.once('exit', (code) => fail(new Error(`the demo ended with ${code} before it was ready`)))
  })
  return {
    url: `http://127.0.0.1:${env.NURTEL_PORT ?? process.env.NURTEL_PORT ?? 4600}`,
    async stop() {
      child.kill('SIGTERM')
      await ended(child)
    },
  }
}
