import { z } from 'zod'
import { readPhone } from '../../core/audience/people/phone.ts'
import { isCountry } from '../../core/audience/people/country.ts'
import { typedName } from '../../core/audience/people/typedName.ts'
import { parseAddress } from '../../core/audience/people/address.ts'
import type { Block } from '../../core/blocks/block.ts'
import type { CartItem } from '../../core/commerce/cart.ts'
import { pricesBehind, type Choice } from '../../core/commerce/choices.ts'
import { readAmount, typedAmount } from '../../core/commerce/money.ts'
import { doName, seenName } from '../../core/commerce/orderHtml.ts'
import { orderFields, type OrderField, type TypedOrder } from '../../core/commerce/shownOrder.ts'
import { isStorable } from '../../core/text.ts'
import type { Buyer, Cart } from '../../server/commerce/carts.ts'
import type { Site } from '../../server/pages/site.ts'

const longest = 300
const anything = z.record(z.string(), z.unknown()).catch({})

/** What an order form posted, whatever that was. */
export interface PostedOrder {
  typed: TypedOrder
  does: 'on' | 'update' | 'pay'
  /** What the buyer saw as the sum; null when that is no number. */
  seen: number | null
}

export function readPostedOrder(body: unknown): PostedOrder {
  const values = anything.parse(body ?? {})
  const textOf = (name: string): string => {
    const value = values[name]
    return typeof value === 'string' && isStorable(value) ? value.trim().slice(0, longest) : ''
  }
  const does = textOf(doName)
  const seen = textOf(seenName)
  return {
    typed: Object.fromEntries(
      orderFields.map((name) => [name, textOf(name)] as const).filter(([, value]) => value !== ''),
    ),
    does: does === 'pay' || does === 'on' ? does : 'update',
    seen: /^\d{1,12}$/.test(seen) ? Number(seen) : null,
  }
}

export type Faults = Partial<Record<OrderField | 'card', string>>

/** What was chosen, as items of a cart: only what the form offers, at prices that are on sale. */
export function itemsOf(
  site: Site,
  block: Block<'orderForm'>,
  typed: TypedOrder,
  faults: Faults,
): CartItem[] {
  const choices = pricesBehind(block.offers, site.products)
  const isChosen = ({ product, price }: Choice): boolean => typed.offer === `${product.id}:${price.id}`
  const chosen = choices.find(isChosen) ?? (typed.offer === undefined ? choices[0] : undefined)
  if (!chosen) {
    faults.offer = 'Choose one of these.'
    return []
  }
  const item = (kind: CartItem['kind'], { product, price }: Choice, paid: number | null): CartItem => ({
    kind,
    product: product.id,
    price: price.id,
    chosen: paid,
  })
  const extra =
    block.extra && typed.extra === 'yes' ? pricesBehind([block.extra], site.products).slice(0, 1) : []
  return [
    item('main', chosen, chosenAmount(chosen, site.selling.currency, typed, faults)),
    ...extra.map((each) => item('extra', each, null)),
  ]
}

/** What a buyer chose to pay, where they choose. */
function chosenAmount(
  { price: { pays } }: Choice,
  currency: string,
  { amount: typed }: TypedOrder,
  faults: Faults,
): number | null {
  if (pays.by !== 'choice' || typed === undefined) return null
  const amount = readAmount(typed, currency)
  if (amount === null) faults.amount = 'Type an amount, such as 12.50.'
  else if (amount < pays.least)
    faults.amount = `It is ${typedAmount({ amount: pays.least, currency })} ${currency} at least.`
  return amount
}

/** A name as a stranger may type it: it stands in the mail that they cause. */
function nameIn(typed: TypedOrder, field: 'firstName' | 'lastName', missing: string, faults: Faults): string {
  const value = typed[field]
  const read = value === undefined ? null : typedName.safeParse(value)
  if (!read?.success) faults[field] = read ? (read.error.issues[0]?.message ?? missing) : missing
  return read?.data ?? ''
}

/** Who buys, as it was typed; null with the faults that say what is missing. */
export function buyerOf(
  { name, phone, consent, topics }: Block<'orderForm'>,
  typed: TypedOrder,
  faults: Faults,
): Buyer | null {
  const address = parseAddress(typed.address ?? '')
  if (!address) faults.address = 'Type your email address, such as ada@example.com.'
  const firstName = name === 'none' ? '' : nameIn(typed, 'firstName', 'Type your first name.', faults)
  const lastName = name === 'whole' ? nameIn(typed, 'lastName', 'Type your last name.', faults) : ''
  const number = phone && typed.phone !== undefined ? readPhone(typed.phone, typed.country ?? '') : null
  if (phone && typed.phone !== undefined && number === null)
    faults.phone = 'Begin with + and the country, such as +353 1 234 5678.'
  if (!address || faults.firstName || faults.lastName || faults.phone) return null
  return {
    address,
    firstName,
    lastName,
    phone: number,
    agreed: consent !== '' && typed.consent === 'yes' ? { wording: consent, topics } : null,
  }
}

/** The country that was chosen, where it is asked for. */
export const countryOf = ({ country }: Block<'orderForm'>, typed: TypedOrder): string | null =>
  country && typed.country !== undefined && isCountry(typed.country) ? typed.country : null

/** What was typed before, as a cart kept it. */
export function typedBefore(
  { address, firstName, lastName, phone, agreed, items, country, vatNumber, coupon, terms }: Cart,
  currency: string,
): TypedOrder {
  const main = items.find(({ kind }) => kind === 'main')
  const given: [OrderField, string | null | undefined][] = [
    ['address', address],
    ['firstName', firstName],
    ['lastName', lastName],
    ['phone', phone],
    ['consent', agreed && 'yes'],
    ['offer', main && `${main.product}:${main.price}`],
    ['amount', main?.chosen == null ? null : typedAmount({ amount: main.chosen, currency })],
    ['extra', items.some(({ kind }) => kind === 'extra') ? 'yes' : null],
    ['country', country],
    ['vatNumber', vatNumber],
    ['coupon', coupon],
    ['terms', terms && 'yes'],
  ]
  return Object.fromEntries(given.filter(([, value]) => value))
}
