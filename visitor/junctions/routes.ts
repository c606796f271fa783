import { Router, urlencoded, type Request, type Response } from 'express'
import type { FormState } from '../../core/capture/shownForm.ts'
import type { Target } from '../../core/blocks/target.ts'
import type { Choice } from '../../core/junctions/choosing.ts'
import { formAsSent, type PublishedForm } from '../../server/capture/publishedForms.ts'
import { notFound } from '../../server/http/problems.ts'
import { choiceOtherwise, openJunctionDesk, type Decided } from '../../server/junctions/deciding.ts'
import { readPassToken, usePassToken, type PassToken } from '../../server/junctions/passTokens.ts'
import { movedJunction, type PublishedJunction } from '../../server/junctions/publishedJunctions.ts'
import { contactOfMark, isOwnMark, unknownReader } from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import { hrefForSender } from '../capture/afterForm.ts'
import { receiveForm } from '../capture/receiveForm.ts'
import { readPosted, sourceOf } from '../capture/submission.ts'
import type { Limits } from '../limits.ts'
import { isRead } from '../pages/countVisit.ts'
import { emptyForm, hrefFor, type View } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { markOf } from '../pages/readerCookie.ts'
import { markupOf } from '../pages/readyPages.ts'
import { renderPage } from '../pages/renderPage.ts'
import { sendNotice } from '../respond.ts'
import { askedBlock, askingPage } from './askFirst.ts'

const largestForm = '20kb'

/** By what somebody is known who comes to a junction. */
interface Comer {
  contact: number | null
  /** A token of a form that they come by. */
  pass: { token: string; proven: boolean } | null
  /** Their mark, when the address carries it. */
  mark: string | null
  /** They came here on purpose: no other site has sent their browser here. */
  isMeant: boolean
}

const nobody: Comer = { contact: null, pass: null, mark: null, isMeant: true }

