import { setTimeout } from 'node:timers/promises'
import type { Platform } from '../../platform.ts'
import { connections, type Transports } from '../transport.ts'
import { openHandedOver } from './handedOver.ts'
import { createSender } from './sender.ts'

/** So many batches are under way at once: while one is written down, another one is on the wire. */
const lanes = 2

/** How often somebody looks whether messages are due (milliseconds): one index probe, however many wait. */
const lookEvery = 250

/** After a mail server did not answer, or the database, nobody tries for so long (milliseconds). */
const restFor = 2_000

/** Sends what is due until it is stopped. @param worker its name */
export function startSending(
  platform: Platform,
  transports: Transports,
  worker: string,
): { stop: () => Promise<void> } {
  const stopping = new AbortController()
  const { signal } = stopping
  const rest = (milliseconds: number): Promise<void> =>
    setTimeout(milliseconds, undefined, { signal }).catch(() => undefined)

  async function lane(n: number): Promise<void> {
    const handedOver = openHandedOver(platform.settings.dataDir, `${worker}-${n}`)
    const sender = createSender(platform, transports, handedOver, connections / lanes)
    while (!signal.aborted) {
      let pause = lookEvery
      try {
        const { claimed, away } = await sender.sendBatch()
        if (away) pause = restFor
        else if (claimed > 0) pause = 0
      } catch (error) {
        platform.log.warn({ reason: String(error) }, 'messages will be sent again')
        pause = restFor
      }
      if (pause > 0) await rest(pause)
    }
    handedOver.close()
  }

  const running = Promise.all(Array.from({ length: lanes }, (_, n) => lane(n)))
  return {
    async stop() {
      stopping.abort()
      await running
    },
  }
}
