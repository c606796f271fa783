import { Router, urlencoded, type Request, type Response } from 'express'
import { nextCountdownEnd } from '../../core/blocks/walk.ts'
import type { FormState } from '../../core/capture/shownForm.ts'
import { beginByVisit } from '../../server/commerce/deadlines.ts'
import { formAsSent } from '../../server/capture/publishedForms.ts'
import { notFound } from '../../server/http/problems.ts'
import { previewedPage } from '../../server/pages/previews.ts'
import type { PublishedPage } from '../../server/pages/publishedPages.ts'
import {
  conditionsOf,
  contactOfMark,
  formMark,
  isOwnMark,
  loadReader,
  unknownReader,
  type Reader,
} from '../../server/pages/readers.ts'
import { recordLessonSeen } from '../../server/pages/courses.ts'
import type { Site } from '../../server/pages/site.ts'
import { formIn, formsIn } from '../../server/pages/versions.ts'
import type { Limits } from '../limits.ts'
import { countVisit, isRead } from './countVisit.ts'
import { isRehearsed, ledTo, nextTurnOf, sharedStation, trackFor } from './funnelOfPage.ts'
import { hrefAfter } from '../capture/afterForm.ts'
import { openCheckout } from '../commerce/checkout.ts'
import { openOrdering } from '../commerce/ordering.ts'
import { receiveForm } from '../capture/receiveForm.ts'
import { hiddenIn, readPosted, sourceOf } from '../capture/submission.ts'
import { baseOf, emptyForm, type View } from './pageContext.ts'
import type { PublicSite } from './publicSite.ts'
import { markupOf, type ReadyPages } from './readyPages.ts'
import { courseConditions, limitsOf, openRefusals } from './refusals.ts'
import { keepMark, markOf } from './readerCookie.ts'
import { renderPage, type RenderedPage } from './renderPage.ts'

/** A form has a handful of short fields; more is no person's. */
const largestForm = '20kb'

const pathOf = (request: Request): string => {
  const { path } = request.params as { path?: string[] | string }
  return Array.isArray(path) ? path.join('/') : (path ?? '')
}

/** What the address of a page gives to the hidden fields of its forms. */
const hiddenOf = (site: Site, page: PublishedPage, query: unknown): Record<string, string> =>
  Object.assign(
    {},
    ...formsIn(page.content).map(({ form }) => {
      const shown = site.forms.get(form ?? 0)
      return shown ? hiddenIn(shown.content, query) : {}
    }),
  ) as Record<string, string>

