import { pino } from 'pino'
import { fixedClock } from '../server/clock.ts'
import { connect } from '../server/database/connect.ts'
import { sharedClock } from '../server/database/sharedClock.ts'
import { defineModels } from '../server/models.ts'
import type { Platform } from '../server/platform.ts'
import type { Settings } from '../server/settings.ts'
import { createSigner } from '../server/signing.ts'

/** A part that runs until it is stopped. */
export interface Part {
  stop(): Promise<void>
}

/** What every command stands on. Nothing is asked of the database yet. */
export function openPlatform(settings: Settings): Platform & { close(): Promise<void> } {
  const database = connect(settings.databaseUrl)
  defineModels(database)
  const log = pino({ level: settings.log }, pino.destination(2))
  return {
    database,
    clock: settings.fixedClock ? fixedClock(Date.parse(settings.fixedClock)) : sharedClock(database, log),
    signer: createSigner(settings.secret),
    settings,
    log,
    close: () => database.close(),
  }
}
