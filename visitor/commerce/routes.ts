import { Router, type Request, type Response } from 'express'
import type { Target } from '../../core/blocks/target.ts'
import { html } from '../../core/html.ts'
import { purchaseHtml } from '../../core/commerce/orderHtml.ts'
import { cartLink } from '../../server/commerce/carts.ts'
import { openCodesOf } from '../../server/commerce/couponCodes.ts'
import { openCartOf } from '../../server/commerce/openCarts.ts'
import { invoicesOf } from '../../server/commerce/invoices.ts'
import { gatewayOf } from '../../server/commerce/gateway.ts'
import { orderBefore } from '../../server/commerce/nextOrders.ts'
import { readOrder } from '../../server/commerce/orderLinks.ts'
import { orderStatus, paidOrder, type OrderStatus, type PaidOrder } from '../../server/commerce/paidOrders.ts'
import { cartAgain, keyOf, settle } from '../../server/commerce/taking.ts'
import { notFound } from '../../server/http/problems.ts'
import { contactOfMark, formMark, isOwnMark, loadReader, type Reader } from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import { getBusiness } from '../../server/workspace/business.ts'
import { hrefForSender } from '../capture/afterForm.ts'
import { sendAsAttachment } from '../capture/fileHeaders.ts'
import type { Limits } from '../limits.ts'
import { baseOf } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { keepMark, markOf } from '../pages/readerCookie.ts'
import { sendNotice, sendPage } from '../respond.ts'
import { buyersArea } from './buyersArea.ts'
import { cardRoutes } from './cardPage.ts'
import { gatewayEvents } from './gatewayEvents.ts'
import { invoiceBody, invoicePdf } from './invoicePages.ts'
import { nextOffersOf, withOrder } from './nextOffers.ts'
import { orderScript } from './orderScript.ts'
import { shownPurchase } from './purchase.ts'

/** So long a payment is waited for before somebody is told that it takes longer (ms), and looked at so often. */
const patience = 5_000
const lookEvery = 60

const pause = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, lookEvery))

const isUnderWay = ({ state, paying }: OrderStatus): boolean => state === 'open' && paying === 'due'

