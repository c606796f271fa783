import type { Request } from 'express'
import type { Block } from '../../core/blocks/block.ts'
import { walk } from '../../core/blocks/walk.ts'
import { pricesBehind, shownChoice, type Choice } from '../../core/commerce/choices.ts'
import type { ShownNextOffer } from '../../core/commerce/shownOrder.ts'
import type { Target } from '../../core/blocks/target.ts'
import { beforeOf, hasProduct, isOpenForMore, placeNext } from '../../server/commerce/nextOrders.ts'
import { orderPath, orderToken, readOrder } from '../../server/commerce/orderLinks.ts'
import { NotPlaced } from '../../server/commerce/placing.ts'
import { deadlinesOfBuyer, ownEnd, soldAt } from '../../server/commerce/wanting.ts'
import type { PublishedPage } from '../../server/pages/publishedPages.ts'
import type { Site } from '../../server/pages/site.ts'
import type { FormTokens } from '../../server/capture/formTokens.ts'
import type { Platform } from '../../server/platform.ts'
import { hrefFor, type View } from '../pages/pageContext.ts'
import { failureWords } from './failureWords.ts'

type Offer = Block<'nextOffer'>

export const nextOffersOf = ({ content }: Pick<PublishedPage, 'content'>): Offer[] =>
  [...walk(content.document)].flatMap(({ block }) => (block.kind === 'nextOffer' ? [block] : []))

/** An address with the order that it carries on. */
export const withOrder = (platform: Platform, href: string, order: number): string =>
  `${href}${href.includes('?') ? '&' : '?'}order=${orderToken(platform, order)}`

interface Visit {
  request: Request
  site: Site
  page: PublishedPage
  view: View
}

/** One more offer to who has just paid, taken with one click. */
export function openNextOffers({ platform, tokens }: { platform: Platform; tokens: FormTokens }) {
  const { database: q, clock } = platform

  const choiceOf = ({ offer }: Offer, site: Site): Choice | undefined =>
    pricesBehind([offer], site.products)[0]

  /** Where a yes or a no leads, with the order carried on. */
  function hrefOf({ site, page, view }: Visit, target: Target, order: number): string | null {
    const href = hrefFor(platform, site, view, { page: page.id })(target)
    return href !== null && href.startsWith(view.base) ? withOrder(platform, href, order) : href
  }

  const orderIn = ({ query }: Request): number | null =>
    typeof query.order === 'string' ? readOrder(platform, query.order) : null

  /**
   * What the page offers to whoever comes with an order; where to, when there is nothing to offer: nobody is offered
   * what they have, or after the hour in which one click is enough.
   */
  async function shown(visit: Visit): Promise<Map<string, ShownNextOffer> | { to: string }> {
    const { request, site, page, view } = visit
    const offers = new Map<string, ShownNextOffer>()
    const order = orderIn(request)
    const before = order === null ? null : await beforeOf(q, order)
    if (!before) return offers
    const { no } = request.query
    const fault = typeof no === 'string' ? failureWords(no) : null
    for (const block of nextOffersOf(page)) {
      const choice = choiceOf(block, site)
      const isOver = !isOpenForMore(before, clock.now())
      if (!choice || isOver || (await hasProduct(q, before, choice.product.id))) {
        const to = hrefOf(visit, isOver ? block.no : block.yes, before.id)
        if (to !== null) return { to }
        continue
      }
      const { title, words } = shownChoice(
        choice,
        site.selling.currency,
        clock.now(),
        (await soldAt(q, [choice]))(choice),
        ownEnd(choice.price, await deadlinesOfBuyer(q, before.contact, [choice])),
      )
      offers.set(block.id, {
        title,
        words,
        action: withOrder(platform, `${view.base}${page.path}`, before.id),
        noHref: hrefOf(visit, block.no, before.id),
        fault,
      })
    }
    return offers
  }

  /** Takes a yes. @returns where it leads; the page with why it was not placed, else */
  async function receive(
    visit: Visit,
    block: Offer,
    body: unknown,
  ): Promise<{ to: string } | { offers: Map<string, ShownNextOffer> }> {
    const { request, site, page } = visit
    const order = orderIn(request)
    const choice = choiceOf(block, site)
    const { token } = (body ?? {}) as { token?: unknown }
    const isFresh = typeof token === 'string' && tokens.ageOf(`page ${page.id}`, token) !== null
    let fault = 'This page was open for a long time. Please press the button again.'
    if (order !== null && choice && isFresh) {
      try {
        return { to: `${orderPath(platform, await placeNext(platform, order, choice, page.id))}?go=1` }
      } catch (error) {
        if (!(error instanceof NotPlaced)) throw error
        fault = error.message
      }
    }
    const offers = await shown(visit)
    if ('to' in offers) return offers
    return { offers: new Map([...offers].map(([id, offer]) => [id, { ...offer, fault }])) }
  }

  return { shown, receive }
}
