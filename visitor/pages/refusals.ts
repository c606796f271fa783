import type { Response } from 'express'
import { nowhere } from '../../core/blocks/target.ts'
import { stateOfDeadline } from '../../core/commerce/deadlineState.ts'
import type { Condition } from '../../core/audience/segments/condition.ts'
import { html, type Html } from '../../core/html.ts'
import { accessCondition, maySee } from '../../core/pages/course.ts'
import { lessonStates } from '../../core/pages/lessons.ts'
import type { LimitedTo } from '../../core/pages/page.ts'
import type { PublishedPage } from '../../server/pages/publishedPages.ts'
import type { Reader } from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import type { Platform } from '../../server/platform.ts'
import { sendNotice, sendPage } from '../respond.ts'
import { funnelOf, isRehearsed, ledTo } from './funnelOfPage.ts'
import { hrefFor, type View } from './pageContext.ts'

/** Who may see a page: by its funnel, and by itself. */
export const limitsOf = (site: Site, { id, content }: PublishedPage): LimitedTo[] =>
  [funnelOf(site, id)?.settings.limitedTo, content.limitedTo].flatMap((each) => each ?? [])

/** What is asked of whoever wants to see a lesson. */
export function courseConditions(site: Site, { id }: PublishedPage): Condition[] {
  const course = site.pages.get(id)?.course
  const info = course == null ? undefined : site.courseInfo.get(course)
  const asked = info ? accessCondition(info.access) : null
  return asked === null ? [] : [asked]
}

/** Answers who may not see a page, or not yet. */
export function openRefusals(platform: Platform) {
  /** What others get in the place of a page that is limited to some. */
  function sendOthers(
    response: Response,
    site: Site,
    page: PublishedPage,
    view: View,
    { others }: LimitedTo,
  ): void {
    if (others.get === 'address') {
      response.redirect(302, others.url)
      return
    }
    if (others.get === 'page') {
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
      others.get === 'text' ? others.words : 'This page is for others.',
    )
  }

  /** In the place of a lesson: why it is not shown, and where to go instead. */
  function sendWayOn(
    response: Response,
    site: Site,
    { content: { title } }: PublishedPage,
    words: Html,
  ): void {
    const body = html`<h1>${title}</h1>
      ${words}`
    sendPage(response, { title, business: site.business.name, unlisted: true, body }, 403)
  }

  /** Leads whoever may not see a lesson to the offer of its course, or says how one gets in. */
  function sendOffer(response: Response, site: Site, page: PublishedPage, view: View): boolean {
    const course = site.pages.get(page.id)?.course
    const info = course == null ? undefined : site.courseInfo.get(course)
    if (course == null || !info) return false
    const { reader } = view
    if (maySee(info.access, { hasBought: reader.courses.has(course), shows: reader.shows })) return false
    const href = hrefFor(platform, site, view, { page: page.id })(info.others)
    if (href !== null && !href.startsWith(view.formAction)) {
      response.redirect(302, href)
      return true
    }
    const whom = info.access.for === 'buyers' ? 'who has the course' : 'who gets our news'
    sendWayOn(
      response,
      site,
      page,
      html`<p>This lesson is for ${whom}. Are you one of them? We send you the way in by email.</p>
        <p><a href="/mine?to=${encodeURIComponent(view.formAction)}">Send me the way in</a></p>`,
    )
    return true
  }

  /** Tells whoever comes to a lesson too early when it opens, and leads them to the one with which they can go on. */
  function sendLocked(response: Response, site: Site, page: PublishedPage, view: View): boolean {
    const course = site.pages.get(page.id)?.course
    if (course === undefined || course === null) return false
    const { learner, now } = view.reader
    const states = lessonStates(site.courses.get(course) ?? [], learner, now, site.business.zone)
    const state = states.find((each) => each.page === page.id)
    if (state?.is !== 'locked') return false
    const next = states.find(({ is }) => is === 'open')
    const href = next && hrefFor(platform, site, view, { page: page.id })({ to: 'page', page: next.page })
    const onward = next && href ? html`<p><a href="${href}">Go on with “${next.title}”</a></p>` : null
    sendWayOn(
      response,
      site,
      page,
      html`<p>This lesson ${state.words}.</p>
        ${onward}`,
    )
    return true
  }

  /** A page with a personal deadline is open while it runs for its reader; nobody else has a deadline to wait for. */
  const isOver = ({ content: { deadline } }: PublishedPage, reader: Reader): boolean =>
    deadline !== null && stateOfDeadline(reader.deadlines[deadline], reader.now) !== 'running'

  /** Answers who may not see the page, or not yet. */
  return function isRefused(response: Response, site: Site, page: PublishedPage, view: View): boolean {
    const { title } = page.content
    if (isRehearsed(site, page.id) && !view.reader.rehearsal) {
      sendNotice(response, 403, title, 'This has not begun yet.')
      return true
    }
    const led = ledTo(site, page.id, view.reader.now)
    if (led) {
      const href = hrefFor(platform, site, view, { page: page.id })(led.target)
      if (href !== null) response.redirect(302, href)
      else
        sendNotice(response, 403, title, led.why === 'before' ? 'This has not begun yet.' : 'This is over.')
      return true
    }
    if (isOver(page, view.reader)) {
      const { deadline } = page.content
      const after = site.deadlines.get(deadline ?? '')?.afterwards ?? nowhere
      const href = hrefFor(platform, site, view, { page: page.id })(after)
      if (href !== null && !href.startsWith(view.formAction)) response.redirect(302, href)
      else sendNotice(response, 403, title, 'This offer is over.')
      return true
    }
    const limited = limitsOf(site, page).find(({ people }) => !view.reader.shows(people))
    if (limited) {
      sendOthers(response, site, page, view, limited)
      return true
    }
    return sendOffer(response, site, page, view) || sendLocked(response, site, page, view)
  }
}
