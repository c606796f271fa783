import { createSender } from '../server/email/sending/sender.ts'
import { openTransports } from '../server/email/transport.ts'
import type { TestInstall } from './install.ts'

/** What no worker of a killed process has left behind. */
const nothingHandedOver = { add() {}, told() {}, all: () => new Set<number>(), close() {} }

/** Sends what is due now, as a worker would. @returns how many messages were claimed */
export async function sendDue({ platform }: TestInstall, handedOver = nothingHandedOver): Promise<number> {
  const transports = openTransports(platform.settings)
  const sender = createSender(platform, transports, handedOver, 2)
  try {
    let all = 0
    for (;;) {
      const { claimed, away } = await sender.sendBatch()
      all += claimed
      if (claimed === 0 || away) return all
    }
  } finally {
    transports.close()
  }
}
