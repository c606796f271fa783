import { Router, urlencoded, type Request, type Response } from 'express'
import { z } from 'zod'
import { isShownAt } from '../../core/capture/popUp.ts'
import type { FormState } from '../../core/capture/shownForm.ts'
import { tokenMark, type PageContext } from '../../core/pages/context.ts'
import { walk } from '../../core/blocks/walk.ts'
import { formAsSent } from '../../server/capture/publishedForms.ts'
import { survivorOf } from '../../server/audience/people/contacts.ts'
import type { Place } from '../../server/capture/fulfilment.ts'
import { notFound } from '../../server/http/problems.ts'
import {
  conditionsOf,
  contactOfMark,
  isOwnMark,
  loadReader,
  type Reader,
} from '../../server/pages/readers.ts'
import { originsOfSite, type Site } from '../../server/pages/site.ts'
import type { Limits } from '../limits.ts'
import { isRead } from '../pages/countVisit.ts'
import { emptyForm, pageContext, type View } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { markOf } from '../pages/readerCookie.ts'
import { hrefAfter } from './afterForm.ts'
import { embeddedAnswer, embeddedParts, embeddedOf, formBlockIn, placeOf, type Embedded } from './embedded.ts'
import { embedScript, embedScriptFor } from './embedScript.ts'
import { framePage } from './framePage.ts'
import { receiveForm, type Received } from './receiveForm.ts'
import { hiddenIn, readPosted, sourceOf } from './submission.ts'

const largestForm = '20kb'

const counted = z.object({
  key: z.string().max(40).default(''),
  form: z.coerce.number().int().positive(),
  event: z.literal('begun'),
  at: z.string().max(2_000).default(''),
})

/** Answers that any site may read: they hold nothing of anybody who is not asking. */
function shareWithAll(response: Response): void {
  response.set({
    'access-control-allow-origin': '*',
    'cross-origin-resource-policy': 'cross-origin',
    'cache-control': 'no-store',
    'x-robots-tag': 'noindex',
  })
}

