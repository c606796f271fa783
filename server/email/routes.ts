import { raw, Router } from 'express'
import * as api from '../../contract/api.ts'
import type { Doing } from '../blocks/drafts.ts'
import { serveVersions } from '../blocks/versionRoutes.ts'
import { handle, handleStream } from '../http/handle.ts'
import { loadSite } from '../pages/site.ts'
import type { WebPlatform } from '../platform.ts'
import { sendAgain } from './broadcasts/again.ts'
import { decideTest } from './broadcasts/deciding.ts'
import { forecastBroadcast, sampleRecipients } from './broadcasts/forecast.ts'
import { listBroadcasts, viewBroadcast } from './broadcasts/listing.ts'
import { startBroadcast } from './broadcasts/starting.ts'
import {
  callBack,
  hurryBroadcast,
  moveBroadcast,
  pauseBroadcast,
  resumeBroadcast,
  stopBroadcast,
} from './broadcasts/steering.ts'
import { signedInOf } from '../workspace/requireSignIn.ts'
import { emailDrafts } from './emailDrafts.ts'
import {
  copyEmail,
  createEmail,
  deleteEmail,
  linksOfEmail,
  listEmails,
  renameEmail,
  viewEmail,
} from './emails.ts'
import { listMachineClicks, readAsPerson } from './hastyClicks.ts'
import { exportEml, exportHtml } from './exporting.ts'
import { importEmail, largestImport } from './importing.ts'
import { countOutbox, listOutbox } from './outbox.ts'
import {
  cancelMessage,
  hurryMessage,
  problemsByCause,
  queueByMoment,
  sendCauseAgain,
  sendMessageAgain,
} from './outboxActions.ts'
import { createNamedLink, deleteNamedLink, listNamedLinks, saveNamedLink } from './namedLinks.ts'
import { drawEmail } from './renderEmail.ts'
import { drawClicks, reportCsv, reportEmail } from './report.ts'
import { sendFile } from '../http/sendFile.ts'
import { listInbox, readInbox } from './testInbox.ts'
import { listTeam, previewEmail, previewHtml, queueTest, readAsNobody } from './tryingOut.ts'

/** An email is shown as its mailbox would: styles and pictures, but no script and no form. */
const mailPolicy = (pictures = true): string =>
  [
    "default-src 'none'",
    "style-src 'unsafe-inline'",
    `img-src ${pictures ? "'self' data:" : "'none'"}`,
    "frame-ancestors 'self'",
    'sandbox allow-popups allow-popups-to-escape-sandbox',
  ].join('; ')

/** Links that emails and pages share. */
function namedLinkRoutes({ database, clock }: WebPlatform, routes: Router): void {
  const doing = (by: string): Doing => ({ by, at: new Date(clock.now()) })
  const { namedLinks } = api
  handle(routes, namedLinks.list, () => listNamedLinks(database))
  handle(
    routes,
    namedLinks.create,
    async ({ body, by }) => ({
      id: await database.inTransaction((tx) => createNamedLink(tx, body, doing(by))),
    }),
    { status: 201 },
  )
  handle(routes, namedLinks.save, ({ params, body, by }) =>
    database.inTransaction((tx) => saveNamedLink(tx, params.id, body, doing(by))),
  )
  handle(routes, namedLinks.delete, ({ params }) =>
    database.inTransaction((tx) => deleteNamedLink(tx, params.id)),
  )
}

