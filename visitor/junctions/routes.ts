import { Router, urlencoded, type Request, type Response } from 'express'
import type { Source } from '../../core/audience/people/activity.ts'
import type { FormState } from '../../core/capture/shownForm.ts'
import type { Target } from '../../core/blocks/target.ts'
import type { Choice } from '../../core/junctions/choosing.ts'
import { formAsSent, type PublishedForm } from '../../server/capture/publishedForms.ts'
import { notFound } from '../../server/http/problems.ts'
import { choiceOtherwise, openJunctionDesk, type Decided } from '../../server/junctions/deciding.ts'
import { readPassToken, usePassToken, type PassToken } from '../../server/junctions/passTokens.ts'
import { junctionPaths } from '../../server/junctions/junctions.ts'
import type { PublishedJunction } from '../../server/junctions/publishedJunctions.ts'
import { contactOfMark, isOwnMark, loadReader, unknownReader } from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import { hrefAfter, hrefForSender } from '../capture/afterForm.ts'
import { receiveForm } from '../capture/receiveForm.ts'
import { hiddenIn, readPosted, sourceOf } from '../capture/submission.ts'
import type { Limits } from '../limits.ts'
import { isRead } from '../pages/countVisit.ts'
import { baseOf, emptyForm, hrefFor, noPage, type View } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { markOf } from '../pages/readerCookie.ts'
import { markupOf } from '../pages/readyPages.ts'
import { renderPage } from '../pages/renderPage.ts'
import { sendNotice } from '../respond.ts'
import { askedBlock, askingPage, leadingTo } from './askFirst.ts'

const largestForm = '20kb'

/** By what somebody is known who comes to a junction. */
interface Comer {
  contact: number | null
  /** A link of a form by which they come. */
  pass: PassToken | null
  /** Their mark, when the address carries it. */
  mark: string | null
  /** They came here on purpose: no other site has sent their browser here. */
  isMeant: boolean
}

/** A junction that somebody asks for. */
interface Found {
  site: Site
  junction: PublishedJunction
}

const nobody: Comer = { contact: null, pass: null, mark: null, isMeant: true }

/** Puts UTM values to an address that is no mailbox. */
function withSource(href: string, source: Source): string {
  if (href.startsWith('mailto:')) return href
  const [address = '', fragment] = href.split('#')
  const more = new URLSearchParams(source).toString()
  const joined = `${address}${address.includes('?') ? '&' : '?'}${more}`
  return fragment === undefined ? joined : `${joined}#${fragment}`
}

