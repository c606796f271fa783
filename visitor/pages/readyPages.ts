import type { IncomingMessage, ServerResponse } from 'node:http'
import type { Request, Response } from 'express'
import proxyAddress from 'proxy-addr'
import type { FormTokens } from '../../server/capture/formTokens.ts'
import type { PublishedPage } from '../../server/pages/publishedPages.ts'
import type { Site } from '../../server/pages/site.ts'
import { countVisit } from './countVisit.ts'
import { gzipPieces } from './gzipPieces.ts'
import type { PublicSite } from './publicSite.ts'
import { cookieOf } from './readerCookie.ts'
import type { RenderedPage } from './renderPage.ts'

/** A page that is the same for all, with all that its answer needs. */
interface ReadyPage {
  page: PublishedPage
  site: Site
  rendered: RenderedPage
  /** Name and value by turns, as the layers that other requests pass set them. */
  headers: readonly string[]
  /** The parts of the rendered page as bytes. */
  pieces: readonly Buffer[]
  compressed: (between: Buffer) => Buffer[]
  /** From when on the page says something else (ms), such as when a countdown ends. */
  until: number
}

/** Pages that a process keeps ready. */
const mostKept = 500

const nothing = Buffer.alloc(0)

const tokenOf = (tokens: FormTokens, page: number): string => `value="${tokens.make(`page ${page}`)}"`

/** The markup of one view: each of its forms gets a token of its own. */
export function markupOf(tokens: FormTokens, { parts }: RenderedPage, page: number): string {
  const [whole = ''] = parts
  return parts.length === 1 ? whole : parts.join(tokenOf(tokens, page))
}

/** Pieces with the same bytes between them. */
const joined = (pieces: readonly Buffer[], between: Buffer): Buffer[] =>
  pieces.flatMap((piece, i) => (i === 0 ? [piece] : [between, piece]))

const readsGzip = ({ headers: { 'accept-encoding': accepted } }: IncomingMessage): boolean =>
  accepted !== undefined && /\bgzip\b(?!\s*;\s*q=0(\.0*)?\s*(,|$))/i.test(accepted)

function send(
  tokens: FormTokens,
  ready: ReadyPage,
  request: IncomingMessage,
  response: ServerResponse,
): void {
  const { rendered, page, headers, pieces, compressed } = ready
  // A browser names one, a proxy sometimes several, with or without the mark of a weak one.
  if (pieces.length === 1 && request.headers['if-none-match']?.includes(rendered.etag.slice(2))) {
    response.writeHead(304, [...headers]).end()
    return
  }
  const between = pieces.length > 1 ? Buffer.from(tokenOf(tokens, page.id)) : nothing
  const zipped = readsGzip(request)
  const body = Buffer.concat(zipped ? compressed(between) : joined(pieces, between))
  const ofBody = ['content-length', String(body.length), ...(zipped ? ['content-encoding', 'gzip'] : [])]
  response.writeHead(200, [...headers, ...ofBody]).end(body)
}

/**
 * Pages that are the same for all, ready to be sent: what most visitors ask for is answered before the layers that
 * other requests have to pass, with the headers that these layers set the first time.
 */
export function openReadyPages({ platform, published, visits, tokens }: PublicSite) {
  const { settings, clock } = platform
  const ownHost = new URL(settings.publicUrl).host
  const trusted = settings.trustedProxies.length > 0 ? proxyAddress.compile(settings.trustedProxies) : null
  const ipOf = (request: IncomingMessage): string =>
    (trusted ? proxyAddress(request, trusted) : request.socket.remoteAddress) ?? ''

  let pages = new Map<string, ReadyPage>()
  let edition = published.edition
  /** The pages that are ready, of the site as it is now. */
  function current(): Map<string, ReadyPage> {
    if (edition !== published.edition) {
      pages = new Map()
      edition = published.edition
    }
    return pages
  }
  /** Keeps a page, unless the site has changed since it was rendered. */
  function keep(madeFrom: number, key: string, ready: ReadyPage): void {
    if (madeFrom === published.edition && (current().size < mostKept || pages.has(key))) pages.set(key, ready)
  }

  return {
    /** Answers at once when the page asked for is ready; else tells so, and others have to make it. */
    answer(request: IncomingMessage, response: ServerResponse): boolean {
      if (request.method !== 'GET') return false
      const ready = current().get(`${request.headers.host} ${request.url}`)
      if (!ready || ready.until <= clock.now() || cookieOf(request, 'reader') !== undefined) return false
      const visit = { query: {}, contact: null, ip: ipOf(request) }
      countVisit(visits, ready.site, ready.page.id, request, visit)
      send(tokens, ready, request, response)
      return true
    },

    /**
     * Answers with a page that was rendered for everybody, and keeps it for the next.
     * @param edition of the published pages that it was rendered from
     */
    answerAndKeep(
      request: Request,
      response: Response,
      made: Pick<ReadyPage, 'page' | 'site' | 'rendered' | 'until'> & { edition: number },
    ): void {
      const { page, site, rendered } = made
      const same = rendered.parts.length === 1
      response.set({
        'content-security-policy': rendered.policy,
        'content-type': 'text/html; charset=utf-8',
        vary: 'Accept-Encoding',
        // A form's token is made for one view: nobody may keep this.
        'cache-control': same ? 'no-cache' : 'private, no-store',
        ...(same && { etag: rendered.etag }),
        ...(!rendered.listed && { 'x-robots-tag': 'noindex' }),
      })
      const headers = Object.entries(response.getHeaders()).flatMap(([name, value]) => [name, String(value)])
      const pieces = rendered.parts.map((part) => Buffer.from(part))
      const ready = { ...made, headers, pieces, compressed: gzipPieces(pieces) }
      // Only under the spelling that we use ourselves: strangers could fill the memory with others.
      const host = request.headers.host ?? ''
      const ofDomain = site.settings.domains.includes(host)
      if ((ofDomain || host === ownHost) && request.originalUrl === `${ofDomain ? '/' : '/p/'}${page.path}`)
        keep(made.edition, `${host} ${request.originalUrl}`, ready)
      send(tokens, ready, request, response)
    },
  }
}

export type ReadyPages = ReturnType<typeof openReadyPages>
