import { existsSync } from 'node:fs'
import { randomBytes } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import { createServer, type RequestListener, type Server } from 'node:http'
import { fileURLToPath } from 'node:url'
import express, { type ErrorRequestHandler, type RequestHandler, type Response } from 'express'
import { ownHosts } from '../core/workspace/hosts.ts'
import type { FormCounts } from '../server/capture/formCounts.ts'
import { openFormDesk } from '../server/capture/formDesk.ts'
import { openFormTokens } from '../server/capture/formTokens.ts'
import { apiRoutes } from '../server/http/api.ts'
import type { Live } from '../server/http/live.ts'
import type { Platform, WebPlatform } from '../server/platform.ts'
import type { Passes } from '../server/junctions/passes.ts'
import type { QuizViews } from '../server/quizzes/quizViews.ts'
import { problemHandler, Problem } from '../server/http/problems.ts'
import { securityHeaders } from '../server/http/securityHeaders.ts'
import { checkHealth } from '../server/workspace/health.ts'
import { visitorErrorHandler } from '../visitor/respond.ts'
import { openPublishedPages, type PublishedPages } from '../server/pages/publishedPages.ts'
import type { Visits } from '../server/pages/visits.ts'
import { openReadyPages } from '../visitor/pages/readyPages.ts'
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
    "media-src 'self'",
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

/** Paths that a domain of the business answers to besides those of its pages. */
const ofTheSite =
  /^\/(assets|confirm|confirm-again|embed\.js|forms|contact-card\.vcf|favicon\.ico|files|go|j|media|pictures|preferences|q|robots\.txt|seen|sitemap\.xml|unsubscribe)(?=[/?]|$)/

/**
 * Refuses requests under a name that is not ours (RFC 9110 §15.5.20). Under a domain of the business only its public
 * site is found, its pages without `/p`: neither the application nor the API.
 */
function onlyOwnHosts({ settings }: Platform, published: PublishedPages): RequestHandler {
  const isOwn = ownHosts(new URL(settings.publicUrl).hostname, settings.host)
  return async (request, response, next) => {
    const { host } = request.headers
    if (isOwn(host)) {
      next()
      return
    }
    const name = host?.replace(/:\d+$/, '').toLowerCase() ?? ''
    if (!(await published.site()).settings.domains.includes(name))
      throw new Problem(421, 'Unknown host name', 'Use the address of this install.')
    response.locals.ownDomain = true
    if (!ofTheSite.test(request.url)) request.url = `/p${request.url === '/' ? '/home' : request.url}`
    next()
  }
}

/** What no route took care of, told in the form that the caller reads. */
function answerUnhandled({ log }: Platform): ErrorRequestHandler {
  const [forPrograms, forPeople] = [problemHandler(log), visitorErrorHandler(log)]
  return (error, request, response, next) =>
    (/^\/(api|healthz)\b/.test(request.path) ? forPrograms : forPeople)(error, request, response, next)
}

/** What a web process opens and closes besides. */
interface Parts {
  live: Live
  visits: Visits
  counts: FormCounts
  passes: Passes
  quizViews: QuizViews
}

/** Everything that answers HTTP: the public site, the API, and the marketer's application. */
export function createWeb(
  platform: WebPlatform,
  { live, visits, counts, passes, quizViews }: Parts,
): RequestListener {
  const web = express()
  const published = openPublishedPages(platform.database, live)
  const site = {
    platform,
    published,
    visits,
    counts,
    passes,
    quizViews,
    tokens: openFormTokens(platform),
    desk: openFormDesk(platform),
  }
  const ready = openReadyPages(site)
  web.set('query parser', 'simple')
  web.set('trust proxy', platform.settings.trustedProxies)
  web.use(securityHeaders(platform))
  web.use(onlyOwnHosts(platform, published))
  web.get('/healthz', async (_request, response) => {
    const health = await checkHealth(platform)
    response.status(health.database === 'ok' ? 200 : 503).json(health)
  })
  web.use('/api', apiRoutes(platform, live))
  web.get('/', (_request, response) => response.redirect(302, '/app/today'))
  web.use(
    '/app/assets',
    express.static(`${built}assets`, {
      immutable: true,
      maxAge: '365d',
      fallthrough: false,
      // A worker runs by the policy of its own script.
      setHeaders: (response) =>
        response.setHeader('content-security-policy', "default-src 'none'; script-src 'self'"),
    }),
  )
  web.get(['/app', '/app/*path'], (_request, response) => sendApplication(response))
  web.use(visitorSite(site, ready))
  web.use(answerUnhandled(platform))
  return (request, response) => {
    if (!ready.answer(request, response)) web(request, response)
  }
}

/** Has the application been built? */
export const isBuilt = (): boolean => existsSync(`${built}index.html`)

/** What is answered to bytes that are no HTTP: there is no request to answer yet. */
const noRequest = [
  'HTTP/1.1 400 Bad Request',
  'connection: close',
  'content-length: 0',
  'x-content-type-options: nosniff',
  'cross-origin-resource-policy: same-origin',
  "content-security-policy: default-src 'none'",
]
  .map((line) => `${line}\r\n`)
  .join('')

/** Listens at the address of the settings. @throws the system's error, EADDRINUSE when the port is taken */
export function listen(
  web: RequestListener,
  { host, port }: { host: string; port: number },
): Promise<Server> {
  return new Promise((resolve, reject) => {
    const server = createServer(web)
    server.on('clientError', (_error, socket) => {
      if (socket.writable) socket.end(`${noRequest}\r\n`)
    })
    server.once('error', reject)
    server.listen(port, host, () => resolve(server))
  })
}