/** Addresses that send each person on. */
export function junctionRoutes(
  { platform, published, passes, counts, tokens, desk }: PublicSite,
  limits: Limits,
): Router {
  const routes = Router()
  const junctions = openJunctionDesk(platform)
  const reception = { platform, desk, tokens }

  /** The junction of a request; sends on who has an address that it had before. */
  async function junctionOf(request: Request, response: Response): Promise<Found | null> {
    const path = String(request.params.path).toLowerCase()
    const site = await published.site()
    const junction = [...site.junctions.values()].find((each) => each.path === path)
    if (junction) return { site, junction }
    const moved = await junctionPaths.moved(platform.database, path)
    if (moved === null) throw notFound('This link')
    const query = request.originalUrl.indexOf('?')
    response.redirect(301, `/j/${moved}${query < 0 ? '' : request.originalUrl.slice(query)}`)
    return null
  }

  async function comerOf(request: Request, { id }: PublishedJunction): Promise<Comer> {
    const { pass } = request.query
    const read = typeof pass === 'string' ? readPassToken(platform, id, pass) : null
    if (read) return { contact: read.contact, pass: read, mark: null, isMeant: true }
    const { mark, inAddress } = markOf(request)
    const contact = await contactOfMark(platform, mark)
    if (contact === null) return nobody
    // A cookie comes along from anywhere: another site could send somebody here.
    const isMeant =
      inAddress || request.get('sec-fetch-site') === 'same-origin' || request.get('sec-fetch-user') === '?1'
    return { contact, pass: null, mark: inAddress ? (mark ?? null) : null, isMeant }
  }

  /** Where a target leads somebody from here; null when it leads nowhere. */
  function hrefTo(
    { site, junction }: Found,
    base: string,
    comer: Comer,
    target: Target,
    source: Source,
  ): string | null {
    const { contact, pass, mark } = comer
    const known = pass?.proven === false ? null : contact
    const view = { reader: { ...unknownReader(platform, site.business.zone), contact: known }, mark, base }
    const here = { junction: junction.id }
    const href = pass
      ? hrefForSender(platform, site, target, view, { sender: pass, added: null, source: {} }, here)
      : hrefFor(platform, site, view, here)(target)
    return href === null || Object.keys(source).length === 0 ? href : withSource(href, source)
  }

  /** Who uses a link of a form again goes where it led first. @returns the choice, and whether it is the first */
  async function once(
    junction: PublishedJunction,
    pass: PassToken,
    choice: Choice,
  ): Promise<[Choice, boolean]> {
    const first = await usePassToken(platform, junction.id, pass, choice.rule)
    if (first === null) return [choice, true]
    const rule = junction.content.rules.find(({ id }) => id === first)
    const { reason } = choice
    return [rule ? { rule: rule.id, target: rule.target, reason } : choiceOtherwise(junction), false]
  }

  async function decide(junction: PublishedJunction, comer: Comer): Promise<Decided | null> {
    const trusted = comer.pass?.proven !== false || junction.content.trustsForms
    return comer.contact !== null && trusted ? junctions.decide(junction, comer.contact) : null
  }

  async function sendOn(request: Request, response: Response, found: Found, comer: Comer): Promise<void> {
    const { junction } = found
    const decided = await decide(junction, comer)
    const choice = decided ?? choiceOtherwise(junction)
    // A robot, or a look at the head, uses nothing up and counts nowhere.
    const isCounted = isRead(request)
    const [chosen, isFirst] =
      comer.pass && isCounted ? await once(junction, comer.pass, choice) : [choice, true]
    const base = baseOf(response)
    const source = junction.content.carriesSource ? sourceOf(request.query) : {}
    const href =
      hrefTo(found, base, comer, chosen.target, source) ??
      // What the rule led to is not there any more.
      hrefTo(found, base, comer, junction.content.otherwise, source)
    if (isFirst && isCounted)
      passes.record({
        junction: junction.id,
        rule: chosen.rule,
        target: chosen.target,
        why: chosen.reason,
        contact: decided?.contact ?? null,
        rehearsal: decided?.rehearsal ?? false,
        journalled: comer.isMeant,
      })
    response.set({ 'cache-control': 'no-store', 'x-robots-tag': 'noindex', 'referrer-policy': 'no-referrer' })
    if (href === null)
      sendNotice(response, 404, 'There is nothing here now', 'What this link led to has been taken away.')
    else response.redirect(302, href)
  }

  /** The form that visitors send first whom nobody knows, leading back here; null when they are sent on at once. */
  function formFirst({ site, junction }: Found): PublishedForm | null {
    const { strangers } = junction.content
    const form = strangers.go === 'form' ? site.forms.get(strangers.form ?? 0) : undefined
    return form ? leadingTo(junction, form) : null
  }

  function show(
    response: Response,
    { site, junction }: Found,
    form: PublishedForm,
    state: FormState,
    status = 200,
  ): void {
    const view: View = {
      reader: unknownReader(platform, site.business.zone),
      mark: null,
      base: baseOf(response),
      form: state,
      formAction: `/j/${junction.path}`,
    }
    const here = { ...site, forms: new Map(site.forms).set(form.id, form) }
    const rendered = renderPage(platform, here, askingPage(junction, form), view, {
      path: `/j/${junction.path}`,
      here: { junction: junction.id },
    })
    response
      .set({
        'content-security-policy': rendered.policy,
        'cache-control': 'private, no-store',
        'x-robots-tag': 'noindex',
      })
      .type('html')
      .status(status)
      .end(markupOf(tokens, rendered, noPage))
  }

  routes.get('/j/:path', limits.source, async (request, response) => {
    const found = await junctionOf(request, response)
    if (!found) return
    const comer = await comerOf(request, found.junction)
    const form = comer.contact === null ? formFirst(found) : null
    if (!form) {
      await sendOn(request, response, found, comer)
      return
    }
    if (isRead(request)) counts.count(form.id, 'elsewhere', 'seen')
    const values = { ...sourceOf(request.query), ...hiddenIn(form.content, request.query) }
    show(response, found, form, { ...emptyForm, values })
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
      const sent = await formAsSent(platform.database, formFirst(found) ?? undefined, posted.version)
      if (!sent) throw notFound('This link')
      const form = leadingTo(junction, sent)
      const { mark } = markOf(request)
      const contact = await contactOfMark(platform, mark)
      const reader = await loadReader(platform, contact, [], site.business.zone)
      const received = await receiveForm(reception, {
        form,
        posted: { ...posted, block: askedBlock },
        place: { name: junction.name },
        scope: `page ${noPage}`,
        ip: request.ip ?? null,
        acceptLanguage: request.headers['accept-language'] ?? '',
        known: reader.known,
        proven: isOwnMark(platform, mark) && contact !== null,
      })
      if ('status' in received) {
        show(response, found, form, received.state, received.status)
        return
      }
      const view = { reader, mark: null, base: baseOf(response) }
      const after = { ...received, source: posted.source }
      // Without a sender nobody would be known there, and asked once more.
      const goes = !received.waits && received.sender !== null
      const href = goes ? hrefAfter(platform, site, form.content, view, after) : null
      if (href === null) show(response, found, form, received.state)
      else response.redirect(303, href)
    },
  )

  return routes
}
