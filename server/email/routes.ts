import { Router } from 'express'
import { api } from '../../contract/api.ts'
import { handle, handleStream } from '../http/handle.ts'
import type { WebPlatform } from '../platform.ts'
import { listBroadcasts, startBroadcast, stopBroadcast } from './broadcasts.ts'
import { listEmails } from './emails.ts'
import { countOutbox, listOutbox } from './outbox.ts'
import { forecastBroadcast } from './recipients.ts'
import { listInbox, readInbox } from './testInbox.ts'

/** A received email is shown as its mailbox would: styles and pictures, but no script and no form. */
const mailPolicy = [
  "default-src 'none'",
  "style-src 'unsafe-inline'",
  "img-src 'self' data:",
  "frame-ancestors 'self'",
  'sandbox allow-popups allow-popups-to-escape-sandbox',
].join('; ')

/** Emails, broadcasts, the outbox and the test inbox. */
export function emailRoutes(platform: WebPlatform): Router {
  const routes = Router()
  const { database: q, questions, clock, settings } = platform
  const { email, broadcasts } = api

  handle(routes, email.list, () => listEmails(q))
  handle(routes, broadcasts.list, () => listBroadcasts(q))
  handle(routes, broadcasts.forecast, ({ body, response }) =>
    questions.whileConnected(response, (tx) => forecastBroadcast(tx, body, clock.now())),
  )
  handle(
    routes,
    broadcasts.create,
    async ({ body, by }) => ({ id: await startBroadcast(platform, body, by) }),
    {
      status: 201,
    },
  )
  handle(routes, broadcasts.stop, ({ params, by }) => stopBroadcast(platform, params.id, by))

  handle(routes, email.outbox, ({ query }) => listOutbox(q, query))
  handle(routes, email.outboxCounts, () => countOutbox(q))
  handle(routes, email.inbox, ({ query }) => listInbox(settings, query.q))
  handle(routes, email.message, ({ params }) => readInbox(settings, params.id))
  handleStream(routes, email.messageHtml, async ({ params, response }) => {
    const { html } = await readInbox(settings, params.id)
    // Links open beside the application, never inside the frame.
    response.set('content-security-policy', mailPolicy).type('html').send(`<base target="_blank">${html}`)
  })
  return routes
}
