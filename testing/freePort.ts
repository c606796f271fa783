import { createServer } from 'node:net'

/** Each process of tests takes ports of its own, below those that the system gives to connections going out. */
const firstPort = 10_000 + (Number(process.env.VITEST_POOL_ID ?? process.pid) % 20) * 1_000
let portsTaken = 0

/** A loopback port that nobody listens on. */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = firstPort + (portsTaken++ % 1_000)
    const server = createServer()
    const isFree = await new Promise<boolean>((done) => {
      server.once('error', () => done(false))
      server.listen(port, '127.0.0.1', () => done(true))
    })
    if (!isFree) continue
    await new Promise((done) => server.close(done))
    return port
  }
}
