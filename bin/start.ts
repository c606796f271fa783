import { join } from 'node:path'
import { pino } from 'pino'
import { startStandins } from '../standins/start.ts'
import { fixedClock, systemClock } from '../server/clock.ts'
import { connect } from '../server/database/connect.ts'
import { openTransports } from '../server/email/transport.ts'
import { openLive } from '../server/http/live.ts'
import { defineModels } from '../server/models.ts'
import { openVisits } from '../server/pages/visits.ts'
import type { Platform } from '../server/platform.ts'
import { longestAnswer, openQuestions } from '../server/http/questions.ts'
import type { Settings } from '../server/settings.ts'
import { createSigner } from '../server/signing.ts'
import { startWorker } from '../server/work/worker.ts'
import { stillSignedIn } from '../server/workspace/signIn.ts'
import { createWeb, listen } from './web.ts'

/** A part that runs until it is stopped. */
export interface Part {
  stop(): Promise<void>
}

/** What every command stands on. Nothing is asked of the database yet. */
export function openPlatform(settings: Settings): Platform & { close(): Promise<void> } {
  const database = connect(settings.databaseUrl)
  defineModels(database)
  return {
    database,
    clock: settings.fixedClock ? fixedClock(Date.parse(settings.fixedClock)) : systemClock,
    signer: createSigner(settings.secret),
    settings,
    log: pino({ level: settings.log }, pino.destination(2)),
    close: () => database.close(),
  }
}

/**
 * Serves pages, API and application. Whoever asks something waits for it, so statements have a time limit here, on
 * connections that no worker shares.
 */
export async function serve(base: Platform): Promise<Part> {
  const { settings, log } = base
  const database = connect(settings.databaseUrl, { statementTimeout: longestAnswer })
  const platform = { ...base, database, questions: openQuestions(settings.databaseUrl) }
  const live = openLive(settings.databaseUrl, log, (hashes) => stillSignedIn(platform, hashes))
  const visits = openVisits(database, base.clock, log)
  const close = async (): Promise<void> => {
    await live.close()
    await platform.questions.close()
    await database.close()
  }
  const server = await listen(createWeb(platform, live, visits), settings).catch(async (error: unknown) => {
    await close()
    throw error
  })
  return {
    async stop() {
      await live.close()
      server.closeIdleConnections()
      const closed = new Promise<void>((done) => server.close(() => done()))
      // Requests under way get a moment; kept connections do not hold the end up.
      setTimeout(() => server.closeAllConnections(), 2_000).unref()
      await closed
      await visits.close()
      await close()
    },
  }
}

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

/** Plays the outside world. */
export function standins(platform: Platform): Promise<Part> {
  const { smtpPort: smtp, standinsPort: http, dataDir } = platform.settings
  const inbox = dataDir && join(dataDir, 'test-inbox.jsonl')
  return startStandins({ smtp, http, inbox }, () => new Date(platform.clock.now()))
}
