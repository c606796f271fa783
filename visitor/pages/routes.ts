import { Router, urlencoded, type Request, type Response } from 'express'
import { isbot } from 'isbot'
import { countdownsOver } from '../../core/blocks/walk.ts'
import type { FormState } from '../../core/pages/context.ts'
import { lessonStates } from '../../core/pages/lessons.ts'
import { formToken, isFormToken, submitForm } from '../../server/capture/forms.ts'
import { notFound } from '../../server/http/problems.ts'
import { previewedPage } from '../../server/pages/previews.ts'
import type { PublishedPage } from '../../server/pages/publishedPages.ts'
import {
  conditionsOf,
  contactOfMark,
  loadReader,
  recordLessonSeen,
  unknownReader,
  type Reader,
} from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import { formIn } from '../../server/pages/versions.ts'
import { deviceOf } from '../../server/pages/visits.ts'
import type { Limits } from '../limits.ts'
import { sendNotice } from '../respond.ts'
import { readForm, sourceOf, typedIn, type FormFault } from '../capture/submission.ts'
import { emptyForm, hrefFor, type View } from './pageContext.ts'
import type { PublicSite } from './publicSite.ts'
import { renderPage, type RenderedPage } from './renderPage.ts'

/** A form has a handful of short fields; more is no person's. */
const largestForm = '20kb'

const cookieOf = (request: Request, name: string): string | undefined =>
  request.headers.cookie
    ?.split('; ')
    .find((each) => each.startsWith(`${name}=`))
    ?.slice(name.length + 1)

/** Where pages begin for this request: `/p/` under our own name, `/` on a domain of the business. */
const baseOf = (response: Response): string => (response.locals.ownDomain === true ? '/' : '/p/')

const pathOf = (request: Request): string => {
  const { path } = request.params as { path?: string[] | string }
  return Array.isArray(path) ? path.join('/') : (path ?? '')
}

/** Who reads, by the mark of the address or the one that they let us keep. */
function markOf(request: Request): { mark: string | undefined; inAddress: boolean } {
  const { me } = request.query
  if (typeof me === 'string') return { mark: me, inAddress: true }
  return { mark: cookieOf(request, 'reader'), inAddress: false }
}

/** Marks are kept in a cookie by who allowed that, and only then. */
function keepMark(request: Request, response: Response, mark: string): void {
  if (cookieOf(request, 'consent') !== 'yes') return
  response.cookie('reader', mark, {
    httpOnly: true,
    sameSite: 'lax',
    secure: request.secure,
    maxAge: 180 * 86_400_000,
  })
}

const wantsNoCount = (request: Request): boolean =>
  request.headers.dnt === '1' || request.headers['sec-gpc'] === '1'

/** What browsers say of themselves, looked at once each: the expression that knows robots is long. */
const robots = new Map<string, boolean>()
const mostRemembered = 1_000

function isRobot(userAgent: string): boolean {
  const known = robots.get(userAgent)
  if (known !== undefined) return known
  if (robots.size >= mostRemembered) robots.clear()
  const found = isbot(userAgent)
  robots.set(userAgent, found)
  return found
}

/** With its length said, head and page go out in one piece. */
function sendWhole(response: Response, markup: string, size: number): void {
  response.setHeader('content-length', size)
  response.end(markup, 'utf8')
}

