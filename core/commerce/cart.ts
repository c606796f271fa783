import { z } from 'zod'
import type { Instant } from '../audience/people/activity.ts'
import { referenceId } from '../blocks/reference.ts'
import { partId } from '../blocks/richText.ts'
import { couponState, discounted, isFor, type Coupon, type Off } from './coupon.ts'
import { largestAmount, shared } from './money.ts'
import { offerOf, type Offer } from './offer.ts'
import { paymentsOf, type Payment } from './payments.ts'
import { period, type Price } from './price.ts'
import { paysWords } from './priceWords.ts'
import type { ProductContent } from './product.ts'
import { rateFor, taxed, type Taxed, type TaxSettings } from './tax.ts'

/** What somebody wants to buy: the thing itself, the extra on the form, or one more offer after paying. */
export const cartItem = z.strictObject({
  kind: z.enum(['main', 'extra', 'next']),
  product: referenceId,
  price: partId,
  /** What the buyer chose to pay, where they choose. */
  chosen: z.number().int().min(0).max(largestAmount).nullable().default(null),
})
export type CartItem = z.infer<typeof cartItem>

/** What a line of an order is: an item of the cart, or something that the price of one sells together with it. */
export const lineKind = z.enum([...cartItem.shape.kind.options, 'together'])
export type LineKind = z.infer<typeof lineKind>

/** A product as it is on sale. */
export interface SoldProduct {
  id: number
  version: number
  content: ProductContent
}

/** An item of a cart with what it is. */
export interface WantedItem extends Pick<CartItem, 'kind' | 'chosen'> {
  product: SoldProduct
  price: Price
  /** What the price sells together with the product. */
  together: readonly SoldProduct[]
  /** How many were sold at this price, places that are held included. */
  sold: number
  /** When the personal deadline of its price ends for the buyer; undefined when they have none. */
  ownEnd: Instant | undefined
}

/** What all prices of a cart rest on. */
export interface CartTerms {
  currency: string
  zone: string
  tax: TaxSettings
  now: Instant
  /** Where the buyer is; null when they were not asked. */
  country: string | null
  /** A business of another country of the union: it pays the tax at home. */
  reverseCharge: boolean
  coupon: Coupon | null
}

/** A payment with what of it is tax. */
export interface DuePayment extends Taxed {
  at: Instant
}

/** How a subscription goes on: each time so much, counted from its first day. */
export const renewal = z.object({
  every: period,
  /** How many times in all; null until it is cancelled. */
  times: z.number().int().nullable(),
  from: z.number(),
  /** The turn that is due then: another one than the first after a pause. */
  turn0: z.number().int().default(0),
  net: z.number().int(),
  tax: z.number().int(),
  total: z.number().int(),
})
export type Renewal = z.infer<typeof renewal>

/** A line of a cart: what it costs, and when. */
export interface CartLine {
  kind: LineKind
  product: number
  version: number
  price: string
  title: string
  /** How it is paid, in words, as it costs now without a coupon. */
  words: string
  /** In all or each time, before the coupon and after it: the first time, of a subscription. */
  full: number
  amount: number
  /** In hundredths of a per cent. */
  rate: number
  /** What is paid at once; null while a trial lasts. */
  now: DuePayment | null
  /** What is paid later, of payments by number; of a subscription the next one alone. */
  later: DuePayment[]
  /** How a subscription goes on. */
  renews: Renewal | null
}

/** A cart with all its sums, worked out by the server. */
export interface PricedCart {
  lines: CartLine[]
  /** What a coupon takes off of what is paid at once. */
  off: number
  /** What is paid at once. */
  due: Taxed
}

const nothing: Taxed = { net: 0, tax: 0, total: 0 }
const sum = (parts: readonly Taxed[]): Taxed =>
  parts.reduce(
    (all, { net, tax, total }) => ({ net: all.net + net, tax: all.tax + tax, total: all.total + total }),
    nothing,
  )

/** Why an item cannot be bought now; null when it can. */
export function whyNot({ price, sold, ownEnd, chosen }: WantedItem, now: Instant): string | null {
  const { state } = offerOf(price, now, sold, ownEnd)
  if (state === 'notYet') return 'It is not on sale yet.'
  if (state === 'over') return 'Its sale is over.'
  if (state === 'soldOut') return 'It is sold out.'
  return price.pays.by === 'choice' && chosen !== null && chosen < price.pays.least
    ? 'That is less than it costs at least.'
    : null
}