/** Orders as those see them who placed them, and what the gateway reports. */
export function commerceRoutes(publicSite: PublicSite, limits: Limits): Router {
  const { platform, published } = publicSite
  const { database: q, settings } = platform
  const routes = Router()

  routes.get(orderScript.path, (_request, response) => {
    response.set('cache-control', 'public, max-age=31536000, immutable').type('js').send(orderScript.source)
  })
  routes.post('/gateway/events', ...gatewayEvents(platform))

  async function statusOf(order: number): Promise<OrderStatus> {
    const until = performance.now() + patience
    for (;;) {
      const status = await orderStatus(q, order)
      if (!status) throw notFound('This order')
      if (!isUnderWay(status) || performance.now() > until) return status
      await pause()
    }
  }

  /** Somebody comes back from their bank: what they said there may be known before it is reported. */
  async function askedAgain(status: OrderStatus): Promise<OrderStatus> {
    const charge = await gatewayOf(settings)
      .find(keyOf({ id: status.payment, attempt: 0 }))
      .catch(() => null)
    if (!charge || charge.state === 'confirm') return status
    await settle(platform, status.payment, charge)
    return (await orderStatus(q, status.id)) ?? status
  }

  async function backToCart(response: Response, { id, failure }: OrderStatus): Promise<void> {
    const before = await orderBefore(q, id)
    if (before) {
      const offered = (await published.site()).pages.get(before.page ?? 0)
      const back = offered ? `${baseOf(response)}${offered.path}?no=${failure ?? 'declined'}` : '/'
      response.redirect(303, withOrder(platform, back, before.id))
      return
    }
    const again = await cartAgain(platform, id)
    const page = again && (await published.site()).pages.get(again.page)
    if (!page?.live) {
      sendNotice(response, 402, 'Not paid', 'Nothing was paid. Please go back and try again.')
      return
    }
    const values = new URLSearchParams({ cart: again?.cart ?? '', no: failure ?? 'declined' })
    response.redirect(303, `${baseOf(response)}${page.path}?${values.toString()}`)
  }

  async function readerOf(
    request: Request,
    order: PaidOrder,
    site: Site,
  ): Promise<{ reader: Reader; mark: string | null }> {
    const { mark, inAddress } = markOf(request)
    const contact = await contactOfMark(platform, mark)
    const fresh =
      contact === null && order.trusted && order.contact ? formMark(platform, order.contact.id) : null
    const known = fresh === null ? contact : await contactOfMark(platform, fresh)
    const reader = await loadReader(platform, known, [], site.business.zone)
    const carried = fresh ?? (inAddress ? (mark ?? null) : null)
    return { reader, mark: reader.contact === null ? null : carried }
  }

  /** Where a yes leads on the page where one more thing was offered. */
  async function yesOf(page: number | null, product: number | undefined): Promise<Target> {
    const path = (await published.site()).pages.get(page ?? 0)?.path
    const found = path === undefined ? null : await published.at(path)
    const offers = found && 'page' in found ? nextOffersOf(found.page) : []
    return offers.find(({ offer }) => offer.product === product)?.yes ?? { to: 'nextStep' }
  }

  /** Where somebody goes who has paid; null when their order has the last word. */
  async function nextPlace(
    response: Response,
    site: Site,
    order: PaidOrder,
    seen: { reader: Reader; mark: string | null },
  ): Promise<string | null> {
    const [line] = order.lines
    const before = await orderBefore(q, order.id)
    const own = line && site.products.get(line.product)?.content.after
    const usual = own && own.to !== 'nowhere' ? own : ({ to: 'nextStep' } as const)
    // Who took one more offer goes on to where its yes leads, with all that they bought.
    const target = before ? await yesOf(before.page, line?.product) : usual
    const { contact, trusted } = order
    const href = hrefForSender(
      platform,
      site,
      target,
      { ...seen, base: baseOf(response) },
      {
        sender: contact && { contact: contact.id, proven: trusted, once: `order ${order.id}` },
        added: trusted ? (contact?.id ?? null) : null,
        source: {},
      },
      order.page === null ? null : { page: order.page },
    )
    if (href === null || !href.startsWith(baseOf(response))) return href
    return withOrder(platform, href, before?.id ?? order.id)
  }

  async function showOrder(request: Request, response: Response, id: number): Promise<void> {
    const order = await paidOrder(q, id)
    if (!order) throw notFound('This order')
    const site = await published.site()
    const seen = await readerOf(request, order, site)
    if (seen.reader.contact !== null && seen.mark !== null) keepMark(request, response, seen.mark)
    const href = request.query.go === '1' ? await nextPlace(response, site, order, seen) : null
    if (href !== null) {
      response.redirect(303, href)
      return
    }
    const { name, postalAddress } = await getBusiness(q)
    const shown = shownPurchase(platform, site, order, { ...seen, base: baseOf(response) })
    sendPage(response, {
      title: `Order ${order.id}`,
      business: name,
      foot: `${name}, ${postalAddress}`,
      unlisted: true,
      body: html`<h1>Thank you${shown.firstName && `, ${shown.firstName}`}</h1>
        ${purchaseHtml(shown)}`,
    })
  }

  routes.get('/order/:token', limits.source, async (request, response) => {
    const id = readOrder(platform, String(request.params.token))
    if (id === null) throw notFound('This order')
    let status = await statusOf(id)
    if (status.paying === 'confirming') status = await askedAgain(status)
    if (status.state === 'failed') await backToCart(response, status)
    else if (status.state === 'paid') await showOrder(request, response, id)
    else if (status.paying === 'confirming' && status.confirmUrl !== null)
      response.redirect(303, status.confirmUrl)
    else {
      response.set('refresh', '3')
      sendNotice(
        response,
        200,
        'Your payment is under way',
        'The card service takes longer than usual. This page looks again by itself: please do not pay a second time. You can also close it: your order comes by email.',
      )
    }
  })

  // Back to what somebody left, by the link of their own mail: the cart comes with them to any device.
  routes.get('/cart', limits.source, async (request, response) => {
    const { mark } = markOf(request)
    const contact = isOwnMark(platform, mark) ? await contactOfMark(platform, mark) : null
    const found = contact === null ? null : await openCartOf(q, contact)
    const page = found && (await published.site()).pages.get(found.page)
    if (!found || !page?.live) {
      sendNotice(
        response,
        404,
        'Your cart is empty',
        'What was in it was bought, or is no longer kept. If you came by a link of an email, it may be old.',
      )
      return
    }
    const reader = await loadReader(platform, contact, [], (await getBusiness(q)).zone)
    const person = { contact: reader.contact ?? 0, now: reader.now }
    const coupon = (await openCodesOf(q, [person])).get(person.contact)
    const values = new URLSearchParams({
      cart: cartLink(platform, found.cart).token,
      me: mark ?? '',
      ...(coupon !== undefined && { coupon }),
    })
    response.redirect(302, `${baseOf(response)}${page.path}?${values.toString()}`)
  })

  const invoiceOf = async (request: Request) => {
    const id = readOrder(platform, String(request.params.token))
    const all = id === null ? [] : await invoicesOf(q, id)
    const number = Number(String(request.params.number).replace(/\.pdf$/, ''))
    const issued = all.find((each) => each.number === number)
    if (!issued) throw notFound('This invoice')
    return issued
  }

  routes.get('/order/:token/invoice/:number', limits.source, async (request, response) => {
    const issued = await invoiceOf(request)
    const { name, postalAddress, zone } = await getBusiness(q)
    if (String(request.params.number).endsWith('.pdf')) {
      sendAsAttachment(response, `${issued.kind}-${issued.number}.pdf`, 'application/pdf')
      response.send(await invoicePdf(issued, zone))
      return
    }
    const { title, body } = invoiceBody(issued, zone, `${request.path}.pdf`)
    sendPage(response, { title, business: name, foot: `${name}, ${postalAddress}`, unlisted: true, body })
  })

  routes.use(cardRoutes(platform, limits))
  routes.use(buyersArea(publicSite, limits))
  return routes
}
