import { buyerLinkEmail } from '../commerce/buyerLinks.ts'
import { EventEmitter } from 'node:events'
import { hostname } from 'node:os'
import { Logger, makeWorkerUtils, run, type TaskList, type WorkerEvents } from 'graphile-worker'
import type { Transports } from '../email/transport.ts'
import type { SendMailOptions } from 'nodemailer'
import { addressConfirmationEmail } from '../audience/people/addressChange.ts'
import { confirmationEmail, fileEmail, teamEmail } from '../capture/formEmails.ts'
import { previewFile } from '../capture/filePreviews.ts'
import { forgetBrokenUploads } from '../capture/files.ts'
import { endConfirmations, remindWaiting } from '../capture/waiting.ts'
import { clearImports } from '../audience/imports/imports.ts'
import { noticeCrossings, scorePeople } from '../audience/scores/scoring.ts'
import { countSegments } from '../audience/segments/segmentCounts.ts'
import { renewTemplates } from '../email/emailDrafts.ts'
import { decideDueTests } from '../email/broadcasts/deciding.ts'
import { beginPlanned } from '../email/broadcasts/starting.ts'
import { tidyHandedOver } from '../email/sending/handedOver.ts'
import { startSending } from '../email/sending/sendingLoop.ts'
import { decideHastyClicks } from '../email/hastyClicks.ts'
import { senderConfirmation } from '../email/senders.ts'
import { testMail } from '../email/tryingOut.ts'
import { ensureActivityMonths } from '../database/migrate.ts'
import { callWebhook, teamNote } from '../followups/outside.ts'
import { advanceDue } from '../followups/advancing.ts'
import { checkLiveFunnels } from '../funnels/checking.ts'
import { lookForStarts } from '../followups/members.ts'
import { startFollowups } from '../followups/starting.ts'
import { takeEvents } from '../commerce/gatewayEvents.ts'
import { lookAfterPayments, takePayment } from '../commerce/taking.ts'
import { noteLeftCarts } from '../commerce/leftCarts.ts'
import { makeRefund } from '../commerce/refunds.ts'
import { chargeDue } from '../commerce/laterPayments.ts'
import { cardEmail, receiptEmail, priceEmail } from '../commerce/receipts.ts'
import { jobPayloads, type JobName } from './jobs.ts'
import { runWork } from './longWork.ts'
import { forgetPassTokens } from '../junctions/passTokens.ts'
import { noteLeftQuizzes } from '../quizzes/finishing.ts'
import { forgetOldVisits } from '../pages/visits.ts'
import type { Platform } from '../platform.ts'
import { randomToken } from '../signing.ts'
import { workKinds } from './workKinds.ts'
import { workerIsDeadAfter } from '../workspace/health.ts'
import { forgetSignInTries } from '../workspace/signInTries.ts'

/** How often somebody looks whether enrolments are due: one index probe a worker, however many people wait. */
const lookEvery = 1_000
const heartbeatEvery = 5_000

export interface Worker {
  stop(): Promise<void>
}

/** The jobs by name. A payload that does not fit its shape fails the job before anything happens. */
function tasks(platform: Platform, transports: Transports): TaskList {
  const {
    startFollowups: start,
    scorePeople: score,
    sendConfirmation: confirm,
    sendFile: file,
    notifyTeam: notice,
    previewFile: preview,
    sendAddressConfirmation: confirmAddress,
    sendTest: test,
    tellTeam: tell,
    callWebhook: call,
    sendSenderConfirmation: confirmSender,
    takePayment: take,
    makeRefund: refund,
    sendReceipt: receipt,
    sendBuyerLink: way,
    tellPrice: price,
    askForCard: card,
    longWork: work,
  } = jobPayloads
  const send = async (email: { mail: SendMailOptions; rehearsal: boolean } | null): Promise<void> => {
    if (email) await transports.send(email.mail, email.rehearsal)
  }
  const list: Record<JobName, TaskList[string]> = {
    startFollowups: (payload) => startFollowups(platform, start.parse(payload)),
    scorePeople: (payload) => scorePeople(platform, score.parse(payload).contacts),
    sendConfirmation: async (payload) =>
      send(await confirmationEmail(platform, confirm.parse(payload).confirmation)),
    sendFile: async (payload) => send(await fileEmail(platform, file.parse(payload))),
    tellTeam: async (payload) => send(await teamNote(platform, tell.parse(payload))),
    callWebhook: (payload) => callWebhook(platform, call.parse(payload)),
    takePayment: (payload) => takePayment(platform, take.parse(payload)),
    makeRefund: (payload) => makeRefund(platform, refund.parse(payload)),
    askForCard: async (payload) => send(await cardEmail(platform, card.parse(payload))),
    sendBuyerLink: async (payload) => send(await buyerLinkEmail(platform, way.parse(payload))),
    tellPrice: async (payload) => send(await priceEmail(platform, price.parse(payload))),
    sendReceipt: async (payload) => send(await receiptEmail(platform, receipt.parse(payload))),
    previewFile: (payload) => previewFile(platform, preview.parse(payload)),
    notifyTeam: async (payload) => send(await teamEmail(platform, notice.parse(payload))),
    sendAddressConfirmation: async (payload) =>
      send(await addressConfirmationEmail(platform, confirmAddress.parse(payload).change)),
    sendSenderConfirmation: async (payload) => {
      const mail = await senderConfirmation(platform, confirmSender.parse(payload).sender)
      if (mail) await transports.send(mail, false)
    },
    sendTest: async (payload) => {
      const mail = await testMail(platform, test.parse(payload))
      if (mail) await transports.send(mail, false)
    },
    renewEmails: () => renewTemplates(platform),
    longWork: (payload) => runWork(platform, work.parse(payload).work, workKinds(platform)),
    lookForStarts: () => lookForStarts(platform),
    countSegments: () => countSegments(platform),
    checkFunnels: () => checkLiveFunnels(platform.database, new Date(platform.clock.now())),
    remindWaiting: () => remindWaiting(platform),
    maintenance: async () => {
      await ensureActivityMonths(platform.database, platform.clock.now())
      await countSegments(platform, platform.clock.now())
      await clearImports(platform)
      await endConfirmations(platform)
      await forgetBrokenUploads(platform)
      await forgetSignInTries(platform)
      await forgetOldVisits(platform)
      await forgetPassTokens(platform)
      await tidyHandedOver(platform.database, platform.settings.dataDir)
    },
  }
  return list
}

