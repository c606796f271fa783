import { join } from 'node:path'
import { gatewaySecrets } from '../server/commerce/gateway.ts'
import type { Platform } from '../server/platform.ts'
import { startStandins } from '../standins/start.ts'
import type { Part } from './platform.ts'

/** Plays the outside world. */
export function standins(platform: Platform): Promise<Part> {
  const {
    smtpPort: smtp,
    standinsPort: http,
    otherSitePort: otherSite,
    gatewayPort: port,
    publicUrl,
    dataDir,
  } = platform.settings
  const inbox = dataDir && join(dataDir, 'test-inbox.jsonl')
  const { key, events: secret } = gatewaySecrets(platform.settings)
  const gateway = { port, key, secret, file: dataDir && join(dataDir, 'charges.jsonl') }
  return startStandins(
    { smtp, http, otherSite, origin: new URL(publicUrl).origin, gateway, inbox },
    () => new Date(platform.clock.now()),
  )
}
