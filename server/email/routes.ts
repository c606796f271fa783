import { Router } from 'express'
import { broadcastRequest } from '../../contract/broadcasts.ts'
import { outboxQuery } from '../../contract/email.ts'
import { searchQuery } from '../../contract/search.ts'
import type { WebPlatform } from '../platform.ts'
import { idOf } from '../requests.ts'
import { signedInOf } from '../workspace/gate.ts'
import { beginBroadcast, listBroadcasts, stopBroadcast } from './broadcasts.ts'
import { listEmails } from './letters.ts'
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

export function emailRoutes(platform: WebPlatform): Router {
  const routes = Router()
  routes.get('/emails', async (_request, response) => {
    response.json(await listEmails(platform.database))
  })
  routes.get('/broadcasts', async (_request, response) => {
    response.json(await listBroadcasts(platform.database))
  })
  routes.post('/broadcasts/forecast', async (request, response) => {
    const wish = broadcastRequest.parse(request.body)
    const now = platform.clock.now()
    response.json(await platform.questions.whileConnected(response, (tx) => forecastBroadcast(tx, wish, now)))
  })
  routes.post('/broadcasts', async (request, response) => {
    const wish = broadcastRequest.parse(request.body)
    const id = await beginBroadcast(platform, wish, signedInOf(response).account.name)
    response.status(201).json({ id })
  })
  routes.post('/broadcasts/:id/stop', async (request, response) => {
    await stopBroadcast(platform, idOf(request), signedInOf(response).account.name)
    response.status(204).end()
  })
  routes.get('/outbox', async (request, response) => {
    response.json(await listOutbox(platform.database, outboxQuery.parse(request.query)))
  })
  routes.get('/outbox/counts', async (_request, response) => {
    response.json(await countOutbox(platform.database))
  })
  routes.get('/inbox', async (request, response) => {
    response.json(await listInbox(platform.settings, searchQuery.parse(request.query).q))
  })
  routes.get('/inbox/:id', async (request, response) => {
    response.json(await readInbox(platform.settings, idOf(request)))
  })
  routes.get('/inbox/:id/html', async (request, response) => {
    const { html } = await readInbox(platform.settings, idOf(request))
    // Links open beside the application, never inside the frame.
    response.set('content-security-policy', mailPolicy).type('html').send(`<base target="_blank">${html}`)
  })
  return routes
}