/** The emails of the Library. */
function libraryRoutes(platform: WebPlatform, routes: Router): void {
  const { database: q, clock } = platform
  const { emails } = api
  const doing = (by: string): Doing => ({ by, at: new Date(clock.now()) })

  handle(routes, emails.list, () => listEmails(q))
  handle(routes, emails.team, ({ response }) => listTeam(q, signedInOf(response).account.id))
  handle(routes, emails.draw, async ({ body }) => drawEmail(body.content, await loadSite(q)))
  handle(routes, emails.view, ({ params, by }) => viewEmail(q, params.id, doing(by)))
  handle(
    routes,
    emails.create,
    async ({ body, by }) => ({ id: await q.inTransaction((tx) => createEmail(tx, body, doing(by))) }),
    { status: 201 },
  )
  handle(routes, emails.rename, ({ params, body }) => renameEmail(q, params.id, body.name))
  handle(routes, emails.save, ({ params, body, by }) =>
    q.inTransaction((tx) => emailDrafts.save(tx, params.id, body, doing(by))),
  )
  serveVersions(platform, routes, emails, { drafts: emailDrafts, copy: copyEmail, remove: deleteEmail })
  handle(routes, emails.links, ({ params }) => linksOfEmail(q, params.id))
  routes.use(emails.import.path, raw({ type: 'application/octet-stream', limit: largestImport }))
  handle(
    routes,
    emails.import,
    ({ query, request, by }) =>
      q.inTransaction((tx) =>
        importEmail(
          tx,
          { name: query.name, bytes: request.body as unknown },
          { by, at: new Date(clock.now()) },
        ),
      ),
    { status: 201 },
  )
  handleStream(routes, emails.exportHtml, async ({ params, response }) => {
    const { name, html } = await exportHtml(platform, params.id)
    response.attachment(`${name}.html`).type('html').send(html)
  })
  handleStream(routes, emails.exportEml, async ({ params, response }) => {
    const { name, message } = await exportEml(platform, params.id)
    response.attachment(`${name}.eml`).type('message/rfc822').send(message)
  })
  handle(routes, emails.machineClicks, ({ params }) => listMachineClicks(q, params.id))
  handle(routes, emails.readAsPerson, ({ params }) => readAsPerson(platform, params.id, params.click))
  handle(routes, emails.report, ({ params }) => reportEmail(q, params.id))
  handleStream(routes, emails.reportHtml, async ({ params, response }) => {
    const markup = await drawClicks(q, params.id, (template) => readAsNobody(platform, params.id, template))
    response.set('content-security-policy', mailPolicy()).type('html').send(`<base target="_blank">${markup}`)
  })
  handleStream(routes, emails.reportCsv, ({ params, response }) =>
    q.inTransaction((tx) => sendFile(response, 'email.csv', 'text/csv', reportCsv(tx, params.id))),
  )
  handle(routes, emails.preview, ({ params, query }) =>
    previewEmail(platform, params.id, { person: query.person ?? null, of: query.of }),
  )
  handleStream(routes, emails.previewHtml, async ({ params, query, response }) => {
    const markup = await previewHtml(platform, params.id, {
      person: query.person ?? null,
      dark: query.dark === 'yes',
      of: query.of,
    })
    response
      .set('content-security-policy', mailPolicy(query.pictures === 'on'))
      .type('html')
      .send(`<base target="_blank">${markup}`)
  })
  handle(routes, emails.test, ({ params, body }) => q.inTransaction((tx) => queueTest(tx, params.id, body)))
}

function broadcastRoutes(platform: WebPlatform, routes: Router): void {
  const { questions, clock } = platform
  const { broadcasts } = api
  const made = { status: 201 } as const

  handle(routes, broadcasts.list, ({ query }) => listBroadcasts(platform, query))
  handle(routes, broadcasts.view, ({ params }) => viewBroadcast(platform, params.id))
  handle(routes, broadcasts.forecast, ({ body, response }) =>
    questions.whileConnected(response, (tx) => forecastBroadcast(tx, body, clock.now())),
  )
  handle(routes, broadcasts.sample, ({ body, response }) =>
    questions.whileConnected(response, (tx) => sampleRecipients(tx, body, clock.now())),
  )
  handle(
    routes,
    broadcasts.create,
    async ({ body, by }) => ({ id: await startBroadcast(platform, body, { by }) }),
    made,
  )
  handle(routes, broadcasts.callBack, ({ params, by }) => callBack(platform, params.id, by))
  handle(routes, broadcasts.hurry, ({ params }) => hurryBroadcast(platform, params.id))
  handle(routes, broadcasts.pause, ({ params, by }) => pauseBroadcast(platform, params.id, by))
  handle(routes, broadcasts.resume, ({ params }) => resumeBroadcast(platform, params.id))
  handle(routes, broadcasts.stop, ({ params, by }) => stopBroadcast(platform, params.id, by))
  handle(routes, broadcasts.move, ({ params, body }) => moveBroadcast(platform, params.id, body.local))
  handle(routes, broadcasts.decide, ({ params, body, by }) =>
    decideTest(platform, params.id, body.variant, by),
  )
  handle(
    routes,
    broadcasts.again,
    async ({ params, body, by }) => ({ id: await sendAgain(platform, params.id, body.subject, by) }),
    made,
  )
}

/** Emails, broadcasts, the outbox and the test inbox. */
export function emailRoutes(platform: WebPlatform): Router {
  const routes = Router()
  const { database: q, settings } = platform
  const { email } = api

  libraryRoutes(platform, routes)
  namedLinkRoutes(platform, routes)
  broadcastRoutes(platform, routes)
  handle(routes, email.outbox, ({ query }) => listOutbox(q, query))
  handle(routes, email.outboxProblems, () => problemsByCause(q))
  handle(routes, email.outboxQueue, () => queueByMoment(q))
  handle(routes, email.cancel, ({ params, by }) => cancelMessage(platform, params.id, by))
  handle(routes, email.hurry, ({ params }) => hurryMessage(platform, params.id))
  handle(routes, email.again, ({ params }) => sendMessageAgain(platform, params.id))
  handle(routes, email.causeAgain, async ({ body }) => ({
    people: await sendCauseAgain(platform, body.title),
  }))
  handle(routes, email.outboxCounts, () => countOutbox(q))
  handle(routes, email.inbox, ({ query }) => listInbox(settings, query.q))
  handle(routes, email.message, ({ params }) => readInbox(settings, params.id))
  handleStream(routes, email.messageHtml, async ({ params, response }) => {
    const { html } = await readInbox(settings, params.id)
    // Links open beside the application, never inside the frame.
    response.set('content-security-policy', mailPolicy()).type('html').send(`<base target="_blank">${html}`)
  })
  return routes
}