/** What an item costs now, in all or each time. */
function amountOf({ price, chosen }: WantedItem, { amount }: Offer): number {
  return price.pays.by === 'choice' ? Math.max(price.pays.least, chosen ?? price.pays.suggested) : amount
}

/** Can the coupon be used for one of these products now? */
export const isCouponUsable = (coupon: Coupon, products: readonly number[], now: Instant): boolean =>
  couponState(coupon, now) === 'open' && products.some((product) => isFor(coupon, product))

/** What a coupon takes off of each item: an amount is shared out among those that it is for. */
function offsOf(items: readonly WantedItem[], amounts: readonly number[], terms: CartTerms): (Off | null)[] {
  const { coupon, currency, now } = terms
  if (!coupon || couponState(coupon, now) !== 'open') return items.map(() => null)
  const { off } = coupon
  const held = items.map(({ product }, i) => (isFor(coupon, product.id) ? (amounts[i] ?? 0) : 0))
  if (off.by === 'percent') return held.map((amount) => (amount > 0 ? off : null))
  const all = held.reduce((whole, amount) => whole + amount, 0)
  if (all === 0) return items.map(() => null)
  const parts = shared({ amount: Math.min(off.amount, all), currency }, held)
  return parts.map((amount) => (amount > 0 ? { by: 'amount', amount } : null))
}

/** What a price sells together with its product: paid by it, so the line itself costs nothing. */
const togetherLines = ({ together, product, price }: WantedItem, rate: number): CartLine[] =>
  together.map(({ id, version, content }) => ({
    kind: 'together',
    product: id,
    version,
    price: price.id,
    title: content.title,
    words: `with ${product.content.title}`,
    full: 0,
    amount: 0,
    rate,
    now: null,
    later: [],
    renews: null,
  }))

/**
 * Works out a cart: what each line costs, what is paid at once and what later, and what of it is tax. Tax is split of
 * each payment by itself, so that what is paid adds up to the cent.
 */
export function priceCart(items: readonly WantedItem[], terms: CartTerms): PricedCart {
  const { currency, zone, tax, now, country, reverseCharge, coupon } = terms
  const amounts = items.map((item) => amountOf(item, offerOf(item.price, now, item.sold, item.ownEnd)))
  const offs = offsOf(items, amounts, terms)
  const schedule = (item: WantedItem, amount: number, off: Off | null): Payment[] =>
    paymentsOf(
      item.price.pays,
      {
        amount,
        currency,
        from: now,
        zone,
        coupon: off && coupon ? { off, everyTime: coupon.everyTime } : null,
      },
      2,
    )
  let before = 0
  const lines = items.flatMap((item, i): CartLine[] => {
    const { product, price, kind } = item
    const full = amounts[i] ?? 0
    const off = offs[i] ?? null
    const rate = product.content.taxed ? (rateFor(tax, country) ?? 0) : 0
    const split = (amount: number): Taxed => {
      const whole = taxed(amount, rate, tax.tax)
      return reverseCharge ? { net: whole.net, tax: 0, total: whole.net } : whole
    }
    const payments = schedule(item, full, off).map(({ at, amount }) => ({ at, ...split(amount) }))
    const first = payments[0]
    const isNow = first !== undefined && first.at <= now
    const plain = schedule(item, full, null)[0]
    if (isNow && plain) before += split(plain.amount).total
    const line: CartLine = {
      kind,
      product: product.id,
      version: product.version,
      price: price.id,
      title: product.content.title,
      words: paysWords(price.pays, currency, full),
      full,
      amount: off ? discounted(full, off) : full,
      rate: reverseCharge ? 0 : rate,
      now: isNow ? first : null,
      later: isNow ? payments.slice(1) : payments.slice(0, 1),
      renews:
        price.pays.by === 'subscription'
          ? {
              every: price.pays.every,
              times: price.pays.payments,
              from: first?.at ?? now,
              turn0: 0,
              ...split(coupon?.everyTime && off ? discounted(full, off) : full),
            }
          : null,
    }
    return [line, ...togetherLines(item, line.rate)]
  })
  const due = sum(lines.flatMap(({ now: first }) => first ?? []))
  return { lines, due, off: before - due.total }
}

/** Is a card needed for it: is anything paid, now or later? */
export const needsCard = ({ lines }: PricedCart): boolean =>
  lines.some(({ now, later }) => (now?.total ?? 0) > 0 || later.some(({ total }) => total > 0))
