import { openTransports } from '../server/email/transport.ts'
import type { Platform } from '../server/platform.ts'
import { startWorker } from '../server/work/worker.ts'
import type { Part } from './platform.ts'

/** Carries out jobs and advances follow-ups. */
export async function work(platform: Platform): Promise<Part> {
  const transports = openTransports(platform.settings)
  const worker = await startWorker(platform, transports)
  return {
    async stop() {
      await worker.stop()
      transports.close()
    },
  }
}