/** Calls work at an interval, never twice at once; a failure is logged and the next turn tries again. */
function interval(platform: Platform, every: number, work: () => Promise<unknown>): () => Promise<void> {
  let running: Promise<unknown> = Promise.resolve()
  let busy = false
  const timer = setInterval(() => {
    if (busy) return
    busy = true
    running = work()
      .catch((error: unknown) => platform.log.warn({ err: error }, 'will try again'))
      .finally(() => {
        busy = false
      })
  }, every)
  return async () => {
    clearInterval(timer)
    await running
  }
}

/** The queue speaks through our log; its news of every job is of no use there. */
function queueLogger(platform: Platform): Logger {
  return new Logger(() => (level, message, meta) => {
    const severity: string = level
    if (severity === 'error') platform.log.warn({ meta }, message)
  })
}

/**
 * Starts a worker: jobs from the queue, due enrolments, and a heartbeat. Any number of workers share the
 * work. Jobs that a killed worker held are freed once its heartbeat has stopped; the queue alone would keep
 * them locked for four hours.
 */
export async function startWorker(platform: Platform, transports: Transports): Promise<Worker> {
  const { database, clock } = platform
  const id = `${hostname()}-${process.pid}-${randomToken().slice(0, 6)}`
  // Not under this process' name: the queue ends its own connections, and takes it ill when others do.
  const connectionString = platform.settings.databaseUrl
  // What the queue writes by itself may be lost with the database's last moment: a job then runs again, as after a
  // worker that was killed. So nobody waits for the disk, who has something to commit beside it.
  const queueUrl = new URL(connectionString)
  const options = queueUrl.searchParams.get('options') ?? ''
  queueUrl.searchParams.set('options', `${options} -c synchronous_commit=off`.trim())

  const utils = await makeWorkerUtils({ connectionString })
  const holders: string[] = []
  const events: WorkerEvents = new EventEmitter()
  // Jobs are locked in the name of the pool, whichever of its workers does them.
  events.on('pool:create', ({ workerPool }) => holders.push(workerPool.id))

  const beat = async (): Promise<void> => {
    await clock.compare?.()
    await database.rows(
      `insert into worker (id, started_at, seen_at, holders) values ($1, now(), now(), $2)
       on conflict (id) do update set seen_at = now(), holders = $2`,
      [id, holders],
    )
    const dead = await database.rows<{ holders: string[] }>(
      'delete from worker where seen_at < now() - make_interval(secs => $1) returning holders',
      [workerIsDeadAfter / 1000],
    )
    const held = dead.flatMap((each) => each.holders)
    if (held.length > 0) await utils.forceUnlockWorkers(held)
  }
  await clock.compare?.()
  await ensureActivityMonths(database, clock.now())

  const runner = await run({
    connectionString: queueUrl.toString(),
    // More at once take the database from who waits for a page.
    concurrency: 6,
    noHandleSignals: true,
    pollInterval: 1_000,
    taskList: tasks(platform, transports),
    crontab:
      '17 3 * * * maintenance\n*/10 * * * * remindWaiting\n*/15 * * * * lookForStarts\n*/10 * * * * checkFunnels',
    events,
    logger: queueLogger(platform),
  })
  await beat()
  const stopBeating = interval(platform, heartbeatEvery, beat)
  const stopAdvancing = interval(platform, lookEvery, () => advanceDue(platform))
  const stopPlanned = interval(platform, lookEvery, async () => {
    await beginPlanned(platform)
    await decideDueTests(platform)
    await decideHastyClicks(platform)
    await noteLeftQuizzes(platform)
    await noteLeftCarts(platform)
    await chargeDue(platform)
  })
  const stopTaking = interval(platform, lookEvery, () => takeEvents(platform))
  // A gateway that does not answer holds up nothing else.
  const stopLooking = interval(platform, lookEvery, () => lookAfterPayments(platform))
  const sending = startSending(platform, transports, id)
  const stopNoticing = interval(platform, lookEvery, () => noticeCrossings(platform))

  return {
    async stop() {
      await Promise.all([
        stopBeating(),
        stopAdvancing(),
        stopNoticing(),
        stopPlanned(),
        stopTaking(),
        stopLooking(),
        sending.stop(),
      ])
      await runner.stop()
      await database.rows('delete from worker where id = $1', [id]).catch(() => undefined)
      await utils.release()
    },
  }
}
