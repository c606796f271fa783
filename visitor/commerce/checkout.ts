import type { Request } from 'express'
import type { Block } from '../../core/blocks/block.ts'
import { needsCard, priceCart, type CartItem } from '../../core/commerce/cart.ts'
import { pricesBehind, shownChoice, type Choice } from '../../core/commerce/choices.ts'
import type { ShownChoice, ShownOrder, TypedOrder } from '../../core/commerce/shownOrder.ts'
import {
  beginCart,
  cartOf,
  changeCart,
  isKept,
  keepBuyer,
  readCart,
  sessionOf,
  type Cart,
  type CartToken,
} from '../../server/commerce/carts.ts'
import type { PersonalDeadlines } from '../../server/commerce/deadlines.ts'
import { gatewayOf } from '../../server/commerce/gateway.ts'
import { orderPath } from '../../server/commerce/orderLinks.ts'
import { NotPlaced, orderOfCart, placeOrder } from '../../server/commerce/placing.ts'
import { countryOfVatNumber } from '../../server/commerce/vatNumber.ts'
import {
  deadlinesOfBuyer,
  itemsOnSale,
  ownEnd,
  soldAt,
  termsOf,
  wantedItems,
} from '../../server/commerce/wanting.ts'
import type { PublishedPage } from '../../server/pages/publishedPages.ts'
import type { Reader } from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import { sourceOf } from '../capture/submission.ts'
import { hrefFor } from '../pages/pageContext.ts'
import { isGuessed, openCoupons } from './typedCoupon.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { markOf } from '../pages/readerCookie.ts'
import { failureWords } from './failureWords.ts'
import {
  buyerOf,
  countryOf,
  itemsOf,
  readPostedOrder,
  typedBefore,
  type Faults,
  type PostedOrder,
} from './typedOrder.ts'

/** Somebody at an order form. */
export interface AtOrder {
  request: Request
  site: Site
  page: PublishedPage
  block: Block<'orderForm'>
  reader: Reader
  /** Where pages begin. */
  base: string
}

/** A cart with what is known of it. */
interface Open {
  token: CartToken
  cart: Cart | null
}

/** What came of an order form: it leads on, or is shown again. */
export type Taken = { to: string } | { shown: ShownOrder; status: number }

const words = {
  late: 'This page was open for a long time. Please press the button again.',
  robot: 'A hidden field was filled in, as robots do. If you are a person, please press the button again.',
  faulty: 'Almost there: please check the marked fields.',
} as const

/** Who guesses coupons is told so. */
export const statusOf = ({ faults }: ShownOrder, status: number): number =>
  isGuessed(faults.coupon) ? 429 : status

/** A coupon that the address brings along, such as that of a link in an email. */
function couponInAddress({ request: { query }, block }: AtOrder): TypedOrder {
  const { coupon } = query
  return block.coupon && typeof coupon === 'string' && coupon !== '' ? { coupon: coupon.slice(0, 60) } : {}
}

/**
 * The address of an order form with its cart, and all that it carries on: a coupon too, until the form shows where it
 * is typed.
 */
function addressOf(at: AtOrder, { token }: CartToken, carriesCoupon: boolean): string {
  const { request, page, base } = at
  const { mark, inAddress } = markOf(request)
  const values = new URLSearchParams({
    cart: token,
    ...(inAddress && mark !== undefined && { me: mark }),
    ...(carriesCoupon && couponInAddress(at)),
    ...sourceOf(request.query),
  })
  return `${base}${page.path}?${values.toString()}`
}

