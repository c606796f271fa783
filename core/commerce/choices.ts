import type { Offered } from '../blocks/kinds/selling.ts'
import type { Instant } from '../audience/people/activity.ts'
import type { SoldProduct } from './cart.ts'
import { moneyWords } from './money.ts'
import { offerOf } from './offer.ts'
import type { Price } from './price.ts'
import { paysWords } from './priceWords.ts'
import type { ShownChoice } from './shownOrder.ts'

/** A price of a product that an order form offers. */
export interface Choice {
  product: SoldProduct
  price: Price
  together: readonly SoldProduct[]
}

/** The products that a price sells together with its own; null while one of them is not on sale. */
export function togetherAt(
  { products }: Pick<Price, 'products'>,
  onSale: ReadonlyMap<number, SoldProduct>,
): SoldProduct[] | null {
  const together = products.flatMap((id) => onSale.get(id) ?? [])
  return together.length === products.length ? together : null
}

/** The prices behind what an order form offers, those left out that are not on sale. */
export const pricesBehind = (
  offers: readonly Offered[],
  products: ReadonlyMap<number, SoldProduct>,
): Choice[] =>
  offers.flatMap(({ product: id, price: only }) => {
    const product = id === null ? undefined : products.get(id)
    if (!product) return []
    return product.content.prices
      .filter((price) => only === null || price.id === only)
      .flatMap((price) => {
        const together = togetherAt(price, products)
        return together === null ? [] : [{ product, price, together }]
      })
  })

const closedWords = {
  open: null,
  notYet: 'not on sale yet',
  over: 'no longer on sale',
  soldOut: 'sold out',
} as const

/** How a choice is shown now. @param sold how many were sold at this price so far, @param ownEnd as `offerOf` has it */
export function shownChoice(
  { product, price }: Choice,
  currency: string,
  now: Instant,
  sold: number,
  ownEnd: Instant | undefined,
): ShownChoice {
  const { state, amount, usually, left } = offerOf(price, now, sold, ownEnd)
  const { title, prices } = product.content
  const notes = [
    usually === null ? '' : `later ${moneyWords({ amount: usually, currency })}`,
    left === null || left > 20 ? '' : `${left} left`,
  ]
  return {
    product: product.id,
    price: price.id,
    title: prices.length > 1 && price.name ? `${title}: ${price.name}` : title,
    words: paysWords(price.pays, currency, amount),
    note: notes.filter(Boolean).join(', '),
    closed: closedWords[state],
    least: price.pays.by === 'choice' ? price.pays.least : null,
  }
}
