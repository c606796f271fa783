import { Router } from 'express'
import { outboxQuery } from '../../contract/email.ts'
import { searchQuery } from '../../contract/search.ts'
import type { Platform } from '../platform.ts'
import { idOf } from '../requests.ts'
import { listOutbox } from './outbox.ts'
import { listInbox, readInbox } from './testInbox.ts'

/** A received email is shown as its mailbox would: styles and pictures, but no script and no form. */
const mailPolicy = [
  "default-src 'none'",
  "style-src 'unsafe-inline'",
  "img-src 'self' data:",
  "frame-ancestors 'self'",
  'sandbox allow-popups allow-popups-to-escape-sandbox',
].join('; ')

export function emailRoutes(platform: Platform): Router {
  const routes = Router()
  routes.get('/outbox', async (request, response) => {
    response.json(await listOutbox(platform.database, outboxQuery.parse(request.query)))
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
