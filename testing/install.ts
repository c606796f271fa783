import { randomBytes } from 'node:crypto'
import { pino } from 'pino'
import { createWeb, listen } from '../bin/web.ts'
import { movableClock } from '../server/clock.ts'
import { gatewaySecrets } from '../server/commerce/gateway.ts'
import { connect } from '../server/database/connect.ts'
import { openTransports } from '../server/email/transport.ts'
import { openLive } from '../server/http/live.ts'
import { openFormCounts } from '../server/capture/formCounts.ts'
import { openPasses } from '../server/junctions/passes.ts'
import { openQuizViews } from '../server/quizzes/quizViews.ts'
import { openVisits } from '../server/pages/visits.ts'
import { defineModels } from '../server/models.ts'
import type { Platform, WebPlatform } from '../server/platform.ts'
import { openQuestions } from '../server/http/questions.ts'
import { readSettings } from '../server/settings.ts'
import { createSigner } from '../server/signing.ts'
import { startWorker, type Worker } from '../server/work/worker.ts'
import { stillSignedIn } from '../server/workspace/signIn.ts'
import { startStandins, type Standins } from '../standins/start.ts'
import { freePort } from './freePort.ts'
import { onServer, template, urlOf } from './databases.ts'
import { readFilled, testStart, type Filled } from './filled.ts'

/** What answers requests, as one web process does. */
interface Web {
  url: string
  close(): Promise<void>
}

/** A whole install on a database of its own, with a clock that the test moves. */
export interface TestInstall extends Filled {
  platform: WebPlatform
  clock: ReturnType<typeof movableClock>
  url: string
  mail: { standins: Standins | null; start(): Promise<void>; stop(): Promise<void> }
  startWorker(): Promise<Worker>
  /** Starts another web process' worth of server beside the first. */
  startWeb(): Promise<Web>
  close(): Promise<void>
}

async function startWeb(platform: WebPlatform, port: number): Promise<Web> {
  const { settings, log, database, clock } = platform
  const live = openLive(settings.databaseUrl, log, (hashes) => stillSignedIn(platform, hashes))
  const visits = openVisits(database, clock, log)
  const counts = openFormCounts(database, clock, log)
  const passes = openPasses(database, clock, log)
  const quizViews = openQuizViews(database, clock, log)
  const server = await listen(createWeb(platform, { live, visits, counts, passes, quizViews }), {
    host: settings.host,
    port,
  })
  return {
    url: `http://127.0.0.1:${port}`,
    async close() {
      await live.close()
      server.closeAllConnections()
      await new Promise((done) => server.close(done))
      await visits.close()
      await counts.close()
      await passes.close()
      await quizViews.close()
    },
  }
}

/**
 * Opens an install with the template pack's page, emails and follow-up in it, and nobody on the list.
 * @param options.patience how long a question may take, in milliseconds
 */
export async function openInstall(
  env: Record<string, string> = {},
  { patience }: { patience?: number } = {},
): Promise<TestInstall> {
  const name = `nurtel_${randomBytes(6).toString('hex')}`
  await onServer(`create database ${name} template ${template}`)
  const port = await freePort()
  const settings = readSettings({
    DATABASE_URL: urlOf(name),
    NURTEL_SECRET: 'a secret for tests that is long enough',
    NURTEL_PORT: String(port),
    NURTEL_LEAST_FORM_TIME: '0',
    NURTEL_SMTP_PORT: String(await freePort()),
    NURTEL_STANDINS_PORT: String(await freePort()),
    NURTEL_OTHER_SITE_PORT: String(await freePort()),
    NURTEL_GATEWAY_PORT: String(await freePort()),
    NURTEL_PUBLIC_RATE: '1000',
    NURTEL_LOG: 'silent',
    ...env,
  })
  const database = connect(settings.databaseUrl, { connections: 6 })
  defineModels(database)
  const clock = movableClock(testStart)
  const base: Platform = {
    database,
    clock,
    signer: createSigner(settings.secret),
    settings,
    log: pino({ level: settings.log }),
  }
  const platform: WebPlatform = { ...base, questions: openQuestions(settings.databaseUrl, patience) }
  const web = await startWeb(platform, port)
  const more: Web[] = []
  const transports = openTransports(settings)
  const workers: Worker[] = []

  const mail: TestInstall['mail'] = {
    standins: null,
    async start() {
      const now = (): Date => new Date(clock.now())
      const { key, events } = gatewaySecrets(settings)
      mail.standins = await startStandins(
        {
          smtp: settings.smtpPort,
          http: settings.standinsPort,
          otherSite: settings.otherSitePort,
          origin: settings.publicUrl,
          gateway: { port: settings.gatewayPort, key, secret: events, file: null, lateAfter: 400 },
        },
        now,
      )
    },
    async stop() {
      await mail.standins?.stop()
      mail.standins = null
    },
  }
  await mail.start()

  return {
    platform,
    clock,
    url: settings.publicUrl,
    ...(await readFilled(database)),
    mail,
    async startWorker() {
      const worker = await startWorker(platform, transports)
      const stop = async (): Promise<void> => {
        workers.splice(workers.indexOf(running), 1)
        await worker.stop()
      }
      const running: Worker = { stop }
      workers.push(running)
      return running
    },
    async startWeb() {
      const another = await startWeb(platform, await freePort())
      more.push(another)
      return another
    },
    async close() {
      for (const worker of [...workers]) await worker.stop()
      transports.close()
      for (const each of [...more, web]) await each.close()
      await mail.stop()
      await platform.questions.close()
      await database.close()
      await onServer(`drop database if exists ${name} with (force)`)
    },
  }
}