/** Pages, what stands on them, and what search engines read of them. */
export function pageRoutes(
  { platform, published, visits, tokens, desk }: PublicSite,
  ready: ReadyPages,
  limits: Limits,
): Router {
  const routes = Router()
  const { database } = platform
  const reception = { platform, desk, tokens }
  const isRefused = openRefusals(platform)
  const ordering = openOrdering(platform, openCheckout({ platform, tokens }), tokens)

  const readerOf = async (request: Request, page: PublishedPage, site: Site): Promise<Reader> =>
    loadReader(
      platform,
      await contactOfMark(platform, markOf(request).mark),
      [
        ...conditionsOf(page.content),
        ...limitsOf(site, page).map(({ people }) => people),
        ...courseConditions(site, page),
      ],
      site.business.zone,
    )

  /** A page made for this reader, and for nobody else's browser or proxy to keep. */
  function send(response: Response, rendered: RenderedPage, page: number, status = 200): void {
    if (!rendered.listed) response.set('x-robots-tag', 'noindex')
    response
      .set({ 'content-security-policy': rendered.policy, 'cache-control': 'private, no-store' })
      .type('html')
      .status(status)
      .end(markupOf(tokens, rendered, page))
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

  /** The first look at a page begins its deadline: a person's, since scanners of mail follow links too. */
  async function beginDeadline(
    request: Request,
    site: Site,
    page: PublishedPage,
    reader: Reader,
  ): Promise<void> {
    const deadline = site.deadlines.get(page.content.deadline ?? '')
    if (deadline?.begins !== 'visit' || reader.contact === null || !isRead(request)) return
    if (reader.deadlines[deadline.name] !== undefined) return
    reader.deadlines = await beginByVisit(database, deadline, {
      contact: reader.contact,
      at: reader.now,
      zone: site.business.zone,
    })
  }

  async function notThere(request: Request, response: Response): Promise<void> {
    const site = await published.site()
    const own = site.settings.notFoundPage === null ? undefined : site.pages.get(site.settings.notFoundPage)
    const found = own?.live ? await published.at(own.path) : null
    if (!found || !('page' in found) || found.page.content.limitedTo) throw notFound('This page')
    const reader = await readerOf(request, found.page, site)
    const view = viewFor(request, response, reader, emptyForm)
    send(response, renderPage(platform, site, found.page, view), found.page.id, 404)
  }

  /** Leads whoever gets the other page of a step there, with all that the address carries. */
  async function leadToOtherTrack(
    request: Request,
    response: Response,
    site: Site,
    station: NonNullable<ReturnType<typeof sharedStation>>,
  ): Promise<boolean> {
    const contact = await contactOfMark(platform, markOf(request).mark)
    const who =
      contact === null ? `${request.ip} ${request.headers['user-agent'] ?? ''}` : `person ${contact}`
    const other = site.pages.get(trackFor(station, who))
    if (!other?.live || other.id === station.page) return false
    const query = request.originalUrl.indexOf('?')
    // The share may change: no browser may remember where it was led.
    response.set('cache-control', 'no-store')
    response.redirect(
      302,
      `${baseOf(response)}${other.path}${query < 0 ? '' : request.originalUrl.slice(query)}`,
    )
    return true
  }

  async function show(
    request: Request,
    response: Response,
    { page, site, edition }: { page: PublishedPage; site: Site; edition: number },
  ): Promise<void> {
    const course = site.pages.get(page.id)?.course ?? null
    const plain = markOf(request).mark === undefined && Object.keys(request.query).length === 0
    const shared = sharedStation(site, page.id)
    if (shared && (await leadToOtherTrack(request, response, site, shared))) return
    const restricted =
      shared !== null || isRehearsed(site, page.id) || ledTo(site, page.id, platform.clock.now()) !== null
    if (plain && course === null && !page.personal && !restricted && limitsOf(site, page).length === 0) {
      countVisit(visits, site, page.id, request, { query: {}, contact: null, ip: request.ip ?? '' })
      const base = baseOf(response)
      const reader = unknownReader(platform, site.business.zone)
      const view = { reader, mark: null, base, form: emptyForm, formAction: `${base}${page.path}` }
      const rendered = renderPage(platform, site, page, view)
      const until = Math.min(
        nextCountdownEnd(page.content.document, reader.now),
        nextTurnOf(site, page.id, reader.now),
      )
      ready.answerAndKeep(request, response, { page, site, rendered, until, edition })
      return
    }
    const reader = await readerOf(request, page, site)
    const view = viewFor(request, response, reader, {
      ...emptyForm,
      values: { ...sourceOf(request.query), ...hiddenOf(site, page, request.query) },
    })
    if (reader.contact !== null) keepMark(request, response, markOf(request).mark ?? '')
    await beginDeadline(request, site, page, reader)
    const { contact, rehearsal } = reader
    const { query, ip = '' } = request
    countVisit(visits, site, page.id, request, { query, contact, rehearsal, ip })
    if (isRefused(response, site, page, view)) return
    // Scanners of mail follow links too: what they look at has been seen by nobody.
    const isNew = course !== null && !reader.learner.seen.has(page.id)
    if (isNew && reader.contact !== null && isRead(request)) {
      const lessons = (site.courses.get(course) ?? []).map((lesson) => lesson.page)
      await database.inTransaction((tx) =>
        recordLessonSeen(
          tx,
          { contact: reader.contact ?? 0, page: page.id, course, lessons },
          new Date(reader.now),
        ),
      )
      view.reader = await readerOf(request, page, site)
    }
    const selling = await ordering.shown(request, site, page, view)
    if ('to' in selling) response.redirect(303, selling.to)
    else send(response, renderPage(platform, site, page, { ...view, ...selling }), page.id, selling.status)
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
    const { edition } = published
    const page = await pageOf(request, response)
    if (page) await show(request, response, { page, site: await published.site(), edition })
  })

  /** Takes in an order form, and leads on or shows it again. */
  async function order(
    request: Request,
    response: Response,
    site: Site,
    page: PublishedPage,
    block: string,
  ): Promise<void> {
    const view = viewFor(request, response, await readerOf(request, page, site), emptyForm)
    if (isRefused(response, site, page, view)) return
    const taken = await ordering.receive(request, site, page, block, view)
    if ('to' in taken) response.redirect(303, taken.to)
    else send(response, renderPage(platform, site, page, { ...view, ...taken }), page.id, taken.status)
  }

  routes.post(
    '/p/*path',
    limits.source,
    urlencoded({ extended: false, limit: largestForm, parameterLimit: 200 }),
    async (request, response) => {
      const found = await published.at(pathOf(request))
      const page = found && 'page' in found ? found.page : null
      const posted = readPosted(request.body)
      const block = page && formIn(page.content, posted.block)
      const site = await published.site()
      const form = await formAsSent(database, site.forms.get(block?.form ?? 0), posted.version)
      if (page && ordering.formIn(page, posted.block)) {
        await order(request, response, site, page, posted.block)
        return
      }
      if (!page || !block || !form) throw notFound('This page')
      const reader = await readerOf(request, page, site)
      const viewOf = (state: FormState): View => viewFor(request, response, reader, state)

      // Who may not see the page may not send its form, nor see it by sending something wrong.
      if (isRefused(response, site, page, viewOf(emptyForm))) return

      const received = await receiveForm(reception, {
        form,
        posted: { ...posted, block: block.id },
        place: { name: page.name, page: page.id, pageVersion: page.version },
        scope: `page ${page.id}`,
        ip: request.ip ?? null,
        acceptLanguage: request.headers['accept-language'] ?? '',
        known: reader.known,
        proven: isOwnMark(platform, markOf(request).mark) && reader.contact !== null,
      })
      if ('status' in received) {
        send(response, renderPage(platform, site, page, viewOf(received.state)), page.id, received.status)
        return
      }
      const { state, added, waits, sender } = received
      const sent = { sender, added, source: posted.source }
      if (added !== null && reader.contact === null) keepMark(request, response, formMark(platform, added))
      const href = waits
        ? null
        : hrefAfter(platform, site, form.content, viewOf(emptyForm), sent, { page: page.id })
      if (href !== null) response.status(303).location(href).end()
      else send(response, renderPage(platform, site, page, viewOf(state)), page.id)
    },
  )

  routes.get('/preview/:token', async (request, response) => {
    const page = await previewedPage(platform, request.params.token)
    const site = await published.site()
    const reader = await loadReader(platform, null, conditionsOf(page.content), site.business.zone)
    const view = { reader, mark: null, base: '/p/', form: emptyForm, formAction: '#' }
    const shown = { ...page, content: { ...page.content, listed: false } }
    send(response, renderPage(platform, site, shown, view, { framedBy: 'us' }), page.id)
  })

  return routes
}