/** Forms and pop-ups on other sites, in frames, and in trees of their own on our pages. */
export function embedRoutes(
  { platform, published, tokens, desk, counts }: PublicSite,
  limits: Limits,
): Router {
  const routes = Router()
  const reception = { platform, desk, tokens }
  const posted = urlencoded({ extended: false, limit: largestForm, parameterLimit: 200 })

  const ofKey = async (request: Request): Promise<{ site: Site; embedded: Embedded }> => {
    const site = await published.site()
    const embedded = embeddedOf(site, String(request.params.key))
    if (!embedded) throw notFound('This form')
    return { site, embedded }
  }

  /** The other site that a request comes from; null when it is ours. */
  function otherSite(request: Request, site: Site): string | null {
    const { origin } = request.headers
    if (origin === undefined || !URL.canParse(origin)) return null
    return originsOfSite(platform.settings, site).includes(origin) || origin === ownOrigin(request)
      ? null
      : origin
  }

  const ownOrigin = (request: Request): string => `${request.protocol}://${request.headers.host ?? ''}`

  /** Who reads. On another site nobody is known: what that site can read must hold nothing of anybody. */
  async function readerOf(request: Request, { document }: Embedded, site: Site): Promise<Reader> {
    const known = otherSite(request, site) === null
    const contact = known ? await contactOfMark(platform, markOf(request).mark) : null
    const conditions = conditionsOf({ limitedTo: null, document })
    return loadReader(platform, contact, conditions, site.business.zone)
  }

  /** What it is drawn with: addresses are whole, since it may stand anywhere. */
  function contextOf(request: Request, site: Site, view: View): PageContext {
    const context = pageContext(platform, site, view)
    const origin = ownOrigin(request)
    const whole = (href: string | null): string | null => (href?.startsWith('/') ? `${origin}${href}` : href)
    return {
      ...context,
      hrefOf: (target) => whole(context.hrefOf(target)),
      pictureOf: (id) => {
        const files = context.pictureOf(id)
        return files && { ...files, base: `${origin}${files.base}` }
      },
      mediaOf: (id) => whole(context.mediaOf(id)),
      quizOf: (id) => {
        const quiz = context.quizOf(id)
        return quiz && { ...quiz, frame: `${origin}${quiz.frame}` }
      },
    }
  }

  const viewOf = (
    request: Request,
    reader: Reader,
    { key }: Embedded,
    form: FormState,
    way: string,
  ): View => {
    const { mark, inAddress } = markOf(request)
    const kept = inAddress && reader.contact !== null ? `?me=${mark}` : ''
    return {
      reader,
      mark: inAddress && reader.contact !== null ? (mark ?? null) : null,
      base: '/p/',
      form,
      formAction: `${ownOrigin(request)}/forms/${way}/${key}${kept}`,
    }
  }

  const scopeOf = ({ key }: Embedded): string => `embedded ${key}`
  const withToken = (embedded: Embedded, markup: string): string =>
    markup.replaceAll(tokenMark, () => `value="${tokens.make(scopeOf(embedded))}"`)

  /** What an address gives to the forms in it. */
  const given = ({ document }: Embedded, site: Site, query: unknown): FormState => ({
    ...emptyForm,
    values: Object.assign(
      {},
      sourceOf(query),
      ...[...walk(document)].map(({ block }) => {
        const form = block.kind === 'form' ? site.forms.get(block.form ?? 0) : undefined
        return form ? hiddenIn(form.content, query) : {}
      }),
    ) as Record<string, string>,
  })

  /** May a pop-up be shown to this reader, at this address? */
  async function mayShow({ popUp }: Embedded, reader: Reader, at: unknown): Promise<boolean> {
    if (!popUp) return true
    const { notTo } = popUp.content
    if (notTo !== 'nobody' && reader.contact !== null) {
      if (notTo === 'known') return false
      const state = await platform.database.row<{ subscribed: boolean }>(
        `select marketing_state = 'subscribed' subscribed from contact where id = $1`,
        [reader.contact],
      )
      if (state?.subscribed) return false
    }
    return typeof at !== 'string' || !URL.canParse(at) || isShownAt(popUp.content, new URL(at))
  }

  function countSeen(request: Request, reader: Reader, site: Site, embedded: Embedded): void {
    if (!isRead(request) || reader.rehearsal) return
    for (const { block } of walk(embedded.document))
      if (block.kind === 'form' && block.form !== null)
        counts.count(block.form, placeOf(embedded, otherSite(request, site)), 'seen')
  }

  routes.get('/forms/show/:key', limits.source, async (request, response) => {
    const { site, embedded } = await ofKey(request)
    shareWithAll(response)
    const reader = await readerOf(request, embedded, site)
    if (!(await mayShow(embedded, reader, request.query.at))) {
      response.status(204).end()
      return
    }
    countSeen(request, reader, site, embedded)
    const view = viewOf(request, reader, embedded, given(embedded, site, request.query), 'send')
    const answer = embeddedAnswer(embedded, contextOf(request, site, view))
    response.json({ ...answer, html: withToken(embedded, answer.html) })
  })

  async function receive(
    request: Request,
    reader: Reader,
    site: Site,
    embedded: Embedded,
  ): Promise<{ received: Received; go: (view: View) => string | null }> {
    const read = readPosted(request.body)
    const block = formBlockIn(embedded, read.block)
    const form = await formAsSent(platform.database, site.forms.get(block?.form ?? 0), read.version)
    if (!block || !form) throw notFound('This form')
    const other = otherSite(request, site)
    const place: Place = {
      name: other ?? embedded.name,
      ...(other !== null && { site: other }),
      ...(embedded.popUp && { popUp: embedded.popUp.id }),
    }
    const received = await receiveForm(reception, {
      form,
      posted: { ...read, block: block.id },
      place,
      scope: scopeOf(embedded),
      ip: request.ip ?? null,
      acceptLanguage: request.headers['accept-language'] ?? '',
      known: reader.known,
      proven: isOwnMark(platform, markOf(request).mark) && reader.contact !== null,
    })
    const go = (view: View): string | null =>
      'status' in received || received.waits
        ? null
        : hrefAfter(platform, site, form.content, view, { ...received, source: read.source })
    return { received, go }
  }

  routes.post('/forms/send/:key', limits.source, posted, async (request, response) => {
    const { site, embedded } = await ofKey(request)
    shareWithAll(response)
    const reader = await readerOf(request, embedded, site)
    const { received, go } = await receive(request, reader, site, embedded)
    const view = viewOf(request, reader, embedded, received.state, 'send')
    const href = go(view)
    const done = !('status' in received)
    const whole = href?.startsWith('/') ? `${ownOrigin(request)}${href}` : href
    const markup = withToken(embedded, embeddedParts(embedded, contextOf(request, site, view)))
    response.json(whole === null ? { html: markup, done } : { go: whole, done })
  })

  const sendFrame = (
    request: Request,
    response: Response,
    site: Site,
    embedded: Embedded,
    view: View,
    status = 200,
  ): void => {
    const trial = view.reader.rehearsal ? (view.reader.known?.builtIn.firstName ?? 'somebody') : null
    const { markup, policy } = framePage(embedded, contextOf(request, site, view), trial)
    response
      .set({
        'content-security-policy': policy,
        'cross-origin-resource-policy': 'cross-origin',
        'cache-control': 'private, no-store',
        'x-robots-tag': 'noindex',
      })
      .removeHeader('x-frame-options')
    response.type('html').status(status).send(withToken(embedded, markup))
  }

  // A page by itself: for frames on other sites, and for buttons that open a pop-up where no script runs.
  routes.get('/forms/frame/:key', limits.source, async (request, response) => {
    const { site, embedded } = await ofKey(request)
    const reader = await readerOf(request, embedded, site)
    countSeen(request, reader, site, embedded)
    const view = viewOf(request, reader, embedded, given(embedded, site, request.query), 'frame')
    sendFrame(request, response, site, embedded, view)
  })

  routes.post('/forms/frame/:key', limits.source, posted, async (request, response) => {
    const { site, embedded } = await ofKey(request)
    const reader = await readerOf(request, embedded, site)
    const { received, go } = await receive(request, reader, site, embedded)
    const view = viewOf(request, reader, embedded, received.state, 'frame')
    const href = go(view)
    if (href !== null) response.redirect(303, href)
    else sendFrame(request, response, site, embedded, view, 'status' in received ? received.status : 200)
  })

  routes.post('/forms/count', limits.source, posted, async (request, response) => {
    shareWithAll(response)
    const read = counted.safeParse(request.body)
    if (read.success) {
      const { key, form, event, at } = read.data
      const site = await published.site()
      const embedded = embeddedOf(site, key)
      const reads = URL.canParse(at) ? new URL(at).searchParams.get('me') : null
      const contact = await contactOfMark(platform, markOf(request).mark ?? reads ?? undefined)
      const trial = contact !== null && (await survivorOf(platform.database, contact))?.rehearsal
      const page = URL.canParse(at) ? await published.at(new URL(at).pathname.replace(/^\/(p\/)?/, '')) : null
      const onPage = page && 'page' in page ? `page ${page.page.id}` : 'elsewhere'
      if (site.forms.has(form) && trial !== true)
        counts.count(form, embedded ? placeOf(embedded, otherSite(request, site)) : onPage, event)
    }
    response.status(204).end()
  })

  routes.get(embedScript.path, (_request, response) => {
    response.set('cache-control', 'public, max-age=31536000, immutable').type('js').send(embedScript.source)
  })
  // Other sites have the same address for ever: what it says is at most five minutes old.
  routes.get('/embed.js', async (_request, response) => {
    response
      .set({ 'cache-control': 'public, max-age=300', 'cross-origin-resource-policy': 'cross-origin' })
      .type('js')
      .send(embedScriptFor(await published.site()))
  })
  return routes
}
