import { join } from 'node:path'
import type { Platform } from '../server/platform.ts'
import { startStandins } from '../standins/start.ts'
import type { Part } from './platform.ts'

/** Plays the outside world. */
export function standins(platform: Platform): Promise<Part> {
  const {
    smtpPort: smtp,
    standinsPort: http,
    otherSitePort: otherSite,
    publicUrl,
    dataDir,
  } = platform.settings
  const inbox = dataDir && join(dataDir, 'test-inbox.jsonl')
  return startStandins(
    { smtp, http, otherSite, origin: new URL(publicUrl).origin, inbox },
    () => new Date(platform.clock.now()),
  )
}
