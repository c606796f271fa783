import type { Logger } from 'pino'
import type { Clock } from './clock.ts'
import type { Database } from './database/connect.ts'
import type { Settings } from './settings.ts'
import type { Questions } from './http/questions.ts'
import type { Signer } from './signing.ts'

/** What every service stands on, handed in once at the start. */
export interface Platform {
  database: Database
  clock: Clock
  signer: Signer
  settings: Settings
  log: Logger
}

/** What those services stand on besides that answer somebody who waits. */
export interface WebPlatform extends Platform {
  questions: Questions
}