/** Pages, what stands on them, and what search engines read of them. */
export function pageRoutes({ platform, published, visits }: PublicSite, limits: Limits): Router {
  const routes = Router()
  const { database, clock } = platform

  const readerOf = async (request: Request, page: PublishedPage, site: Site): Promise<Reader> =>
    loadReader(
      platform,
      contactOfMark(platform, markOf(request).mark),
      conditionsOf(page.content),
      site.business.zone,
    )

  /** Is it somebody who reads, no robot that looks? */
  const isRead = (request: Request): boolean =>
    request.method === 'GET' && !isRobot(request.headers['user-agent'] ?? '')

  function count(request: Request, page: PublishedPage, site: Site, contact: number | null): void {
    if (!site.settings.countVisits || wantsNoCount(request) || !isRead(request)) return
    const userAgent = request.headers['user-agent'] ?? ''
    visits.record({
      page: page.id,
      ip: request.ip ?? '',
      userAgent,
      contact,
      device: deviceOf(userAgent),
      source: Object.keys(request.query).length > 0 ? sourceOf(request.query) : {},
    })
  }

  /** @param own the page is made for this reader, and for nobody else's browser or proxy to keep */
  function send(
    request: Request,
    response: Response,
    page: RenderedPage,
    id: number,
    { status = 200, own = false } = {},
  ): void {
    response.set('content-security-policy', page.policy).type('html').status(status)
    if (!page.listed) response.set('x-robots-tag', 'noindex')
    if (own || page.parts.length > 1) {
      // A form's token is made for one view: nobody may keep this.
      response.set('cache-control', 'private, no-store')
      const token = `value="${formToken(platform, id)}"`
      sendWhole(response, page.parts.join(token), page.size + token.length * (page.parts.length - 1))
      return
    }
    response.set('cache-control', 'no-cache').set('etag', page.etag)
    if (request.fresh) response.status(304).end()
    else sendWhole(response, page.parts[0] ?? '', page.size)
  }

  const viewFor = (request: Request, response: Response, reader: Reader, form: FormState): View => {
    const { mark, inAddress } = markOf(request)
    const base = baseOf(response)
    return {
      reader,
      mark: inAddress && reader.contact !== null ? (mark ?? null) : null,
      base,
      form,
      formAction: `${base}${pathOf(request)}`,
    }
  }

  async function notThere(request: Request, response: Response): Promise<void> {
    const site = await published.site()
    const own = site.settings.notFoundPage === null ? undefined : site.pages.get(site.settings.notFoundPage)
    const found = own?.live ? await published.at(own.path) : null
    if (!found || !('page' in found) || found.page.content.limitedTo) throw notFound('This page')
    const reader = await readerOf(request, found.page, site)
    const view = viewFor(request, response, reader, emptyForm)
    send(request, response, renderPage(platform, site, found.page, view), found.page.id, {
      status: 404,
      own: true,
    })
  }

  /** What others get in the place of a page that is limited to some. */
  function sendOthers(response: Response, site: Site, page: PublishedPage, view: View): void {
    const others = page.content.limitedTo?.others
    if (others?.get === 'address') {
      response.redirect(302, others.url)
      return
    }
    if (others?.get === 'page') {
      const href = hrefFor(platform, site, view)({ to: 'page', page: others.page })
      if (href !== null && others.page !== page.id) {
        response.redirect(302, href)
        return
      }
    }
    sendNotice(
      response,
      403,
      page.content.title,
      others?.get === 'text' ? others.words : 'This page is for others.',
    )
  }

  /** When a lesson is not open yet for its reader: how it is told. */
  function lockedWords(site: Site, page: PublishedPage, reader: Reader): string | null {
    const course = site.pages.get(page.id)?.course
    if (course === undefined || course === null) return null
    const states = lessonStates(
      site.courses.get(course) ?? [],
      reader.learner,
      reader.now,
      site.business.zone,
    )
    const state = states.find((each) => each.page === page.id)
    return state?.is === 'locked' ? `This lesson ${state.words}.` : null
  }

  /** Answers who may not see the page, or not yet. */
  function isRefused(response: Response, site: Site, page: PublishedPage, view: View): boolean {
    const { limitedTo, title } = page.content
    if (limitedTo && !view.reader.shows(limitedTo.people)) {
      sendOthers(response, site, page, view)
      return true
    }
    const locked = lockedWords(site, page, view.reader)
    if (locked) sendNotice(response, 403, title, locked)
    return locked !== null
  }

  async function show(request: Request, response: Response, page: PublishedPage, site: Site): Promise<void> {
    const course = site.pages.get(page.id)?.course ?? null
    const plain = markOf(request).mark === undefined && Object.keys(request.query).length === 0
    if (plain && course === null && !page.personal) {
      count(request, page, site, null)
      const base = baseOf(response)
      // A countdown that is over says so, whoever asks: the page is rendered anew then.
      const over = countdownsOver(page.content.document, clock.now())
      const rendered = published.keep(`${base}${page.path} ${over}`, () => {
        const reader = unknownReader(platform, site.business.zone)
        const view = { reader, mark: null, base, form: emptyForm, formAction: `${base}${page.path}` }
        return renderPage(platform, site, page, view)
      })
      send(request, response, rendered, page.id)
      return
    }
    const reader = await readerOf(request, page, site)
    const view = viewFor(request, response, reader, { ...emptyForm, values: sourceOf(request.query) })
    if (reader.contact !== null) keepMark(request, response, markOf(request).mark ?? '')
    if (!reader.rehearsal) count(request, page, site, reader.contact)
    if (isRefused(response, site, page, view)) return
    // Scanners of mail follow links too: what they look at has been seen by nobody.
    if (course !== null && reader.contact !== null && isRead(request)) {
      await recordLessonSeen(database, reader.contact, page.id, new Date(reader.now))
      view.reader = await readerOf(request, page, site)
    }
    send(request, response, renderPage(platform, site, page, view), page.id, { own: true })
  }

  /** The page of a request; sends the reader on where it has moved. */
  async function pageOf(request: Request, response: Response): Promise<PublishedPage | null> {
    const found = await published.at(pathOf(request))
    if (found && 'page' in found) return found.page
    if (found) response.redirect(301, `${baseOf(response)}${found.movedTo}`)
    else await notThere(request, response)
    return null
  }

  routes.get('/p/*path', async (request, response) => {
    const page = await pageOf(request, response)
    if (page) await show(request, response, page, await published.site())
  })

  routes.post(
    '/p/*path',
    limits.source,
    urlencoded({ extended: false, limit: largestForm, parameterLimit: 40 }),
    async (request, response) => {
      const found = await published.at(pathOf(request))
      const page = found && 'page' in found ? found.page : null
      const read = readForm(request.body)
      const block = page && formIn(page.content, read.form)
      if (!page || !block) throw notFound('This page')
      const site = await published.site()
      const reader = await readerOf(request, page, site)

      // Who may not see the page may not send its form, nor see it by sending something wrong.
      if (isRefused(response, site, page, viewFor(request, response, reader, emptyForm))) return

      const askAgain = ({ notice, status, faults }: FormFault): void => {
        const form: FormState = { block: block.id, values: typedIn(request.body), faults, notice }
        const view = viewFor(request, response, reader, form)
        send(request, response, renderPage(platform, site, page, view), page.id, { status, own: true })
      }
      if ('fault' in read) {
        askAgain(read.fault)
        return
      }
      const { submission } = read
      if (!isFormToken(platform, page.id, submission.token)) {
        askAgain(read.late)
        return
      }
      const form = { page: page.id, block: block.id, tag: block.tag, wording: block.consentWording }
      // A page from the browser's memory has a token that was used: a new sending needs a new one.
      if ((await submitForm(platform, form, submission, request.ip ?? null)) === 'used') {
        askAgain(read.used)
        return
      }
      const href = hrefFor(platform, site, viewFor(request, response, reader, emptyForm))(block.next)
      if (href !== null) response.redirect(303, href)
      else sendNotice(response, 200, 'Thank you', 'Look into your mailbox: we have written to you.')
    },
  )

  routes.get('/preview/:token', async (request, response) => {
    const page = await previewedPage(platform, request.params.token)
    const site = await published.site()
    const reader = await loadReader(platform, null, conditionsOf(page.content), site.business.zone)
    const view = { reader, mark: null, base: '/p/', form: emptyForm, formAction: '#' }
    const shown = { ...page, content: { ...page.content, listed: false } }
    send(request, response, renderPage(platform, site, shown, view, { framed: true }), page.id, { own: true })
  })

  return routes
}
