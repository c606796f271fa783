import { Router, urlencoded, type Request } from 'express'
import { z } from 'zod'
import { unsubscribe } from '../../server/audience/people/permission.ts'
import { survivorOf } from '../../server/audience/people/contacts.ts'
import { followLink } from '../../server/email/clicks.ts'
import { timeLeftOf } from '../../server/commerce/deadlines.ts'
import { openCountdowns } from '../../server/email/countdownPicture.ts'
import { openOwnCountdowns } from '../../server/email/ownCountdowns.ts'
import { followNamedLink } from '../../server/email/namedLinks.ts'
import { contactOfMark, isOwnMark } from '../../server/pages/readers.ts'
import { noteOpen, type Asker } from '../../server/email/opens.ts'
import { deviceOf } from '../../server/pages/visits.ts'
import { confirmSender, readSenderLink } from '../../server/email/senders.ts'
import { testNotice } from '../../server/email/tryingOut.ts'
import type { Platform } from '../../server/platform.ts'
import { notFound } from '../../server/http/problems.ts'
import { getBusiness } from '../../server/workspace/business.ts'
import { html } from '../../core/html.ts'
import { brand as brandShape, plainBrand } from '../../core/pages/brand.ts'
import type { Limits } from '../limits.ts'
import { markOf } from '../pages/readerCookie.ts'
import { isRead } from '../pages/countVisit.ts'
import { sendNotice, sendPage } from '../respond.ts'

/** One clear pixel (GIF89a, the smallest form; from memory). */
const clearPixel = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64')

/** Mailboxes of many people fetch pictures through servers of their own when somebody opens an email (common practice). */
const picturesForPeople = /GoogleImageProxy|YahooMailProxy/i

function askerOf(request: Request): Asker {
  const agent = request.get('user-agent') ?? ''
  const person = isRead(request) || picturesForPeople.test(agent)
  return { machine: person ? null : agent, device: deviceOf(agent) }
}

