import type { Instant } from '../audience/people/activity.ts'
import type { Finding } from '../pages/findings.ts'
import { deadlineEnds, type Deadline } from './deadline.ts'
import { isDeliveryOpen, isInHand, type DeliverableThings } from './delivery.ts'
import { moneyWords } from './money.ts'
import { fullAmount, offerOf } from './offer.ts'
import type { Price } from './price.ts'
import { priceName } from './priceWords.ts'
import type { ProductContent } from './product.ts'
import { rateFor, type TaxSettings } from './tax.ts'

/** What the rest of the install says about the things that a product speaks of. */
export interface ProductSurroundings extends DeliverableThings {
  currency: string
  tax: TaxSettings
  pictures: ReadonlySet<number>
  /** The products that are on sale. */
  onSale: ReadonlySet<number>
  /** The personal deadlines of the Library, by name. */
  deadlines: ReadonlyMap<string, Pick<Deadline, 'begins' | 'runs'>>
  /** On whose clocks days are counted. */
  zone: string
  now: Instant
}

const error = (words: string, part: string | null = null): Finding => ({ level: 'error', words, part })
const advice = (words: string, part: string | null = null): Finding => ({ level: 'advice', words, part })

/** A countdown must not promise time in which nothing can be bought any more. */
function findingsOfDeadline(
  { id, deadline, closes }: Price,
  here: string,
  around: ProductSurroundings,
): Finding[] {
  if (deadline === null) return []
  const known = around.deadlines.get(deadline)
  if (!known) return [error(`${here}: the deadline “${deadline}” was deleted: choose another`, id)]
  // A follow-up says itself how long.
  if (closes === null || Date.parse(closes) <= around.now || known.begins === 'followup') return []
  return deadlineEnds(known, around.now, around.zone) > Date.parse(closes)
    ? [advice(`${here}: its sale ends before the deadline “${deadline}” of who comes now`, id)]
    : []
}

function findingsOfPrice(
  own: number,
  price: Price,
  at: number,
  others: number,
  around: ProductSurroundings,
): Finding[] {
  const { id, pays, introductory, opens, closes, instead, brings, products } = price
  const here = price.name ? `“${price.name}”` : `Price ${at + 1}`
  const { state } = offerOf(price, around.now, 0, null)
  const ends = introductory?.until ?? null
  return [
    ...(others > 0 && !price.name ? [error(`${here}: give it a name, so that buyers can choose`, id)] : []),
    ...(pays.by === 'choice' && pays.suggested < pays.least
      ? [error(`${here}: suggest at least what is asked for`, id)]
      : []),
    ...(opens !== null && closes !== null && opens >= closes
      ? [error(`${here}: its sale ends before it begins`, id)]
      : []),
    ...(state === 'over' ? [error(`${here}: its sale is over`, id)] : []),
    ...(introductory && introductory.amount >= fullAmount(price)
      ? [
          error(
            `${here}: the introductory price is not below ${moneyWords({ amount: fullAmount(price), currency: around.currency })}`,
            id,
          ),
        ]
      : []),
    ...(introductory && ends === null && introductory.first === null
      ? [error(`${here}: say when the introductory price ends, or for how many`, id)]
      : []),
    ...(brings.some((each) => isDeliveryOpen(each, around))
      ? [error(`${here}: choose what is still open under “What it brings”`, id)]
      : []),
    ...(products.every((each) => each !== own && around.onSale.has(each))
      ? []
      : [error(`${here}: choose other products that are on sale under “Sold together”`, id)]),
    ...(instead && products.length === 0 && !brings.some(isInHand)
      ? [advice(`${here}: buyers get nothing but thanks at it`, id)]
      : []),
    ...findingsOfDeadline(price, here, around),
    ...(ends !== null && Date.parse(ends) <= around.now
      ? [advice(`${here}: the introductory price is over`, id)]
      : []),
    ...(introductory && (pays.by === 'free' || pays.by === 'choice')
      ? [error(`${here}: what is free or chosen has no introductory price`, id)]
      : []),
    ...(pays.by === 'choice' && pays.least === 0
      ? [advice(`${here}: buyers may pay nothing at all`, id)]
      : []),
  ]
}

/** Does each price by itself bring something? */
const isBroughtByPrices = (prices: readonly Price[]): boolean =>
  prices.length > 0 && prices.every(({ brings, products }) => products.length > 0 || brings.some(isInHand))

/** Everything about a product that would go wrong or could be better, errors first. @param id its own */
export function findingsOfProduct(
  id: number,
  content: ProductContent,
  around: ProductSurroundings,
): Finding[] {
  const { title, description, prices, brings, bringsNothing, pictures, taxed } = content
  const isPaid = prices.some(({ pays }) => pays.by !== 'free')
  const isFree = ({ pays, deadline }: Price): boolean => pays.by === 'free' && deadline === null
  const names = prices.map((price) => priceName(price, around.currency).toLowerCase())
  const found = [
    ...(title.trim() ? [] : [error('Give the product a name that buyers read')]),
    ...(prices.length > 0 ? [] : [error('Give it a price')]),
    ...prices.flatMap((price, at) => findingsOfPrice(id, price, at, prices.length - 1, around)),
    ...(isPaid ? prices.filter(isFree) : []).map(({ id, name }) =>
      advice(`“${name || 'free'}” costs nothing beside prices that are paid: buyers may take it instead`, id),
    ),
    ...prices.flatMap(({ id, name }, at) =>
      name && names.indexOf(name.toLowerCase()) < at ? [error(`Two prices are called “${name}”`, id)] : [],
    ),
    ...(brings.some((each) => isDeliveryOpen(each, around))
      ? [error('Choose what is still open under “What buyers get”')]
      : []),
    ...(brings.some(isInHand) || bringsNothing || isBroughtByPrices(prices)
      ? []
      : [error('Say what buyers get, or that they get nothing but thanks')]),
    ...(pictures.every((picture) => around.pictures.has(picture))
      ? []
      : [error('A picture of it was deleted: choose another, or take it out')]),
    ...(isPaid && taxed && rateFor(around.tax, null) === null
      ? [error('Set the tax rate of your country under “Tax”, or say that it is not taxed')]
      : []),
    ...(isPaid && !description.trim() ? [advice('Describe it: the words go on the invoice')] : []),
  ]
  return found.sort((a, b) => Number(b.level === 'error') - Number(a.level === 'error'))
}
