import { existsSync } from 'node:fs'
import { randomBytes } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { createServer, type Server } from 'node:http'
import { fileURLToPath } from 'node:url'
import express, { type Express, type Response } from 'express'
import helmet from 'helmet'
import { apiRoutes } from '../server/api.ts'
import type { Live } from '../server/live.ts'
import type { Platform } from '../server/platform.ts'
import { checkHealth } from '../server/workspace/health.ts'
import { visitorSite } from '../visitor/site.ts'

const built = fileURLToPath(new URL('../dist/web/', import.meta.url))

/** The nonce that the build wrote into the application's page, to be replaced at each request. */
const nonceMark = '__NONCE__'

async function sendApplication(response: Response): Promise<void> {
  const nonce = randomBytes(16).toString('base64')
  const page = await readFile(`${built}index.html`, 'utf8')
  const policy = [
    "default-src 'none'",
    `script-src 'self' 'nonce-${nonce}'`,
    `style-src 'self' 'nonce-${nonce}'`,
    "font-src 'self'",
    "img-src 'self' data:",
    "connect-src 'self'",
    "frame-src 'self'",
    "worker-src 'self'",
    "base-uri 'none'",
    "form-action 'none'",
    "frame-ancestors 'none'",
  ]
  response
    .set({
      'content-security-policy': policy.join('; '),
      'cache-control': 'no-store',
      'x-robots-tag': 'noindex',
    })
    .type('html')
    .send(page.replaceAll(nonceMark, nonce))
}

/** Everything that answers HTTP: the public site, the API, and the marketer's application. */
export function createWeb(platform: Platform, live: Live): Express {
  const web = express()
  web.set('query parser', 'simple')
  web.use(
    helmet({
      // Each page sends a policy of its own, see there.
      contentSecurityPolicy: false,
      strictTransportSecurity: platform.settings.publicUrl.startsWith('https:'),
      xFrameOptions: { action: 'sameorigin' },
    }),
  )
  web.get('/healthz', async (_request, response) => {
    const health = await checkHealth(platform)
    response.status(health.database === 'ok' ? 200 : 503).json(health)
  })
  web.use('/api', apiRoutes(platform, live))
  web.get('/', (_request, response) => response.redirect(302, '/app/today'))
  web.use(
    '/app/assets',
    express.static(`${built}assets`, { immutable: true, maxAge: '365d', fallthrough: false }),
  )
  web.get(['/app', '/app/*path'], (_request, response) => sendApplication(response))
  web.use(visitorSite(platform))
  return web
}

/** Has the application been built? */
export const isBuilt = (): boolean => existsSync(`${built}index.html`)

/** Listens on loopback. @throws the system's error, EADDRINUSE when the port is taken */
export function listen(web: Express, port: number): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createServer(web)
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => resolve(server))
  })
}