/** What the links and the headers of an email lead to. */
export function emailRoutes(platform: Platform, limits: Limits): Router {
  const routes = Router()
  const drawCountdown = openCountdowns()
  const drawOwn = openOwnCountdowns()

  routes.get('/go/:token', limits.source, limits.message('click'), async (request, response) => {
    response.set({ 'cache-control': 'no-store', 'x-robots-tag': 'noindex' })
    response.redirect(302, await followLink(platform, String(request.params.token), askerOf(request)))
  })

  // The same picture for every address, so that trying some tells nobody which one is known.
  routes.get('/seen/:token', limits.source, limits.message('open'), async (request, response) => {
    await noteOpen(platform, String(request.params.token), askerOf(request))
    response
      .set({
        'cache-control': 'no-store',
        'x-robots-tag': 'noindex',
        // It stands in an email that a mailbox shows on a site of its own.
        'cross-origin-resource-policy': 'cross-origin',
      })
      .type('gif')
      .send(clearPixel)
  })

  // A link that pages share. Only who came by a link of their own mail is known: others may have typed an address.
  routes.get('/l/:link', limits.source, async (request, response) => {
    const id = z.coerce.number().int().positive().safeParse(request.params.link)
    if (!id.success) throw notFound('This link')
    const { mark, inAddress } = markOf(request)
    // A cookie comes along from anywhere: another site could send somebody here to do what a click does.
    const isMeant = inAddress || request.get('sec-fetch-site') === 'same-origin'
    const contact = isMeant && isOwnMark(platform, mark) ? await contactOfMark(platform, mark) : null
    response.set({ 'cache-control': 'no-store', 'x-robots-tag': 'noindex' })
    response.redirect(302, await followNamedLink(platform, id.data, { contact, machine: !isRead(request) }))
  })

  // Drawn for the minute in which it is asked for; what is left is the same for everybody.
  routes.get('/countdown/:until.png', limits.source, async (request, response) => {
    const until = z.coerce.number().int().min(0).max(8.64e15).safeParse(request.params.until)
    if (!until.success) throw notFound('This picture')
    const { brand } = await getBusiness(platform.database)
    const colours = brandShape.safeParse(brand).data ?? plainBrand
    response
      .set({ 'cache-control': 'no-store', 'cross-origin-resource-policy': 'cross-origin' })
      .type('png')
      .send(await drawCountdown(until.data, platform.clock.now(), colours))
  })

  // What is left for whoever's email it stands in; of somebody else, or once it is over, nothing is.
  routes.get('/countdown/own/:deadline.gif', limits.source, async (request, response) => {
    const id = z.coerce.number().int().positive().safeParse(request.params.deadline)
    const { mark } = markOf(request)
    const contact = isOwnMark(platform, mark) ? await contactOfMark(platform, mark) : null
    const left = id.success && contact !== null ? await timeLeftOf(platform, id.data, contact) : null
    if (left === null) throw notFound('This picture')
    const { brand } = await getBusiness(platform.database)
    response
      .set({
        'cache-control': 'no-store',
        'x-robots-tag': 'noindex',
        'cross-origin-resource-policy': 'cross-origin',
      })
      .type('gif')
      .send(await drawOwn(left, brandShape.safeParse(brand).data ?? plainBrand))
  })

  routes.get(testNotice, limits.source, (_request, response) => {
    sendNotice(
      response,
      200,
      'This email is a test',
      'People who get it for real come to their email preferences here, or unsubscribe.',
    )
  })

  /** Whose token this is. @throws Problem 404 */
  const readToken = async (
    request: Request,
  ): Promise<{ contact: number; address: string; message: number }> => {
    const [contact, message] = (platform.signer.open('unsubscribe', String(request.params.token)) ?? []).map(
      Number,
    )
    if (!contact || !message) throw notFound('This link')
    const found = await survivorOf(platform.database, contact)
    if (!found) throw notFound('This link')
    return { contact: found.id, address: found.address, message }
  }

  // A GET changes nothing: mail programs and scanners open links by themselves.
  routes.get('/unsubscribe/:token', async (request, response) => {
    const { address } = await readToken(request)
    const { name } = await getBusiness(platform.database)
    const body = html`<h1>Stop all email to ${address}?</h1>
      <p>
        You will get no more news or offers from ${name}. What you ask for yourself, such as a file or a
        receipt, will still be sent.
      </p>
      <form method="post"><button>Unsubscribe</button></form>`
    sendPage(response, { title: 'Unsubscribe', business: name, unlisted: true, body })
  })

  routes.post(
    '/unsubscribe/:token',
    limits.source,
    limits.message('unsubscribe', 1),
    urlencoded({ extended: false, limit: '2kb' }),
    async (request, response) => {
      const { contact, address, message } = await readToken(request)
      const oneClick =
        (request.body as Record<string, unknown> | undefined)?.['List-Unsubscribe'] === 'One-Click'
      await unsubscribe(platform, contact, oneClick ? 'mailbox' : 'person', message)
      const { name } = await getBusiness(platform.database)
      const body = html`<h1>You are unsubscribed</h1>
        <p>
          No more news or offers will be sent to ${address}. To come back, sign up again on any of our pages.
        </p>`
      sendPage(response, { title: 'Unsubscribed', business: name, unlisted: true, body })
    },
  )

  // Whose address it is says whether mail may come from it.
  routes.get('/confirm-sender/:token', async (request, response) => {
    const { name: sender, address } = await readSenderLink(platform, request.params.token)
    const { name } = await getBusiness(platform.database)
    const body = html`<h1>May emails come from ${address}?</h1>
      <p>${name} would send them in the name of ${sender}.</p>
      <form method="post"><button>Yes, emails may come from here</button></form>`
    sendPage(response, { title: 'Sender address', business: name, unlisted: true, body })
  })

  routes.post('/confirm-sender/:token', limits.source, async (request, response) => {
    const { address } = await confirmSender(platform, String(request.params.token))
    sendNotice(response, 200, 'Thank you', `Emails may come from ${address} from now on.`)
  })

  return routes
}
