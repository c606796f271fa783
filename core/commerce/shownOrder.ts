import type { Block } from '../blocks/block.ts'
import type { PricedCart } from './cart.ts'

/** Something that can be chosen in an order form, as it is now. */
export interface ShownChoice {
  product: number
  price: string
  /** As buyers read it: the product, and the price where there are several. */
  title: string
  words: string
  /** How many are left, what it costs later. */
  note: string
  /** Why it cannot be bought now; null when it can. */
  closed: string | null
  /** What buyers may choose to pay; null where the price is set. */
  least: number | null
}

/** The fields of an order form, by the names under which they are posted. */
export const orderFields = [
  'offer',
  'amount',
  'address',
  'firstName',
  'lastName',
  'phone',
  'consent',
  'extra',
  'country',
  'vatNumber',
  'coupon',
  'terms',
] as const
export type OrderField = (typeof orderFields)[number]
export type TypedOrder = Readonly<Partial<Record<OrderField, string>>>

/** What an order form shows: who buys first, then the rest, or all of it at once. */
export interface ShownOrder {
  block: Block<'orderForm'>
  /** Where it is sent to, with its cart. */
  action: string
  currency: string
  part: 'buyer' | 'rest' | 'whole'
  choices: readonly ShownChoice[]
  extra: ShownChoice | null
  typed: TypedOrder
  faults: Readonly<Partial<Record<OrderField | 'card', string>>>
  notice: string | null
  /** What is in the cart; null before there is something. */
  cart: PricedCart | null
  /** What the coupon that was typed takes off, in words. */
  coupon: string | null
  /** Whose cart it is, once they have said so. */
  buyer: string | null
  /** The address of the card's fields, which are the gateway's own; null when nothing is paid. */
  card: string | null
  /** The page with the terms. */
  termsHref: string | null
  /** No money moves. */
  test: boolean
}

/** One more offer, as who has just paid sees it. */
export interface ShownNextOffer {
  title: string
  words: string
  /** Where a yes is sent to. */
  action: string
  /** Where a no leads; null while it leads nowhere. */
  noHref: string | null
  fault: string | null
}

/** What somebody has bought, as the page after it tells them. */
export interface ShownPurchase {
  firstName: string
  lines: readonly { title: string; paid: string }[]
  /** Ways to what was bought. */
  ways: readonly { label: string; href: string }[]
  total: string
  invoiceHref: string | null
}
