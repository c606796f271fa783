import { Router, urlencoded, type Request, type Response } from 'express'
import { z } from 'zod'
import type { Html } from '../../core/html.ts'
import { accessCondition, progressOf } from '../../core/pages/course.ts'
import { lessonStates } from '../../core/pages/lessons.ts'
import { preferencesUrl } from '../../server/audience/people/preferences.ts'
import { survivorOf, type Contact } from '../../server/audience/people/contacts.ts'
import { belongingsOf, coursesOf } from '../../server/commerce/belongings.ts'
import {
  askForLink,
  insideMark,
  placeAfter,
  readBuyerLink,
  readInsideMark,
  staysIn,
} from '../../server/commerce/buyerLinks.ts'
import { orderToken } from '../../server/commerce/orderLinks.ts'
import { loadReader, readerMark } from '../../server/pages/readers.ts'
import { getBusiness } from '../../server/workspace/business.ts'
import type { Limits } from '../limits.ts'
import { baseOf, hrefFor } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { cookieOf } from '../pages/readerCookie.ts'
import { sendNotice, sendPage } from '../respond.ts'
import { areaHtml, askHtml, type ShownArea } from './buyersAreaPage.ts'
import { shownPurchase } from './purchase.ts'

/** The cookie of who came in; it is needed for what they ask for, and says nothing to anybody else. */
const cookie = 'inside'

const asking = z.object({
  address: z.string().max(300).default(''),
  to: z.string().max(200).default(''),
})

/** The buyers' area: what is somebody's, by a link that only their mailbox has. */
export function buyersArea({ platform, published }: PublicSite, limits: Limits): Router {
  const { database: q, settings } = platform
  const routes = Router()

  async function send(response: Response, title: string, body: Html): Promise<void> {
    const { name, postalAddress } = await getBusiness(q)
    const foot = `${name}, ${postalAddress}`
    sendPage(response, { title, business: name, foot, unlisted: true, body })
  }

  async function areaOf(whose: Contact, response: Response): Promise<ShownArea> {
    const contact = whose.id
    const site = await published.site()
    const conditions = [...site.courseInfo.values()].flatMap(({ access }) => accessCondition(access) ?? [])
    const reader = await loadReader(platform, contact, conditions, site.business.zone)
    const mark = readerMark(platform, contact)
    const looking = { reader, mark, base: baseOf(response) }
    const hrefOf = hrefFor(platform, site, looking)
    const courses = (await coursesOf(q, contact)).flatMap((id) => {
      const info = site.courseInfo.get(id)
      const lessons = site.courses.get(id) ?? []
      if (!info || lessons.length === 0) return []
      const states = lessonStates(lessons, reader.learner, reader.now, site.business.zone)
      const progress = progressOf(states)
      const page = progress.next?.page ?? states.find(({ is }) => is === 'done')?.page
      return [
        {
          name: info.name,
          description: info.description,
          progress,
          href: page === undefined ? null : hrefOf({ to: 'page', page }),
        },
      ]
    })
    const belongings = (await belongingsOf(q, whose, new Date(reader.now))).map((belonging) => {
      const path = `/order/${orderToken(platform, belonging.order.id)}`
      return {
        belonging,
        shown: shownPurchase(platform, site, belonging.order, looking),
        cardHref: belonging.subscription ? `${path}/card` : null,
        invoiceHref: (number: number): string => `${path}/invoice/${number}`,
      }
    })
    return {
      firstName: reader.known?.builtIn.firstName ?? '',
      zone: reader.learner.zone,
      courses,
      belongings,
      preferencesHref: preferencesUrl(platform, contact),
    }
  }

  const insideOf = async (request: Request): Promise<Contact | null> => {
    const contact = readInsideMark(platform, cookieOf(request, cookie))
    return contact === null ? null : ((await survivorOf(q, contact)) ?? null)
  }

  routes.get('/mine', limits.source, async (request, response) => {
    const contact = await insideOf(request)
    const to = placeAfter(request.query.to)
    if (contact === null) await send(response, 'What is yours', askHtml(to ?? '', false))
    else await send(response, 'What is yours', areaHtml(await areaOf(contact, response)))
  })

  routes.post(
    '/mine',
    limits.source,
    urlencoded({ extended: false, limit: '2kb' }),
    async (request, response) => {
      const { address, to } = asking.parse(request.body ?? {})
      await askForLink(platform, address, to)
      await send(response, 'Look into your mailbox', askHtml('', true))
    },
  )

  routes.get('/mine/in/:token', limits.source, async (request, response) => {
    const linked = readBuyerLink(platform, String(request.params.token))
    const contact = linked === null ? null : ((await survivorOf(q, linked))?.id ?? null)
    if (contact === null) {
      sendNotice(
        response,
        404,
        'This link is too old',
        'It works for an hour. Ask for another one where you asked for this one.',
      )
      return
    }
    response.cookie(cookie, insideMark(platform, contact), {
      httpOnly: true,
      sameSite: 'lax',
      secure: settings.publicUrl.startsWith('https:'),
      maxAge: staysIn,
    })
    const to = placeAfter(request.query.to)
    response.set('cache-control', 'no-store')
    response.redirect(303, to === null ? '/mine' : `${to}?me=${readerMark(platform, contact)}`)
  })

  routes.post('/mine/out', (_request, response) => {
    response.clearCookie(cookie).redirect(303, '/mine')
  })

  return routes
}