/** Order forms on pages: what they show, and what they take in. */
export function openCheckout({ platform, tokens }: Pick<PublicSite, 'platform' | 'tokens'>) {
  const { database: q, clock, settings } = platform
  const coupons = openCoupons(platform)

  async function open(request: Request): Promise<Open> {
    const given = request.query.cart
    const token = (typeof given === 'string' ? readCart(platform, given) : null) ?? beginCart(platform)
    return { token, cart: typeof given === 'string' ? await cartOf(q, token) : null }
  }

  const isTest = ({ site }: AtOrder, cart: Cart | null, { rehearsal }: Reader): boolean =>
    site.selling.takes === 'test' || rehearsal || (cart?.rehearsal ?? false)

  /** Whose deadlines count: of whoever the cart belongs to, before that of who reads. */
  const deadlinesFor = async (
    cart: Cart | null,
    reader: Reader,
    prices: readonly Choice[],
  ): Promise<PersonalDeadlines> =>
    cart !== null && cart.contact !== null && cart.contact !== reader.contact
      ? deadlinesOfBuyer(q, cart.contact, prices)
      : reader.deadlines

  /** What is known of a reader fills in what they have not typed; nobody types for somebody made up. */
  function knownOf({ known }: Reader): TypedOrder {
    if (!known || known.rehearsal) return {}
    const { address, firstName, lastName, phone, country } = known.builtIn
    return {
      ...(address && { address }),
      ...(firstName && { firstName }),
      ...(lastName && { lastName }),
      ...(phone && { phone }),
      ...(country && { country }),
    }
  }

  async function shownFor(
    at: AtOrder,
    { token, cart }: Open,
    given: { typed?: TypedOrder; faults?: Faults; notice?: string | null } = {},
  ): Promise<ShownOrder> {
    const { site, block, reader } = at
    const { currency } = site.selling
    // A rehearsal runs on the clock of whoever is made up.
    const now = reader.rehearsal ? reader.now : clock.now()
    const faults: Faults = { ...given.faults }
    const typed: TypedOrder = {
      ...knownOf(reader),
      ...(cart && typedBefore(cart, currency)),
      ...couponInAddress(at),
      ...given.typed,
    }
    const part = block.steps === 'one' ? 'whole' : cart ? 'rest' : 'buyer'
    const offered = pricesBehind(block.offers, site.products)
    const extra = block.extra ? pricesBehind([block.extra], site.products).slice(0, 1) : []
    const all = [...offered, ...extra]
    const sold = await soldAt(q, all)
    const deadlines = await deadlinesFor(cart, reader, all)
    const shown = (choice: Choice): ShownChoice =>
      shownChoice(choice, currency, now, sold(choice), ownEnd(choice.price, deadlines))
    const items = itemsOf(site, block, typed, part === 'buyer' ? {} : faults)
    const who = { contact: cart?.contact ?? reader.contact, now, currency }
    const { coupon, said, fault } = await coupons.look(at.request, block.coupon ? typed : {}, items, who)
    if (fault !== undefined) faults.coupon = fault
    const terms = termsOf(
      site.selling,
      { country: countryOf(block, typed), vatNumber: typed.vatNumber ?? null },
      coupon,
      now,
    )
    const priced = priceCart(await wantedItems(q, itemsOnSale(site.products, items), deadlines), terms)
    const session = cart?.cardSession ?? sessionOf(token)
    const view = { reader, mark: null, base: at.base }
    return {
      block,
      action: addressOf(at, token, part === 'buyer'),
      currency,
      part,
      choices: offered.map(shown),
      extra: extra.map(shown)[0] ?? null,
      typed,
      faults,
      notice: given.notice ?? null,
      cart: part === 'buyer' || priced.lines.length === 0 ? null : priced,
      coupon: said,
      buyer: cart && part === 'rest' ? cart.address : null,
      card: part !== 'buyer' && needsCard(priced) ? gatewayOf(settings).cardFields(session) : null,
      termsHref:
        block.termsPage === null
          ? null
          : hrefFor(platform, site, view)({ to: 'page', page: block.termsPage }),
      test: isTest(at, cart, reader),
    }
  }

  /** The order that a cart has become, if it has: whoever comes again or presses twice is led to it. */
  async function orderOf({ cart }: Open): Promise<{ to: string } | null> {
    const bought = cart?.orderedAt ? await orderOfCart(q, cart.id) : undefined
    return bought === undefined ? null : { to: `${orderPath(platform, bought)}?go=1` }
  }

  /** What an order form shows somebody who comes to it, or whose cart it is; where to, when that was bought. */
  async function show(at: AtOrder): Promise<ShownOrder | { to: string }> {
    const opened = await open(at.request)
    const bought = await orderOf(opened)
    if (bought) return bought
    const { no } = at.request.query
    const failed = typeof no === 'string' ? failureWords(no) : null
    return shownFor(at, opened, failed === null ? {} : { faults: { card: failed }, notice: failed })
  }

  /** Keeps what was typed; null, with the faults that keep it from that. */
  async function keep(
    at: AtOrder,
    { token, cart }: Open,
    typed: TypedOrder,
    items: CartItem[],
    faults: Faults,
  ): Promise<Cart | null> {
    const { block, page, reader, request } = at
    const kept = {
      block: block.id,
      items,
      country: countryOf(block, typed),
      vatNumber: typed.vatNumber ?? null,
      coupon: block.coupon ? (typed.coupon ?? null) : null,
      terms: block.terms !== '' && typed.terms === 'yes' ? block.terms : null,
      page: page.id,
      pageName: page.name,
      source: sourceOf(request.query),
      ip: request.ip ?? null,
      // Also whom this very browser has put on the list within the last hour: its mark is good for no longer.
      own: reader.contact,
      test: isTest(at, cart, reader),
    }
    if (cart && (block.steps === 'two' || token.name === null))
      return isKept(cart, kept) ? cart : changeCart(platform, q, cart.id, kept)
    const buyer = buyerOf(block, typed, faults)
    if (!buyer || items.length === 0 || token.name === null) return cart
    return q.inTransaction((tx) => keepBuyer(platform, tx, token, buyer, kept))
  }

  /** What else must be there before something is bought. */
  function checkRest({ block }: AtOrder, typed: TypedOrder, faults: Faults): void {
    if (block.country && countryOf(block, typed) === null)
      faults.country = 'Choose your country: the tax depends on it.'
    if (typed.vatNumber !== undefined && countryOfVatNumber(typed.vatNumber) === null)
      faults.vatNumber = 'Check the VAT number: a sign is wrong or missing.'
    if (block.terms !== '' && typed.terms !== 'yes') faults.terms = 'Tick this to go on.'
  }

  async function pay(at: AtOrder, opened: Open, { typed, seen }: PostedOrder): Promise<Taken> {
    const { token, cart } = opened
    try {
      const test = isTest(at, cart, at.reader)
      const order = await placeOrder(platform, token, at.site, { seen: seen ?? -1, test })
      return { to: `${orderPath(platform, order)}?go=1` }
    } catch (error) {
      if (!(error instanceof NotPlaced)) throw error
      const faults: Faults = error.field === null ? {} : { [error.field]: error.message }
      const shown = await shownFor(at, opened, { typed, faults, notice: error.message })
      return { shown, status: 409 }
    }
  }

  /** Takes in an order form: who buys, what, and at last that it is meant. */
  async function receive(at: AtOrder, body: unknown): Promise<Taken> {
    const before = await open(at.request)
    const bought = await orderOf(before)
    if (bought) return bought
    const posted = readPostedOrder(body)
    const { typed, does } = posted
    const { token: formToken, website } = (body ?? {}) as { token?: unknown; website?: unknown }
    const again = async (opened: Open, status: number, given: object): Promise<Taken> => {
      const shown = await shownFor(at, opened, { typed, ...given })
      return { shown, status: statusOf(shown, shown.faults.coupon === undefined ? status : 422) }
    }
    if (typeof website === 'string' && website !== '') return again(before, 422, { notice: words.robot })
    if (typeof formToken !== 'string' || tokens.ageOf(`page ${at.page.id}`, formToken) === null)
      return again(before, 409, { notice: words.late })
    const faults: Faults = {}
    const items = itemsOf(at.site, at.block, typed, faults)
    const cart = await keep(at, before, typed, items, faults)
    const opened = { ...before, cart }
    if (before.cart && !cart) {
      // It was bought between the look and the change.
      const meanwhile = await orderOf(await open(at.request))
      if (meanwhile) return meanwhile
    }
    const isFirst = at.block.steps === 'two' && !before.cart
    if (does === 'pay' && !isFirst) checkRest(at, typed, faults)
    if (does !== 'update' && Object.keys(faults).length > 0)
      return again(opened, 422, { faults, notice: words.faulty })
    if (!cart) return again(opened, 200, {})
    if (isFirst) return { to: addressOf(at, before.token, true) }
    if (does !== 'pay') return again(opened, 200, { faults })
    // Who guesses learns nothing by paying either.
    const isGuessing = typed.coupon !== undefined && (await coupons.isGuessing(at.request))
    return isGuessing ? again(opened, 200, {}) : pay(at, opened, posted)
  }

  return { show, receive }
}
export type Checkout = ReturnType<typeof openCheckout>
