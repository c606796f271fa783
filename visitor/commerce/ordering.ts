import type { Request } from 'express'
import type { Block } from '../../core/blocks/block.ts'
import { walk } from '../../core/blocks/walk.ts'
import type { ShownOrder } from '../../core/commerce/shownOrder.ts'
import { readOrder } from '../../server/commerce/orderLinks.ts'
import { paidOrder } from '../../server/commerce/paidOrders.ts'
import type { FormTokens } from '../../server/capture/formTokens.ts'
import type { PublishedPage } from '../../server/pages/publishedPages.ts'
import type { Site } from '../../server/pages/site.ts'
import type { Platform } from '../../server/platform.ts'
import type { View } from '../pages/pageContext.ts'
import { statusOf, type AtOrder, type Checkout } from './checkout.ts'
import { nextOffersOf, openNextOffers } from './nextOffers.ts'
import { shownPurchase } from './purchase.ts'

/** What a page shows of selling. */
type Shown = Pick<View, 'orders' | 'nextOffers' | 'purchase'>

const formsOf = ({ content }: PublishedPage): Block<'orderForm'>[] =>
  [...walk(content.document)].flatMap(({ block }) => (block.kind === 'orderForm' ? [block] : []))

const namesPurchase = ({ content }: PublishedPage): boolean =>
  [...walk(content.document)].some(({ block }) => block.kind === 'purchase')

/** Pages on which something is bought, and those that say what was. */
export function openOrdering(platform: Platform, checkout: Checkout, tokens: FormTokens) {
  const next = openNextOffers({ platform, tokens })

  const atOrder = (
    request: Request,
    site: Site,
    page: PublishedPage,
    block: Block<'orderForm'>,
    { reader, base }: View,
  ): AtOrder => ({ request, site, page, block, reader, base })

  async function shownForms(
    request: Request,
    site: Site,
    page: PublishedPage,
    view: View,
    taken: ShownOrder | null,
  ): Promise<Map<string, ShownOrder> | { to: string }> {
    const orders = new Map<string, ShownOrder>()
    for (const block of formsOf(page)) {
      const shown =
        taken?.block.id === block.id ? taken : await checkout.show(atOrder(request, site, page, block, view))
      if ('to' in shown) return shown
      orders.set(block.id, shown)
    }
    return orders
  }

  return {
    /** The order form of a page that was sent, or the yes to one more offer, if it is one. */
    formIn: (page: PublishedPage, block: string): Block<'orderForm' | 'nextOffer'> | undefined =>
      [...formsOf(page), ...nextOffersOf(page)].find(({ id }) => id === block),

    /**
     * What a page shows of selling to whoever comes, and refuses who guesses coupons; where to, when their cart was
     * bought.
     */
    async shown(
      request: Request,
      site: Site,
      page: PublishedPage,
      view: View,
    ): Promise<(Shown & { status: number }) | { to: string }> {
      const orders = await shownForms(request, site, page, view, null)
      if ('to' in orders) return orders
      const nextOffers = await next.shown({ request, site, page, view })
      if ('to' in nextOffers) return nextOffers
      const { order } = request.query
      const id = typeof order === 'string' && namesPurchase(page) ? readOrder(platform, order) : null
      const paid = id === null ? null : await paidOrder(platform.database, id)
      return {
        orders,
        nextOffers,
        purchase: paid && shownPurchase(platform, site, paid, view),
        status: [...orders.values()].reduce((status, order) => statusOf(order, status), 200),
      }
    },

    /** Takes in an order form of a page. */
    async receive(
      request: Request,
      site: Site,
      page: PublishedPage,
      block: string,
      view: View,
    ): Promise<{ to: string } | (Shown & { status: number })> {
      const form = this.formIn(page, block)
      if (!form) throw new Error('there is no such order form')
      if (form.kind === 'nextOffer') {
        const said = await next.receive({ request, site, page, view }, form, request.body)
        return 'to' in said ? said : { nextOffers: said.offers, purchase: null, status: 409 }
      }
      const taken = await checkout.receive(atOrder(request, site, page, form, view), request.body)
      if ('to' in taken) return taken
      const orders = await shownForms(request, site, page, view, taken.shown)
      return 'to' in orders ? orders : { orders, purchase: null, status: taken.status }
    },
  }
}
