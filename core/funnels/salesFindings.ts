import { walk } from '../blocks/walk.ts'
import { placeOf, soldBy, tracksOf, type CheckedPage, type CheckedStation, type Say } from './checkedLine.ts'

/** What a page offers after paying; null stands for an offer that is still open. */
const offeredBy = ({ content }: CheckedPage): (number | null)[] =>
  [...walk(content.document)].flatMap(({ block }) =>
    block.kind === 'nextOffer' ? [block.offer.product] : [],
  )

/**
 * An offer after paying needs a second product: one that the order pages before it sell is what buyers have by then,
 * and nobody would ever see it.
 */
export function saySales(page: CheckedPage, line: readonly CheckedStation[], place: number, say: Say): void {
  const sold = line
    .slice(0, place)
    .flatMap(tracksOf)
    .map(soldBy)
    .filter(({ size }) => size > 0)
  const offered = offeredBy(page)
  const isEachTime = (product: number | null): boolean =>
    product !== null && sold.every((each) => each.size === 1 && each.has(product))
  if (sold.length > 0 && offered.some(isEachTime))
    say('error', `“${page.name}” offers what buyers have just bought: choose a second product`, placeOf(page))
  const isOffer = page.purpose === 'upsell' || page.purpose === 'downsell'
  if (isOffer && offered.length === 0)
    say('advice', `“${page.name}” offers nothing: add a part “one more offer”`, placeOf(page))
}