/** Addresses that send each person on. */
export function junctionRoutes(
  { platform, published, passes, tokens, desk }: PublicSite,
  limits: Limits,
): Router {
  const routes = Router()
  const junctions = openJunctionDesk(platform)
  const reception = { platform, desk, tokens }

  /** The junction of a request; sends on who has an address that it had before. */
  async function junctionOf(
    request: Request,
    response: Response,
  ): Promise<{ site: Site; junction: PublishedJunction } | null> {
    const path = String(request.params.path).toLowerCase()
    const site = await published.site()
    const junction = [...site.junctions.values()].find((each) => each.path === path)
    if (junction) return { site, junction }
    const moved = await movedJunction(platform.database, path)
    if (moved === null) throw notFound('This link')
    const query = request.originalUrl.indexOf('?')
    response.redirect(301, `/j/${moved}${query < 0 ? '' : request.originalUrl.slice(query)}`)
    return null
  }

  async function comerOf(request: Request, { id }: PublishedJunction): Promise<Comer> {
    const { pass } = request.query
    const read = typeof pass === 'string' ? readPassToken(platform, id, pass) : null
    if (typeof pass === 'string' && read)
      return { contact: read.contact, pass: { token: pass, proven: read.proven }, mark: null, isMeant: true }
    const { mark, inAddress } = markOf(request)
    const contact = await contactOfMark(platform, mark)
    if (contact === null) return nobody
    // A cookie comes along from anywhere: another site could send somebody here.
    const isMeant =
      inAddress || request.get('sec-fetch-site') === 'same-origin' || request.get('sec-fetch-user') === '?1'
    return { contact, pass: null, mark: inAddress ? (mark ?? null) : null, isMeant }
  }

  /** Where a target leads somebody from here; null when it leads nowhere. */
  function hrefTo(site: Site, base: string, comer: Comer, target: Target, source: object): string | null {
    const reader = {
      ...unknownReader(platform, site.business.zone),
      contact: comer.pass?.proven === false ? null : comer.contact,
    }
    const view = { reader, mark: comer.mark, base }
    const sender: PassToken | null =
      comer.pass && comer.contact !== null ? { contact: comer.contact, proven: comer.pass.proven } : null
    const href = sender
      ? hrefForSender(platform, site, target, view, { sender, added: null, source: {} })
      : hrefFor(platform, site, view)(target)
    const values = Object.entries(source) as [string, string][]
    if (href === null || values.length === 0 || href.startsWith('mailto:')) return href
    const [address = '', fragment] = href.split('#')
    const more = new URLSearchParams(values).toString()
    return `${address}${address.includes('?') ? '&' : '?'}${more}${fragment === undefined ? '' : `#${fragment}`}`
  }

  /** Who uses a link of a form again goes where it led first. */
  async function once(junction: PublishedJunction, comer: Comer, choice: Choice): Promise<[Choice, boolean]> {
    if (!comer.pass) return [choice, true]
    const first = await usePassToken(platform, comer.pass.token, choice.rule)
    if (first === null) return [choice, true]
    const rule = junction.content.rules.find(({ id }) => id === first)
    return [
      rule ? { rule: rule.id, target: rule.target, reason: choice.reason } : choiceOtherwise(junction),
      false,
    ]
  }

  async function decide(junction: PublishedJunction, comer: Comer): Promise<Decided | null> {
    const trusted = comer.pass?.proven !== false || junction.content.trustsForms
    return comer.contact !== null && trusted ? junctions.decide(junction, comer.contact) : null
  }

  async function sendOn(
    request: Request,
    response: Response,
    { site, junction }: { site: Site; junction: PublishedJunction },
    comer: Comer,
    source: object,
  ): Promise<void> {
    const decided = await decide(junction, comer)
    const [choice, isFirst] = await once(junction, comer, decided ?? choiceOtherwise(junction))
    const base = response.locals.ownDomain === true ? '/' : '/p/'
    const carried = junction.content.carriesSource ? source : {}
    const href =
      hrefTo(site, base, comer, choice.target, carried) ??
      // What the rule led to is not there any more.
      hrefTo(site, base, comer, junction.content.otherwise, carried)
    if (isFirst && (isRead(request) || request.method === 'POST'))
      passes.record({
        junction: junction.id,
        rule: choice.rule,
        target: choice.target,
        why: choice.reason,
        contact: decided?.contact ?? null,
        rehearsal: decided?.rehearsal ?? false,
        journalled: comer.isMeant,
      })
    response.set({ 'cache-control': 'no-store', 'x-robots-tag': 'noindex', 'referrer-policy': 'no-referrer' })
    if (href === null)
      sendNotice(response, 404, 'There is nothing here now', 'What this link led to has been taken away.')
    else response.redirect(request.method === 'POST' ? 303 : 302, href)
  }

  /** The form that this visitor sends first; null when they are sent on at once. */
  function formFirst(site: Site, { content }: PublishedJunction, { contact }: Comer): PublishedForm | null {
    if (contact !== null || content.strangers.go !== 'form') return null
    return site.forms.get(content.strangers.form ?? 0) ?? null
  }

  function show(
    request: Request,
    response: Response,
    site: Site,
    junction: PublishedJunction,
    form: PublishedForm,
    state: FormState,
    status = 200,
  ): void {
    const view: View = {
      reader: unknownReader(platform, site.business.zone),
      mark: null,
      base: response.locals.ownDomain === true ? '/' : '/p/',
      form: { ...state, values: { ...sourceOf(request.query), ...state.values } },
      formAction: `/j/${junction.path}`,
    }
    const rendered = renderPage(platform, site, askingPage(junction, form), view)
    response
      .set({
        'content-security-policy': rendered.policy,
        'cache-control': 'private, no-store',
        'x-robots-tag': 'noindex',
      })
      .type('html')
      .status(status)
      .end(markupOf(tokens, rendered, 0))
  }

  routes.get('/j/:path', limits.source, async (request, response) => {
    const found = await junctionOf(request, response)
    if (!found) return
    const comer = await comerOf(request, found.junction)
    const form = formFirst(found.site, found.junction, comer)
    if (form) show(request, response, found.site, found.junction, form, emptyForm)
    else await sendOn(request, response, found, comer, sourceOf(request.query))
  })

  routes.post(
    '/j/:path',
    limits.source,
    urlencoded({ extended: false, limit: largestForm, parameterLimit: 200 }),
    async (request, response) => {
      const found = await junctionOf(request, response)
      if (!found) return
      const { site, junction } = found
      const posted = readPosted(request.body)
      const asked = formFirst(site, junction, nobody)
      const form = await formAsSent(platform.database, asked ?? undefined, posted.version)
      if (!form) throw notFound('This link')
      const { mark } = markOf(request)
      const received = await receiveForm(reception, {
        form,
        posted: { ...posted, block: askedBlock },
        place: { name: junction.name },
        scope: 'page 0',
        ip: request.ip ?? null,
        acceptLanguage: request.headers['accept-language'] ?? '',
        known: null,
        proven: isOwnMark(platform, mark) && (await contactOfMark(platform, mark)) !== null,
      })
      if ('status' in received) show(request, response, site, junction, form, received.state, received.status)
      else if (received.waits || received.sender === null)
        show(request, response, site, junction, form, received.state)
      else {
        const { contact, proven } = received.sender
        const pass = proven || junction.content.trustsForms ? { token: posted.token, proven } : null
        const comer: Comer = pass ? { contact, pass, mark: null, isMeant: true } : nobody
        await sendOn(request, response, found, comer, posted.source)
      }
    },
  )

  return routes
}
